/** What stands in the places of a component and becomes uses of others: it costs what these uses will, and not what stands there. */
import type { Page } from '../page/parse.js';
import type { Element } from '../page/tree.js';
import { lengthOf, lengthOfTags, PRICE } from './cost.js';
import type { ElementPattern, Pattern } from './pattern.js';

/** Elements that become uses of other components. */
export interface InnerParts {
  has: (element: Element) => boolean;
  /** bytes by which the uses in a range of a page, in UTF-16 offsets, are about shorter than what stands there */
  sparedIn: (page: Page, range: readonly [number, number]) => number;
}

/** Bytes by which a use is shorter than what would be written at a place in a template; 0 for what becomes none. */
export function sparedAt(pattern: ElementPattern, parts: InnerParts | undefined): number {
  const isPart = parts !== undefined && pattern.nodes.every((node) => node === null || parts.has(node));
  return isPart ? Math.max(0, constantIn(pattern, parts) - PRICE.use) : 0;
}

/** Bytes of what is the same at all places of a pattern, as it is written there. */
function constantIn(pattern: ElementPattern, parts: InnerParts): number {
  const constantOf = (child: Pattern) => {
    if (child.kind === 'element') return constantIn(child, parts) - sparedAt(child, parts);
    return child.kind === 'slot' || child.kind === 'list' || child.holes.length > 0 ? 0 : lengthOf(child);
  };
  return pattern.children.reduce((sum, child) => sum + constantOf(child), lengthOfTags(pattern.nodes));
}
