/** Another default for a prop: uses that give it say it no longer, and those that took the old one say that. */
import type { Component, Prop } from '../component/model.js';
import { Problem } from '../errors.js';
import { valueOf } from '../page/attribute.js';
import type { Edit } from '../page/edits.js';
import { placeAt } from '../page/parse.js';
import { quoteAttribute, type Spelled, spelledAttribute, spelledValue } from '../page/spelling.js';
import type { Attr, Element } from '../page/tree.js';
import { type Change, changeOf, type Edits, note } from './change.js';
import { metaOf } from './meta.js';
import { type Site, type Use, usesOf } from './uses.js';

/** Types of props whose values stand in attributes, but for flags, which are given or not. */
const WITH_DEFAULT = new Set(['text', 'number', 'url', 'choice']);

/**
 * @param value as text; null for none
 * @throws Problem (exit 2) where there is no such prop or it cannot have that default; (exit 1) where a use would be given
 * what it leaves out now
 */
export function setDefault(site: Site, component: Component, name: string, value: string | null): Change {
  const meta = metaOf(component, name);
  const prop = component.props.find((each) => each.name === name)!;
  refuseDefault(component, prop, value);
  const uses = usesOf(site).filter((use) => use.name === component.name);
  const givenTo = ({ element }: Use) => element.attrs.find((attr) => attr.name === name && attr.start >= 0);
  const spelledIn = (use: Use, attr: Attr) => spelledAttribute(valueOf(use.holder.source, attr).raw);
  // it is spelled as uses spell it
  const spellings = uses.flatMap((use) => {
    const given = givenTo(use);
    return given === undefined ? [] : [spelledIn(use, given)];
  });
  const standard =
    value === null
      ? null
      : ([prop.default ?? [], spellings].flat().find((each) => each.value === value) ?? spelledValue(value));
  const edits: Edits = new Map();
  note(edits, component, ...metaEdits(component, meta, standard));
  for (const use of uses) {
    const { holder, element } = use;
    const given = givenTo(use);
    if (given !== undefined) {
      if (spelledIn(use, given).raw === standard?.raw) note(edits, holder, withoutAttribute(holder.source, given));
    } else if (prop.default !== null) {
      if (prop.default.raw !== standard?.raw) note(edits, holder, attributeInTag(use, name, prop.default));
    } else if (value !== null && prop.optional)
      throw new Problem(`this use leaves ${name} out, and would be given it`, {
        exit: 1,
        place: placeAt(holder, element.start),
        hint: 'nothing was written',
      });
  }
  return changeOf(edits);
}

function refuseDefault({ name: own }: Component, { name, type, choices }: Prop, value: string | null): void {
  if (name.includes('.') || !WITH_DEFAULT.has(type))
    throw new Problem(`a ${name.includes('.') ? 'field of a list' : type} has no default`, {
      hint: `only text, number, url and choice have one; ${own}.${name} is none of them`,
    });
  if (value !== null && type === 'choice' && !choices.includes(value))
    throw new Problem(`"${value}" is no choice of ${name}`, { hint: `its choices are ${choices.join(', ')}` });
}

/** The declaration with the default, or without; what has one is not optional besides. */
function metaEdits({ source }: Component, meta: Element, value: Spelled | null): Edit[] {
  const attr = (name: string) => meta.attrs.find((each) => each.name === name && each.start >= 0);
  const [standard, optional] = [attr('default'), attr('optional')];
  const written = value === null ? '' : ` default=${quoteAttribute(value)}`;
  const edits = standard === undefined ? [] : [{ ...withoutAttribute(source, standard), text: written }];
  if (standard === undefined && written !== '') {
    const last = meta.attrs.at(-1)!;
    edits.push({ start: last.end, end: last.end, text: written });
  }
  return value === null || optional === undefined ? edits : [...edits, withoutAttribute(source, optional)];
}

/** Takes an attribute out, with the white space before it. */
function withoutAttribute(source: string, { start, end }: Attr): Edit {
  return { start: source.slice(0, start).trimEnd().length, end, text: '' };
}

/** The attribute after those that the use has. */
function attributeInTag({ element }: Use, name: string, value: Spelled): Edit {
  const last = element.attrs.filter((attr) => attr.start >= 0).at(-1);
  const at = last?.end ?? element.start + 1 + element.tag.length;
  return { start: at, end: at, text: ` ${name}=${quoteAttribute(value)}` };
}
