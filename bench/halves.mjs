// `node bench/halves.mjs <folder>...`: lifts what is recommended of half of a site's pages, then adds the others: how many
// of their fragments that a lift of everything would make uses of a component become uses of the one that is there.
// Counted are fragments of a finding that has places in both halves, of which the first lift made a component. Two
// orders: every other page, and the first pages. `--verbose` tells what is missed.
import { readdirSync, readFileSync } from 'node:fs';
import { basename, join, relative } from 'node:path';
import { DEFAULT_THRESHOLDS, parsePage, planLift, readComponents, survey, templatesOf } from '../dist/index.js';

const verbose = process.argv.includes('--verbose');
const folders = process.argv.slice(2).filter((each) => !each.startsWith('--'));
const componentFolder = 'components';
const common = { thresholds: DEFAULT_THRESHOLDS, componentFolder };

for (const folder of folders) {
  const files = readdirSync(folder, { recursive: true, withFileTypes: true })
    .filter((each) => each.isFile())
    .map((each) => relative(folder, join(each.parentPath, each.name)).replaceAll('\\', '/'))
    .sort();
  const read = (path) => readFileSync(join(folder, path), 'utf8');
  const stylesheets = files.filter((path) => path.endsWith('.css')).map(read);
  const pages = files.filter((path) => /\.html?$/.test(path)).map((path) => parsePage(path, read(path)));
  const orders = { alternate: pages.map((_, i) => i % 2 === 0), front: pages.map((_, i) => i < pages.length / 2) };
  for (const [order, isFirst] of Object.entries(orders)) {
    const result = measure(pages, isFirst, stylesheets);
    console.log(JSON.stringify({ site: basename(folder), order, ...result }));
  }
}

function measure(pages, isFirst, stylesheets) {
  const options = { ...common, stylesheets };
  const key = ({ page, element, end }) => `${page.path} ${element.start} ${end}`;
  const early = pages.filter((_, i) => isFirst[i]);
  const late = new Set(pages.filter((_, i) => !isFirst[i]).map(({ path }) => path));
  const first = survey(early, new Map(), options).findings;
  const plan = planLift({ pages: early, components: [], findings: first, componentFolder });
  const lifted = early.map((page) => {
    const planned = plan.pages.find(({ path }) => path === page.path);
    return planned === undefined ? page : parsePage(page.path, planned.after);
  });
  const registry = readComponents(plan.components, plan.registry);
  const rest = pages.filter(({ path }) => late.has(path));
  const second = survey([...lifted, ...rest, ...templatesOf(registry)], registry, options).findings;
  const names = new Map(first.flatMap(({ name, occurrences }) => occurrences.map((each) => [key(each), name])));
  const uses = new Map();
  const covered = [];
  for (const { component, occurrences } of second) {
    if (component === null) continue;
    for (const each of occurrences) {
      uses.set(key(each), component.name);
      covered.push(each);
    }
  }
  let fragments = 0;
  let again = 0;
  const missed = new Map();
  for (const finding of survey(pages, new Map(), options).findings) {
    const mine = finding.occurrences.filter(({ page }) => late.has(page.path));
    const counterparts = new Set(finding.occurrences.flatMap((each) => names.get(key(each)) ?? []));
    if (counterparts.size === 0) continue;
    for (const each of mine) {
      fragments++;
      const isUse = counterparts.has(uses.get(key(each)));
      const isWithin = covered.some(
        ({ page, element, end }) => page === each.page && element.start <= each.element.start && each.end <= end,
      );
      if (isUse || isWithin) again++;
      else missed.set(finding.name, [...(missed.get(finding.name) ?? []), `${each.page.path}:${each.element.start}`]);
    }
  }
  if (verbose) for (const [name, places] of missed) console.log(`  ${name}: ${places.length} missed, ${places.slice(0, 3).join(' ')}`);
  return { pages: pages.length, components: plan.components.length, fragments, again, share: Number((again / fragments).toFixed(3)) };
}
