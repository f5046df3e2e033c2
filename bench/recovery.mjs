// `node bench/recovery.mjs [seeds] [first]`: random component libraries are expanded to plain pages, and the survey is
// asked for them again. A component is recovered when a finding covers at least 90% of its uses with exactly their
// ranges; its props are exact when the same places vary, grouped the same way. A list is told as a list, or as a slot into
// which as many uses of a recommended component are poured, given what the items hold. What is recommended and is no
// component of the library is a part that repeats within one, a row or item of the random markup, or neither.
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
const kinds = { component: 0, 'part within one': 0, 'row or item': 0, neither: 0 };
const ITEMS = new Set(['tr', 'li', 'dt']);

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
      found && isExact(findings[better < 0 ? at : better], places[better < 0 ? at : better], component, mine, findings);
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
    const kind = kindOf(finding, places[i], truths);
    kinds[kind]++;
    if (kind === 'neither' && verbose)
      console.log(`${seed}: ${finding.name} (${finding.kind}, ${places[i].size} places) is no component`);
  });
}

function kindOf({ occurrences }, places, truths) {
  const least = places.size * 0.9;
  if (truths.some(({ uses: mine }) => mine.filter((each) => places.has(key(each))).length >= least)) return 'component';
  const repeats = truths.some(({ uses: mine }) => {
    const counts = mine.map((use) => occurrences.filter((each) => isWithin(each, use)).length).filter((n) => n > 0);
    const all = counts.reduce((sum, each) => sum + each, 0);
    return all >= least && all > counts.length;
  });
  if (repeats) return 'part within one';
  const { element } = occurrences[0];
  return ITEMS.has(element.tag === '#run' ? element.children[0].tag : element.tag) ? 'row or item' : 'neither';
}

function isWithin({ page, element, end }, use) {
  return page.path === use.path && element.start > use.start && end < use.end;
}

/** True where the items of a list are uses of a component that is recommended, with the fields as its props. */
function isToldByUses({ name, fields }, covered, findings) {
  const lists = covered.map(({ lists: each }) => each[name] ?? []);
  const varies = fields.filter((field) => new Set(lists.flat().map((row) => row[field])).size > 1);
  return findings.some(({ recommended, occurrences, props }) => {
    if (!recommended) return false;
    const inside = covered.map((use) => occurrences.flatMap((each, i) => (isWithin(each, use) ? [i] : [])));
    if (inside.some((at, i) => at.length !== lists[i].length)) return false;
    const told = props.map(({ values }) => JSON.stringify(inside.map((at) => at.map((i) => plain(values[i])))));
    return varies.every((field) => told.includes(JSON.stringify(lists.map((rows) => rows.map((row) => row[field])))));
  });
}

function plain(value) {
  return typeof value === 'object' && value !== null ? value.value : value;
}

/** The props vary in the same places, grouped the same way. */
function isExact(finding, places, component, mine, findings) {
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
  const isList = finding.props.some(({ type }) => type === 'list');
  for (const prop of component.props) {
    const { name, type, fields } = prop;
    if (type === 'slot' || (type === 'list' && !isList && isToldByUses(prop, covered, findings))) slots++;
    else if (type === 'list') {
      const lists = covered.map(({ lists: each }) => each[name] ?? []);
      for (const field of fields) truth.add(JSON.stringify(lists.map((rows) => rows.map((row) => row[field]))));
    } else {
      const values = covered.map(({ values: each }) => each[name] ?? null);
      if (varies(values)) truth.add(sign(type, values));
    }
  }
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
console.log(`${count} seeds from ${first}: ${wanted} components`);
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
const recommended = Object.values(kinds).reduce((sum, each) => sum + each, 0);
const shares = Object.entries(kinds).map(([kind, each]) => `${kind} ${share(each, recommended)}`);
console.log(`recommended findings, by what they are: ${shares.join(', ')}`);
