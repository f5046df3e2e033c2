/** The heading of a section with the lines below it, in an element of their own. */
import type { Child, Element } from '../page/tree.js';

/** Those of less are as often lines of a card or a row. */
const SECTION_HEADING = /^h[1-3]$/;
const LINES = new Set('h1 h2 h3 h4 h5 h6 p span small hr div time em strong b i'.split(' '));
/** So many lines it has, the heading among them, and so many elements of their own may stand in these. */
const LEAST = 2;
const MOST = 3;
const MOST_WITHIN = 3;

/** True where a heading and a line or two below it are all that stands in an element. */
export function isHeadingBlock({ children }: Element): boolean {
  const lines = children.filter((child): child is Element => child.kind === 'element');
  return (
    lines.length >= LEAST &&
    lines.length <= MOST &&
    SECTION_HEADING.test(lines[0]!.tag) &&
    lines.every(({ tag }) => LINES.has(tag)) &&
    lines.reduce((sum, line) => sum + elementsIn(line), 0) <= MOST_WITHIN &&
    children.every((child) => child.kind !== 'text' || child.value.trim() === '')
  );
}

function elementsIn({ children }: { children: Child[] }): number {
  return children.reduce((sum, child) => sum + (child.kind === 'element' ? 1 + elementsIn(child) : 0), 0);
}
