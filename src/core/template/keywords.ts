/** Words that decide something, as class words and keywords of attributes do, told apart from words that are read. */
import type { Block, Hole, InferredProp } from './pattern.js';

/** Attributes whose words are read, or name things: new ones come with each use, however few there are. */
const FREE = new Set(
  `id for name form list headers title alt placeholder value label content abbr aria-label aria-labelledby
  aria-describedby aria-details aria-controls aria-owns aria-flowto aria-errormessage aria-activedescendant
  aria-roledescription aria-valuetext aria-placeholder`.split(/\s+/),
);

/** True for a place where a word decides something; of what a component within is given, where it takes one of several. */
export function isKeyword({ attr, type, inClass }: Hole): boolean {
  return type === undefined ? attr !== null && !FREE.has(attr) : type === 'choice' || inClass === true;
}

/** True for a choice that decides nothing: its words stand where any others could. */
export function isFreeText(prop: InferredProp, blocks: readonly Block[]): boolean {
  const { type, holes, fields } = prop;
  if (type !== 'choice' || fields !== undefined || holes.length === 0) return false;
  if (blocks.some((block) => block.prop === prop && block.equals !== undefined)) return false;
  return holes.every((hole) => hole.equals === undefined && !isKeyword(hole));
}
