/** Prints which tests take longest, for whoever makes them faster. */
const SHOWN = 10;

export default class Slowest {
  onRunComplete(_, { testResults }) {
    const tests = testResults.flatMap(({ testFilePath, testResults: all }) =>
      all.map(({ fullName, duration }) => ({
        file: testFilePath.replace(/^.*\/test\//, ''),
        fullName,
        ms: duration ?? 0,
      })),
    );
    if (tests.length <= SHOWN) return;
    console.log(`\nThe slowest ${SHOWN} of ${tests.length} tests:`);
    for (const { file, fullName, ms } of tests.sort((a, b) => b.ms - a.ms).slice(0, SHOWN))
      console.log(`${(ms / 1000).toFixed(1).padStart(7)} s  ${file}  ${fullName}`);
  }
}
