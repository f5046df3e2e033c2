/** What the values of a hole decide on: what the class words or the declarations that it gives change. */
import { isSpaceText } from '../page/space.js';
import { effectOf, isSize, usualEffectOf } from '../words/effect.js';
import { asName } from '../words/names.js';
import type { Vocabulary } from '../words/vocabulary.js';
import { type Hole, isFlagHole, isText } from './pattern.js';
import { elementOf } from './props.js';

/** One declaration, as a `style` attribute has it. */
const DECLARATION = /^\s*([\w-]+)\s*:[^;]*;?\s*$/;

/**
 * What all values of a hole change, in a word, or else the class word that comes and goes; null where that is several things,
 * or nothing tells.
 */
export function effectOfHole(hole: Hole, vocabulary: Vocabulary): string | null {
  return changedBy(hole, vocabulary) ?? flagWord(hole);
}

function changedBy(hole: Hole, vocabulary: Vocabulary): string | null {
  const given = hole.values.flatMap((value) => (isText(value) ? [hole.before + value.value] : []));
  const all = given.length > 0 ? given : [hole.before, ...(hole.otherwise === undefined ? [] : [hole.otherwise])];
  if (hole.attr === 'style')
    return onlyOne(hole.declared === undefined ? all.map(propertyIn) : [effectOf([hole.declared.property])]);
  if (hole.attr !== 'class') return null;
  const words = all.flatMap((each) => each.split(/\s+/)).filter((word) => word !== '');
  if (words.length === 0) return null;
  const known = words.flatMap((word) => vocabulary.get(word) ?? []).filter(({ rules }) => rules > 0);
  const effects = known.length > 0 ? known.map(({ effect }) => effect) : words.map(usualEffectOf);
  const effect = onlyOne(effects);
  if (effect !== null) return effect;
  if (given.length > 0 && words.every(isSize)) return 'size';
  return isIcon(hole) && effects.every((each) => each === null) ? 'icon' : null;
}

/** The class word that comes and goes, where that is one, and without a number; null for others. */
function flagWord(hole: Hole): string | null {
  if (hole.kind !== 'word' || !isFlagHole(hole)) return null;
  const word = hole.before.trim();
  if (word === '') return 'spaced';
  return /[\s\d]/.test(word) ? null : asName(word);
}

function propertyIn(style: string): string | null {
  const property = DECLARATION.exec(style)?.[1];
  return property === undefined ? null : effectOf([property.toLowerCase()]);
}

function onlyOne(effects: (string | null)[]): string | null {
  return effects.every((effect) => effect === effects[0]) ? (effects[0] ?? null) : null;
}

/** True for an `i` without content, as icon fonts are given. */
function isIcon(hole: Hole): boolean {
  const { tag, children } = elementOf(hole);
  return tag === 'i' && children.every(isSpaceText);
}
