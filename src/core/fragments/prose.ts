/**
 * Running text, as it is written in Markdown or an editor: elements that only structure text, that no stylesheet knows
 * by a class word, and that stand among others of the kind. Nobody makes components of its paragraphs and list items.
 */
import { usedComponent } from '../component/use.js';
import { attrOf, type Element } from '../page/tree.js';
import { isDressing, isStyled } from '../words/vocabulary.js';
import type { Site } from './site.js';

/** Elements that structure text (HTML standard, "grouping content", "text-level semantics", "tabular data"). */
const TEXT_TAGS: ReadonlySet<string> = new Set(
  (
    'p h1 h2 h3 h4 h5 h6 ul ol li dl dt dd pre blockquote hr table caption colgroup col thead tbody tfoot tr th td ' +
    'a abbr b bdi bdo br cite code data del dfn em i ins kbd mark q s samp small span strong sub sup time tt u var wbr img'
  ).split(' '),
);
/** What holds so many text elements, and so many paragraphs among them, holds running text. */
const LEAST_TEXTS = 4;
const LEAST_PARAGRAPHS = 2;
/** Elements whose text is code: what stands in it only colours it. */
const CODE = new Set(['pre', 'code']);

/**
 * 1 for each element of running text, and for what stands in preformatted text or code, also where that is the template
 * of a component. Linear in the number of elements.
 * @param site where elements, sizes, parents and class words are known
 */
export function proseIn(site: Omit<Site, 'prose'>): Uint8Array {
  const { elements, parent, size, words, vocabulary } = site;
  const wrappers = codeWrappers(site);
  const isWrapper = (name: string) => wrappers.has(name);
  const holdsCode = (element: Element) =>
    CODE.has(element.tag) || (wrappers.size > 0 && usedComponent(element, isWrapper) !== null);
  const canTell = isStyled(vocabulary.values());
  const isIdle = (word: string) => canTell && !isDressing(vocabulary.get(word)!);
  const plain = new Uint8Array(elements.length);
  const prose = new Uint8Array(elements.length);
  const code = new Uint8Array(elements.length);
  for (let i = elements.length - 1; i >= 0; i--) {
    plain[i] = isPlain(elements[i]!) && words[i]!.every(isIdle) ? 1 : 0;
    for (let at = i + 1; plain[i] === 1 && at < i + size[i]!; at += size[at]!) plain[i] = plain[at]!;
  }
  for (let i = 0; i < elements.length; i++) {
    const outer = parent[i]!;
    if (outer >= 0 && (code[outer] === 1 || holdsCode(elements[outer]!))) code[i] = 1;
    if (code[i] === 1 || (outer >= 0 && prose[outer] === 1 && plain[outer] === 1)) prose[i] = 1;
    if (prose[i] === 0 && holdsRunningText(i, plain, { elements, size }))
      for (let at = i + 1; at < i + size[i]!; at += size[at]!) if (plain[at] === 1) prose[at] = 1;
  }
  return prose;
}

/** Names of the components that put what they are given into code. */
function codeWrappers({ profiles }: Pick<Site, 'profiles'>): ReadonlySet<string> {
  const isInCode = ({ parent }: Element): boolean =>
    parent?.kind === 'element' && (CODE.has(parent.tag) || isInCode(parent));
  return new Set(
    profiles.flatMap(({ page: { component }, elements }) =>
      component !== undefined && elements.some((element) => element.tag === 'slot' && isInCode(element))
        ? [component.name]
        : [],
    ),
  );
}

function isPlain(element: Element): boolean {
  return TEXT_TAGS.has(element.tag) && attrOf(element, 'role') === undefined;
}

function holdsRunningText(i: number, plain: Uint8Array, { elements, size }: Pick<Site, 'elements' | 'size'>): boolean {
  let texts = 0;
  let paragraphs = 0;
  for (let at = i + 1; at < i + size[i]!; at += size[at]!) {
    if (plain[at] === 0) continue;
    texts++;
    if (elements[at]!.tag === 'p') paragraphs++;
  }
  return texts >= LEAST_TEXTS && paragraphs >= LEAST_PARAGRAPHS;
}
