/** Names for what a component is made of: parts that come and go, lists and their items, places that are poured into. */
import pluralize from 'pluralize';
import { attrOf, type Child, type Element, elementsOf } from '../page/tree.js';
import { isSpaceText } from '../page/space.js';
import { asName } from '../words/names.js';
import type { Vocabulary } from '../words/vocabulary.js';
import { GLOBAL_ATTRIBUTES, INSTEAD } from '../page/prop.js';
import { classWord, tagRole, nextName, TEXT_ROLE } from './prop-names.js';
import type { SlotPattern } from './pattern.js';

/** So many elements tell what a part is. */
const NEAR = 4;

/** What the presence of a run of nodes could be called. */
export function nameRun(nodes: Child[], taken: ReadonlySet<string>, vocabulary: Vocabulary): string {
  const element = nodes.find((node) => node.kind === 'element');
  const said = (each: Element) => [
    classWord(each, null, vocabulary),
    TEXT_ROLE.get(each.tag),
    LAID_OUT.has(each.tag) ? null : tagRole(each.tag),
  ];
  const words = element === undefined ? [] : elementsOf(element).slice(0, NEAR).flatMap(said);
  const names = [...words, nameOfSpaceOrComment(nodes)]
    .filter((word): word is string => typeof word === 'string')
    .map((word) => INSTEAD.get(word) ?? word);
  const free = [...names, `with-${names[0]!}`].find((name) => !taken.has(name) && !GLOBAL_ATTRIBUTES.has(name));
  return free ?? nextName(names[0]!, taken);
}

/** What the presence of white space or comments is called; `more` for anything else. */
function nameOfSpaceOrComment(nodes: Child[]): string {
  if (nodes.every(isSpaceText)) return 'spaced';
  return nodes.every((node) => node.kind === 'comment' || isSpaceText(node)) ? 'comment' : 'more';
}

/** A list and one of its items, by what `item` is. */
export function nameList(
  item: Element,
  taken: ReadonlySet<string>,
  vocabulary: Vocabulary,
): { many: string; one: string } {
  const word = classWord(item, null, vocabulary) ?? LIST_ROLE.get(item.tag) ?? 'item';
  const words = [word, LIST_ROLE.get(item.tag) ?? 'item', 'item', 'entry', 'record'].map((each) =>
    pluralize.singular(each),
  );
  const free = (name: string) => !taken.has(name) && !GLOBAL_ATTRIBUTES.has(name);
  const one = words.find((each) => each !== pluralize(each) && free(each) && free(pluralize(each)));
  if (one !== undefined) return { many: pluralize(one), one };
  const many = nextName('items', taken);
  return { many, one: many.replace('items', 'item') };
}

const LIST_ROLE: ReadonlyMap<string, string> = new Map(
  Object.entries({
    tr: 'row',
    td: 'cell',
    th: 'heading',
    li: 'item',
    option: 'option',
    p: 'paragraph',
    a: 'link',
    img: 'picture',
    dt: 'term',
    dd: 'detail',
    meta: 'entry',
    section: 'section',
    article: 'article',
  }),
);

/** Tags that say nothing of what they hold. */
const LAID_OUT = new Set(['div', 'span']);

/** What a place that is poured into could be called: by the element around it. */
export function nameSlot({ around }: SlotPattern, taken: ReadonlySet<string>, vocabulary: Vocabulary): string {
  const own =
    classWord(around, null, vocabulary) ?? asName(attrOf(around, around.tag === 'slot' ? 'name' : 'id') ?? '');
  const role = LAID_OUT.has(around.tag) ? 'content' : tagRole(around.tag);
  const names = [own, role, 'content'].filter((each): each is string => each !== null);
  const kept = names.map((name) => INSTEAD.get(name) ?? name);
  return kept.find((name) => !taken.has(name)) ?? nextName(kept[0]!, taken);
}
