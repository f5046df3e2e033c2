/** What stands in the places of a component and becomes uses of others costs what these uses will. */
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
  return parts === undefined || !isPart(pattern, parts) ? 0 : Math.max(0, constantIn(pattern, parts) - PRICE.use);
}

function isPart({ nodes }: ElementPattern, parts: InnerParts): boolean {
  return nodes.every((node) => node === null || parts.has(node));
}

/** Bytes of what is the same at all places of a pattern, with uses of other parts in it. */
function constantIn(pattern: ElementPattern, parts: InnerParts): number {
  const constantOf = (child: Pattern) => {
    if (child.kind !== 'element')
      return child.kind === 'slot' || child.kind === 'list' || child.holes.length > 0 ? 0 : lengthOf(child);
    const bytes = constantIn(child, parts);
    return isPart(child, parts) ? Math.min(bytes, PRICE.use) : bytes;
  };
  return pattern.children.reduce((sum, child) => sum + constantOf(child), lengthOfTags(pattern.nodes));
}
