/** A page as a browser has it once its elements are drawn, with the elements taken out again: the page that it was. */
import { parsePage } from '../../page/parse.js';
import { firstDifference, isPreformatted } from '../../page/same.js';
import { trimmed } from '../../page/space.js';
import { attrOf, type Child, type Element, HTML, type Node, OPTIONAL_END } from '../../page/tree.js';
import type { EmitSite } from '../model.js';
import { PRERENDERED } from './base.js';
import type { Loaded } from './loaded.js';
import { rootOf, type Standing } from './module.js';

/** What a page with elements is made of: those of its site and how they stand, and what it loads of them. */
export interface Drawn extends Pick<EmitSite, 'components'> {
  standing: ReadonlyMap<string, Standing>;
  loaded: Loaded;
}

/**
 * The first thing that differs between a page and the same with elements, both as a browser has them; or null. Where an
 * element has no end tag, what breaks the line behind it is its own, and stands behind it once it is drawn: whether that
 * shows was asked with the stylesheets, before the page was written.
 */
export function differenceOfDrawn(
  before: string,
  after: string,
  { components, standing, loaded }: Drawn,
): string | null {
  const one = parsePage('before', before);
  const two = parsePage('after', after);
  const tags = new Map(components.map(({ name, nodes }) => [name, rootOf(nodes)?.tag ?? null]));
  const props = new Map(components.map((each) => [each.name, each.props.map(({ name }) => name)]));
  undo(two.root);
  [one, two].forEach(({ root }) => moveLineBreaksOut(root));
  return firstDifference(one.root, two.root, false)?.what ?? null;

  function undo(node: Node): void {
    if (node.kind !== 'element' && node.kind !== 'root') return;
    node.children.forEach(undo);
    // what the target puts in stands on a line of its own, with a break behind it
    const isOwnBreak = (child: Child, before: Child | undefined) =>
      before?.kind === 'element' && isOurs(before) && child.kind === 'text' && child.value.trim() === '';
    const left = node.children.filter((child, i) => !isOwnBreak(child, node.children[i - 1]));
    node.children = withTextsJoined(left.flatMap(without));
  }

  function without(node: Child): Child[] {
    if (node.kind === 'comment') return /^(slot|list|\/slot) \d+\b/.test(node.value) ? [] : [node];
    if (node.kind !== 'element' || isOurs(node)) return node.kind === 'element' ? [] : [node];
    const place = node.ns === HTML ? standing.get(node.tag) : undefined;
    if (place === undefined || place.kind === 'expanded') return [node];
    const children = node.children.filter(
      (child) => !(child.kind === 'element' && child.tag === 'template' && attrOf(child, 'slot') !== undefined),
    );
    if (place.kind === 'around') return children;
    const own = [PRERENDERED, ...props.get(node.tag)!, ...(place.role === null ? [] : ['role'])];
    const attrs = node.attrs.filter(({ name }) => !own.includes(name));
    return [{ ...node, tag: tags.get(node.tag)!, attrs, children }];
  }

  /** What the target puts into pages. */
  function isOurs(element: Element): boolean {
    if (element.tag === 'link') return attrOf(element, 'href') === loaded.stylesheet;
    return element.tag === 'script' && attrOf(element, 'src') === loaded.script;
  }
}

/** Moves white space that breaks a line at the end of elements which may go without an end tag behind them. */
function moveLineBreaksOut(node: Node): void {
  if (node.kind !== 'root' && (node.kind !== 'element' || isPreformatted(node))) return;
  node.children.forEach(moveLineBreaksOut);
  node.children = withTextsJoined(
    node.children.flatMap((child): Child[] => {
      if (child.kind !== 'element' || !OPTIONAL_END.has(child.tag) || isPreformatted(child)) return [child];
      const last = child.children.at(-1);
      if (last?.kind !== 'text') return [child];
      const [lead, trail] = trimmed(last.value);
      const cut = lead === last.value.length ? 0 : last.value.length - trail;
      if (!last.value.includes('\n', cut)) return [child];
      const moved: Child = { ...last, value: last.value.slice(cut) };
      last.value = last.value.slice(0, cut);
      if (cut === 0) child.children.pop();
      return [child, moved];
    }),
  );
}

function withTextsJoined(nodes: Child[]): Child[] {
  const joined: Child[] = [];
  for (const node of nodes) {
    const last = joined.at(-1);
    if (node.kind === 'text' && last?.kind === 'text') last.value += node.value;
    else joined.push(node);
  }
  return joined;
}
