// `node bench/halves.mjs <folder>...`: lifts what is recommended of half of a site's pages, then adds the others: how many
// of their fragments that a lift of everything would make uses of a component become uses of the one that is there.
// `widened` is what becomes of them once every component is widened as `lift --extend` does for what is nearly a use. Counted are fragments of a finding that has places in both halves, of which the first lift made a component. Two
// orders: every other page, and the first pages. `--verbose` tells what is missed.
import { readdirSync, readFileSync } from 'node:fs';
import { basename, join, relative } from 'node:path';
import {
  DEFAULT_THRESHOLDS,
  extendComponent,
  parsePage,
  planLift,
  readComponents,
  survey,
  templatesOf,
} from '../dist/index.js';

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
  const site = [...lifted, ...rest];
  const again = survey([...site, ...templatesOf(registry)], registry, options);
  const names = new Map(first.flatMap(({ name, occurrences }) => occurrences.map((each) => [key(each), name])));
  const wanted = survey(pages, new Map(), options).findings.flatMap((finding) => {
    const counterparts = new Set(finding.occurrences.flatMap((each) => names.get(key(each)) ?? []));
    if (counterparts.size === 0) return [];
    return finding.occurrences
      .filter(({ page }) => late.has(page.path))
      .map((each) => ({ name: finding.name, each, counterparts }));
  });
  const missed = (findings) => {
    const known = findings.filter(({ component }) => component !== null);
    const uses = new Map(known.flatMap(({ name, occurrences }) => occurrences.map((each) => [key(each), name])));
    const covered = known.flatMap(({ occurrences }) => occurrences);
    const isWithin = ({ page, element: { start }, end }) =>
      covered.some((other) => page === other.page && other.element.start <= start && end <= other.end);
    return wanted.filter(({ each, counterparts }) => !counterparts.has(uses.get(key(each))) && !isWithin(each));
  };
  const then = missed(again.findings);
  const widened = missed(
    survey([...site, ...templatesOf(registry)], widen(site, again.near, registry), options).findings,
  );
  if (verbose) for (const { name, each } of widened) console.log(`  ${name}: ${placeOf(each)}`);
  const share = (left) => Number(((wanted.length - left.length) / wanted.length).toFixed(3));
  return {
    pages: pages.length,
    components: plan.components.length,
    fragments: wanted.length,
    uses: share(then),
    widened: share(widened),
  };
}

function placeOf({ page, element: { start } }) {
  return `${page.path}:${page.source.slice(0, start).split('\n').length}`;
}

/** The components, each widened for what is nearly a use of it. */
function widen(site, near, registry) {
  const elements = [];
  const collect = (node) => {
    if (node.kind === 'element') elements.push(node);
    for (const child of node.children ?? []) collect(child);
  };
  for (const { root } of [...site, ...templatesOf(registry)]) collect(root);
  let now = registry;
  for (const component of registry.values()) {
    const mine = near.filter((each) => each.component === component && each.difference.component === component);
    if (mine.length === 0) continue;
    const sources = [...now.values()].map(({ path, source }) => ({ path, source }));
    const extension = extendComponent(now.get(component.name), mine, { sources, registry: now, elements });
    if (extension === null) continue;
    now = readComponents(
      sources.map((each) => (each.path === component.path ? extension.file : each)),
      now,
    );
  }
  return now;
}
