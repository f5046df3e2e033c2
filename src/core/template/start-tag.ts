/** The start tags of a template: those of one occurrence, with placeholders in place of what varies. */
import { valueOf } from '../page/attribute.js';
import { type Edit, withEdits } from '../page/edits.js';
import type { Occurrence } from '../fragments/occurrence.js';
import type { Element } from '../page/tree.js';
import { chosen, escapeBraces, named, placeholder, whether } from './expressions.js';
import { holeRange } from './holes.js';
import { relative } from './layout.js';
import type { ElementPattern, Hole, InferredProp } from './pattern.js';
import { mayLack } from './props.js';

/** A place where something varies, and the prop that says what stands there; null for a URL that is written otherwise. */
export interface Told {
  hole: Hole;
  prop: InferredProp | null;
}

/** Where a start tag comes from: which occurrence that is, and its indentation. */
interface TagSource {
  i: number;
  occurrence: Occurrence;
  indent: string;
}

/**
 * The start tag from the source of an occurrence, its varying attributes replaced.
 * @param found what varies in it
 */
export function writeTag(pattern: ElementPattern, found: Told[], { i, occurrence, indent }: TagSource): string {
  const { source } = occurrence.page;
  const element = pattern.nodes[i]!;
  const edits: Edit[] = [];
  for (const attr of element.attrs) {
    if (attr.start < 0) continue;
    const { raw, start, end, quote } = valueOf(source, attr);
    const inner = quote === "'" ? '"' : "'";
    const mine = found.filter(({ hole }) => hole.attr === attr.name);
    const parts = mine.flatMap(({ hole, prop }): Edit[] => {
      const [from, to] = holeRange(hole, i, occurrence)!;
      return hole.kind === 'word' ? [] : [{ start: from, end: to, text: attributeText(hole, prop, inner) }];
    });
    const words = mine.filter(({ hole }) => hole.kind === 'word');
    const bare = !source.slice(attr.start, attr.end).includes('=');
    const value =
      words.length > 0
        ? wordsText(words, inner)
        : withEdits(
            source,
            parts.length > 0 || occurrence.page.component !== undefined ? parts : braces(raw, start, inner),
            { start, end },
          );
    if (mine.some(({ hole }) => hole.kind === 'flag'))
      edits.push({ start: attr.start, end: attr.end, text: parts[0]!.text });
    else if (mine.length > 0 && (bare || (quote === '' && /\s/.test(value))))
      edits.push({ start, end, text: `${bare ? '=' : ''}"${value}"` });
    else edits.push({ start, end, text: value });
  }
  // attributes that this occurrence lacks go where others have them
  const lacks = ({ attr }: Hole) => attr !== null && element.attrs.every(({ name }) => name !== attr);
  const lacking = found.filter(({ hole }) => lacks(hole));
  let at = element.start + 1 + element.tag.length;
  for (const name of lacking.length === 0 ? [] : attributeOrder(pattern, element)) {
    at = element.attrs.find((attr) => attr.name === name && attr.start >= 0)?.end ?? at;
    for (const { hole, prop } of lacking.filter((each) => each.hole.attr === name)) {
      const text = attributeText(hole, prop, "'");
      edits.push({ start: at, end: at, text: hole.kind === 'flag' ? ` ${text}` : ` ${name}="${text}"` });
    }
  }
  return withEdits(source, edits, {
    start: element.start,
    end: element.openEnd,
    between: (text, next) => relative(text, next, indent),
  });
}

/** The names of all attributes that a pattern's elements have: those of one in their order, others behind what they mostly follow. */
function attributeOrder({ nodes }: ElementPattern, first: Element): string[] {
  const namesOf = ({ attrs }: Element) => attrs.filter(({ start }) => start >= 0).map(({ name }) => name);
  const orders = new Map<string, { names: string[]; count: number }>();
  for (const node of nodes) {
    if (node === null) continue;
    const names = namesOf(node);
    const known = orders.get(names.join(' ')) ?? { names, count: 0 };
    known.count++;
    orders.set(names.join(' '), known);
  }
  const order = namesOf(first);
  for (const { names } of [...orders.values()].sort((one, other) => other.count - one.count))
    for (const [i, name] of names.entries())
      if (!order.includes(name)) order.splice(i === 0 ? 0 : order.indexOf(names[i - 1]!) + 1, 0, name);
  return order;
}

/** Source text of an attribute's value, or of its whole when it is a flag. */
function attributeText(hole: Hole, prop: InferredProp | null, quote: string): string {
  if (prop === null) return escapeBraces(hole.before, quote);
  if (hole.kind === 'test') return `${hole.before}${named(prop)}${hole.otherwise ?? ''}`;
  if (hole.kind === 'flag') return `${hole.attr!}="${whether(hole, prop, "'")}"`;
  if (hole.kind === 'given') return chosen(hole, prop, [`${quote}${hole.before}${quote}`, 'null'], quote);
  return placeholder(hole, prop, quote);
}

/** A class value whose words come and go. */
function wordsText(found: Told[], quote: string): string {
  return found[0]!.hole
    .words!.map((word, at) => {
      if (word !== null) return word;
      const mine = found.find(({ hole }) => hole.part === at);
      if (mine === undefined) return '';
      const { hole } = mine;
      const prop = mine.prop!;
      const given = `${quote}${hole.before}${quote}`;
      if (hole.either === undefined && (prop.type === 'flag' || hole.equals !== undefined))
        return chosen(hole, prop, [given, `${quote}${hole.otherwise ?? ''}${quote}`], quote);
      if (!mayLack(hole)) return placeholder(hole, prop, quote);
      return `{{${named(prop)} === null ? ${quote}${quote} : ${given}}}{{${named(prop)}}}`;
    })
    .join('');
}

function braces(raw: string, from: number, quote: string): Edit[] {
  return [...raw.matchAll(/\{\{/g)].map(({ index }) => ({
    start: from + index,
    end: from + index + 2,
    text: escapeBraces('{{', quote),
  }));
}
