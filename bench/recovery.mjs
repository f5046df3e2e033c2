// `node bench/recovery.mjs [seeds] [first]`: random component libraries are expanded to plain pages, and the survey is
// asked for them again. A component is recovered when a finding covers at least 90% of its uses with exactly their
// ranges; its props are exact when the same places vary, grouped the same way.
import { DEFAULT_THRESHOLDS, survey } from '../dist/index.js';
import { makeSite } from './library.mjs';

const [count = 500, first = 1] = process.argv
  .slice(2)
  .filter((each) => /^\d+$/.test(each))
  .map(Number);
const verbose = process.argv.includes('--verbose');
const options = { thresholds: DEFAULT_THRESHOLDS, componentFolder: 'components' };
const key = ({ path, start, end }) => `${path} ${start} ${end}`;
const tally = new Map();
const tell = (feature, what) => {
  const entry = tally.get(feature) ?? { components: 0, recovered: 0, recommended: 0, exact: 0 };
  entry[what]++;
  tally.set(feature, entry);
};
/** What is not recommended, where a component can be written for it. */
const made = (offer) => {
  try {
    return [offer.finding()];
  } catch {
    return [];
  }
};
let wanted = 0;
let precise = 0;
let recommended = 0;

for (let seed = first; seed < first + count; seed++) {
  const { components, pages, uses } = makeSite(seed);
  const surveyed = survey(pages, new Map(), options);
  const findings = [...surveyed.findings, ...surveyed.others().flatMap(made)];
  const places = findings.map((finding) => {
    const at = (i) => {
      const { page, element, end } = finding.occurrences[i];
      return key({ path: page.path, start: element.start, end });
    };
    return new Map(finding.occurrences.map((_, i) => [at(i), i]));
  });
  const truths = components.map((component) => ({
    component,
    uses: uses.filter(({ name }) => name === component.name),
  }));
  for (const { component, uses: mine } of truths) {
    if (mine.length < 2) continue;
    wanted++;
    const hits = places.map((map) => mine.filter((each) => map.has(key(each))).length);
    const at = hits.indexOf(Math.max(...hits));
    const found = hits[at] >= mine.length * 0.9;
    const isRecommended = found && findings.some((each, i) => each.recommended && hits[i] >= mine.length * 0.9);
    const better = findings.findIndex((each, i) => each.recommended && hits[i] >= mine.length * 0.9);
    const exact =
      found && isExact(findings[better < 0 ? at : better], places[better < 0 ? at : better], component, mine);
    for (const feature of ['all', ...component.features]) {
      tell(feature, 'components');
      if (found) tell(feature, 'recovered');
      if (isRecommended) tell(feature, 'recommended');
      if (exact) tell(feature, 'exact');
    }
    if (verbose && !exact)
      console.log(
        `${seed}: ${component.name} ${[...component.features].join(', ')}: ${found ? 'props differ' : `${hits[at] ?? 0} of ${mine.length} found`}`,
      );
  }
  findings.forEach((finding, i) => {
    if (!finding.recommended) return;
    recommended++;
    const right = truths.some(
      ({ uses: mine }) => mine.filter((each) => places[i].has(key(each))).length >= places[i].size * 0.9,
    );
    if (right) precise++;
    else if (verbose)
      console.log(`${seed}: ${finding.name} (${finding.kind}, ${places[i].size} places) is no component`);
  });
}

/** The props vary in the same places, grouped the same way. */
function isExact(finding, places, component, mine) {
  const covered = mine.filter((each) => places.has(key(each)));
  const pattern = (values) => values.map((value) => values.indexOf(value)).join();
  // one text that is there or not cannot be told from a flag, nor one of two words from another
  const isFlag = (values) => new Set(values.filter((value) => value !== null && value !== false)).size < 2;
  const sign = (type, values) =>
    isFlag(values)
      ? `~${pattern(values.map((value) => value !== null && value !== false))}`
      : type === 'choice'
        ? `~${pattern(values)}`
        : JSON.stringify(values.map((value) => value ?? null));
  const varies = (values) => values.some((value) => JSON.stringify(value) !== JSON.stringify(values[0]));
  const truth = new Set();
  let slots = 0;
  for (const { name, type, fields } of component.props) {
    if (type === 'slot') slots++;
    else if (type === 'list') {
      const lists = covered.map(({ lists: each }) => each[name] ?? []);
      for (const field of fields) truth.add(JSON.stringify(lists.map((rows) => rows.map((row) => row[field]))));
    } else {
      const values = covered.map(({ values: each }) => each[name] ?? null);
      if (varies(values)) truth.add(sign(type, values));
    }
  }
  const plain = (value) => (typeof value === 'object' && value !== null ? value.value : value);
  const told = new Set();
  for (const { type, values } of finding.props) {
    const at = covered.map((each) => values[places.get(key(each))]);
    if (type === 'list') {
      const fields = [...new Set(at.flatMap((rows) => rows.flatMap(Object.keys)))];
      for (const field of fields) told.add(JSON.stringify(at.map((rows) => rows.map((row) => plain(row[field])))));
    } else told.add(sign(type, at.map(plain)));
  }
  const found = finding.general?.slots.length ?? 0;
  const strip = (set) => [...set].sort().join('\n');
  return found === slots && strip(truth) === strip(told);
}

const share = (part, whole) => (whole === 0 ? '' : (part / whole).toFixed(3));
console.log(`${count} seeds from ${first}: ${wanted} components, ${recommended} recommended findings`);
console.table(
  Object.fromEntries(
    [...tally]
      .sort((a, b) => b[1].components - a[1].components)
      .map(([feature, each]) => [
        feature,
        {
          components: each.components,
          recall: share(each.recovered, each.components),
          recommended: share(each.recommended, each.components),
          'props exact': share(each.exact, each.recovered),
        },
      ]),
  ),
);
console.log(`precision of recommended findings: ${share(precise, recommended)}`);
