/** What pages would be made of, were the findings of the survey lifted. */
import type { FindingFacts, Looked } from '../browser/messages.js';
import type { Expanded } from '../core/component/expand.js';
import { instancesOn } from '../core/component/instances.js';
import type { Registry } from '../core/component/model.js';
import { offsetsInto } from '../core/component/respaced.js';
import { originAt } from '../core/component/trace.js';
import { type Page, parsePage } from '../core/page/parse.js';
import type { ExpandedPage } from '../core/style/plan.js';

/** The site as it would be. */
export interface Foreseen {
  /** all components after the lift */
  registry: Registry;
  /** pages by path: as they would stand on disk, and what that would expand to */
  pages: ReadonlyMap<string, { source: Page; expanded: ExpandedPage }>;
  /** what is told of the findings, by name */
  findings: ReadonlyMap<string, FindingFacts>;
}

/** Works out what would be; it takes the survey of the whole site. @throws Problem where that cannot be done */
export type Foresee = () => Promise<Foreseen>;

/** The findings on a page, where they stand as it is now. */
export function foreseenOn(
  { source, expanded }: { source: Page; expanded: Expanded },
  { pages, registry, findings }: Foreseen,
): Pick<Looked, 'instances' | 'findings'> {
  const planned = pages.get(source.path);
  if (planned === undefined) return { instances: [], findings: {} };
  const { page: then, extents } = planned.expanded;
  const move = offsetsInto(then, parsePage(source.path, expanded.text));
  const instances = instancesOn(planned.source, { text: then.source, extents }, registry)
    .filter(({ component, roots }) => findings.has(component) && roots.length > 0)
    .map((instance) => {
      const roots = instance.roots.map(move);
      return { ...instance, roots, within: null, use: originAt(source, expanded, roots[0]!).place };
    });
  const names = new Set(instances.map(({ component }) => component));
  return { instances, findings: Object.fromEntries([...findings].filter(([name]) => names.has(name))) };
}
