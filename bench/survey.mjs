// How long a survey takes, parsing included, against only parsing the same pages: once, as a command does it. Prints one
// line of JSON.
import { DEFAULT_THRESHOLDS, parsePage, survey } from '../dist/index.js';
import { page } from './pages.mjs';

const count = Number(process.argv[2] ?? 1000);
const sources = Array.from({ length: count }, (_, i) => page(i));
const options = { thresholds: DEFAULT_THRESHOLDS, componentFolder: 'components' };

function parseAll() {
  return sources.map((source, i) => parsePage(`p${i}.html`, source));
}

function timed(work) {
  const started = performance.now();
  const result = work();
  return { ms: performance.now() - started, result };
}

survey(
  sources.slice(0, 50).map((source, i) => parsePage(`p${i}.html`, source)),
  new Map(),
  options,
);
const parsed = timed(parseAll);
const surveyed = timed(() => survey(parsed.result, new Map(), options));
const whole = parsed.ms + surveyed.ms;
console.log(
  JSON.stringify({
    pages: count,
    findings: surveyed.result.findings.length,
    parse: Math.round(parsed.ms),
    survey: Math.round(whole),
    ratio: Number((whole / parsed.ms).toFixed(2)),
    source: Number((sources.reduce((sum, each) => sum + each.length, 0) / 1e6).toFixed(2)),
    peak: Math.round(process.resourceUsage().maxRSS / 1024),
  }),
);
