// How long a survey takes against only parsing the same pages, and how both grow. Prints one line of JSON.
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
const runs = [];
for (let i = 0; i < 3; i++) {
  const parse = timed(parseAll).ms;
  const whole = timed(() => survey(parseAll(), new Map(), options));
  runs.push({ parse, survey: whole.ms, findings: whole.result.findings.length });
}
const median = (values) => [...values].sort((a, b) => a - b)[Math.floor(values.length / 2)];
const parse = median(runs.map((run) => run.parse));
const total = median(runs.map((run) => run.survey));
console.log(
  JSON.stringify({
    pages: count,
    findings: runs[0].findings,
    parse: Math.round(parse),
    survey: Math.round(total),
    ratio: Number((total / parse).toFixed(2)),
    peak: Math.round(process.resourceUsage().maxRSS / 1024),
  }),
);
