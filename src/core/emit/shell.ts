/** A page in two: the content of its body, and the document around it. */
import type { Expanded } from '../component/expand.js';
import type { Registry } from '../component/model.js';
import { usedComponent } from '../component/use.js';
import { bodyOf } from '../component/read.js';
import type { Page } from '../page/parse.js';
import { type Child, type Element, elementsOf } from '../page/tree.js';
import type { EmitPage, Range } from './model.js';

/**
 * The nodes of the body that make the page, and the expanded text around them. White space at their edges stays with
 * the document, and so do the scripts at the end, for a script that is put in later does not run.
 */
export function shellOf(
  page: Page,
  expanded: Expanded,
  registry: Registry,
): { body: Element | undefined; children: Child[]; range: Range | null; shell: EmitPage['shell'] } {
  const body = elementsOf(page.root).find(({ tag, parent }) => tag === 'body' && (parent as Element).tag === 'html');
  const children = body === undefined ? [] : [...body.children];
  const isIdle = (child: Child) => child.kind === 'comment' || isSpace(child);
  let end = children.length;
  for (let at = end; at > 0; at--) {
    const child = children[at - 1]!;
    if (isScript(child, registry)) end = at - 1;
    else if (!isIdle(child)) break;
  }
  children.length = end;
  while (children.length > 0 && isSpace(children.at(-1)!)) children.pop();
  while (children.length > 0 && isSpace(children[0]!)) children.shift();
  // the end of what the expanded page has in the place of the source up to `offset`
  const moved = (offset: number) =>
    expanded.uses.reduce(
      (sum, use) => (use.end <= offset ? sum + use.expandedLength - (use.end - use.start) : sum),
      offset,
    );
  const ranges = children.flatMap(rangesOf).sort((a, b) => a[0] - b[0]);
  const [first] = ranges;
  if (first === undefined) {
    const at = moved(body === undefined ? page.source.length : startOf(body, page));
    const shell = { before: expanded.text.slice(0, at), after: expanded.text.slice(at) };
    return { body, children, range: null, shell };
  }
  let after = '';
  let whole = true;
  let at = first[0];
  for (const [start, stop] of ranges) {
    if (start > at) {
      whole = false;
      after += expanded.text.slice(moved(at), moved(start));
    }
    at = Math.max(at, stop);
  }
  after += expanded.text.slice(moved(at));
  const range = whole ? { start: first[0], end: at } : null;
  return { body, children, range, shell: { before: expanded.text.slice(0, moved(first[0])), after } };
}

/** Source ranges of a node, or of what is in it when it has none of its own. */
function rangesOf(child: Child): [number, number][] {
  if (child.start >= 0) return [[child.start, child.end]];
  return child.kind === 'element' ? child.children.flatMap(rangesOf) : [];
}

function startOf(body: Element, page: Page): number {
  if (body.openEnd >= 0) return body.openEnd;
  return body.children.find(({ start }) => start >= 0)?.start ?? page.source.length;
}

function isSpace(child: Child): boolean {
  return child.kind === 'text' && /^[\t\n\f\r ]*$/.test(child.value);
}

/** A script, or the use of a component that is nothing but scripts. */
function isScript(child: Child, registry: Registry): boolean {
  if (child.kind !== 'element') return false;
  if (child.tag === 'script') return true;
  const name = usedComponent(child, (each) => registry.has(each));
  const nodes = name === null ? [] : bodyOf(registry.get(name)!).filter(({ kind }) => kind === 'element');
  return nodes.length > 0 && nodes.every((node) => isScript(node, registry));
}
