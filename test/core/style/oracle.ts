/**
 * A second cascade, plain and slow: it walks css-tree's syntax tree of the text, tries every selector on every element
 * by hand, and asks for every combination of what may or may not hold. It shares nothing with the code under test.
 */
import * as csstree from 'css-tree';
import type { Element } from '../../../src/core/page/tree.js';

const SHORTHANDS: Record<string, string[]> = {
  margin: ['margin-top', 'margin-right', 'margin-bottom', 'margin-left'],
  'border-top': ['border-top-width', 'border-top-style', 'border-top-color'],
  'border-color': ['border-top-color', 'border-right-color', 'border-bottom-color', 'border-left-color'],
};

interface Rule {
  selectors: csstree.Selector[];
  texts: string[];
  declarations: { property: string; value: string; important: boolean }[];
  media: string[];
  layer: string;
}

/** All rules of a stylesheet without nesting, and its layers in the order of their first mention. */
function flatten(css: string): { rules: Rule[]; layers: string[] } {
  const rules: Rule[] = [];
  const layers: string[] = [];
  const visit = (nodes: csstree.CssNode[], media: string[], layer: string) => {
    for (const node of nodes) {
      if (node.type === 'Atrule') {
        const prelude = node.prelude === null ? '' : csstree.generate(node.prelude);
        const inner = node.block?.children.toArray() ?? [];
        if (node.name === 'layer') for (const name of prelude.split(',')) if (!layers.includes(name)) layers.push(name);
        if (node.block !== null)
          visit(inner, node.name === 'layer' ? media : [...media, prelude], node.name === 'layer' ? prelude : layer);
      } else if (node.type === 'Rule') {
        const selectors = (node.prelude as csstree.SelectorList).children.toArray() as csstree.Selector[];
        const declarations = node.block.children
          .toArray()
          .flatMap((each) =>
            each.type === 'Declaration'
              ? [{ property: each.property, value: csstree.generate(each.value), important: each.important !== false }]
              : [],
          );
        rules.push({ selectors, texts: selectors.map((each) => csstree.generate(each)), declarations, media, layer });
      }
    }
  };
  visit((csstree.parse(css) as csstree.StyleSheet).children.toArray(), [], '');
  return { rules, layers };
}

type Matched = { specificity: number; pseudo: string } | null;
type Hovers = (element: Element) => boolean;

const siblings = (element: Element) =>
  element.parent!.children.filter((each): each is Element => each.kind === 'element');

function simple(part: csstree.CssNode, element: Element, hovers: Hovers): Matched {
  const yes = (holds: boolean, specificity: number): Matched => (holds ? { specificity, pseudo: '' } : null);
  const classes = (element.attrs.find(({ name }) => name === 'class')?.value ?? '').split(' ');
  if (part.type === 'ClassSelector') return yes(classes.includes(part.name), 100);
  if (part.type === 'TypeSelector')
    return yes(part.name === '*' || part.name === element.tag, part.name === '*' ? 0 : 1);
  if (part.type === 'PseudoElementSelector') return { specificity: 1, pseudo: `::${part.name}` };
  if (part.type !== 'PseudoClassSelector') throw new Error(part.type);
  const all = siblings(element);
  if (part.name === 'first-child') return yes(all[0] === element, 100);
  if (part.name === 'last-child') return yes(all.at(-1) === element, 100);
  if (part.name === 'nth-child') return yes(all[1] === element, 100);
  if (part.name === 'empty') return yes(element.children.length === 0, 100);
  if (part.name === 'hover') return yes(hovers(element), 100);
  const list = (part.children!.first as csstree.SelectorList).children.toArray() as csstree.Selector[];
  const weights = list.map(specificityOf);
  const weight = part.name === 'where' ? 0 : Math.max(...weights);
  const met = list.some((each) => complex(each, element, hovers) !== null);
  return yes(part.name === 'not' ? !met : met, weight);
}

function specificityOf(selector: csstree.Selector): number {
  return selector.children.toArray().reduce((sum, part) => {
    if (part.type === 'ClassSelector') return sum + 100;
    return part.type === 'TypeSelector' && part.name !== '*' ? sum + 1 : sum;
  }, 0);
}

/** Right to left, trying every way. */
function complex(selector: csstree.Selector, element: Element, hovers: Hovers): Matched {
  const parts = selector.children.toArray();
  const cut = parts.findLastIndex(({ type }) => type === 'Combinator');
  let specificity = 0;
  let pseudo = '';
  for (const part of parts.slice(cut + 1)) {
    const found = simple(part, element, hovers);
    if (found === null) return null;
    specificity += found.specificity;
    pseudo ||= found.pseudo;
  }
  if (cut < 0) return { specificity, pseudo };
  const { name } = parts[cut] as csstree.Combinator;
  const rest = { ...selector, children: new csstree.List<csstree.CssNode>().fromArray(parts.slice(0, cut)) };
  const all = siblings(element);
  const at = all.indexOf(element);
  const parents: Element[] = [];
  for (let up = element.parent; up?.kind === 'element'; up = up.parent) parents.push(up);
  const candidates =
    name === ' '
      ? parents
      : name === '>'
        ? parents.slice(0, 1)
        : name === '+'
          ? all.slice(at - 1, at)
          : all.slice(0, at);
  for (const candidate of name === '+' && at === 0 ? [] : candidates) {
    const found = complex(rest, candidate, hovers);
    if (found !== null) return { specificity: specificity + found.specificity, pseudo };
  }
  return null;
}

/** What wins for every element in every state: `element state longhand` to the declaration and its rule. */
export function winners(
  css: string,
  elements: Element[],
  states: { media: string[]; hover: boolean }[],
): Map<string, string> {
  const { rules, layers } = flatten(css);
  const found = new Map<string, { rank: number[]; what: string }>();
  elements.forEach((element, n) => {
    states.forEach((state, s) => {
      rules.forEach((rule, order) => {
        if (!rule.media.every((each) => state.media.includes(each))) return;
        rule.selectors.forEach((selector, i) => {
          const matched = complex(selector, element, () => state.hover);
          if (matched === null) return;
          rule.declarations.forEach(({ property, value, important }, d) => {
            const layer = rule.layer === '' ? layers.length : layers.indexOf(rule.layer);
            const rank = [Number(important), important ? -layer : layer, matched.specificity, order, d];
            for (const longhand of SHORTHANDS[property] ?? [property]) {
              const key = `${n} ${s} ${matched.pseudo} ${longhand}`;
              const now = found.get(key);
              const at = rank.findIndex((each, k) => each !== now?.rank[k]);
              if (now === undefined || at < 0 || rank[at]! > now.rank[at]!)
                found.set(key, { rank, what: `${rule.texts[i]!} { ${property}: ${value} }` });
            }
          });
        });
      });
    });
  });
  return new Map([...found].map(([key, { what }]) => [key, what]));
}
