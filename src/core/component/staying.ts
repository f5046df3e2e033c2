/** Expanding some components while uses of others stay uses: where lines within these will come to stand once they are expanded too. */
import { movedIndent, movedLines } from '../page/indent.js';
import type { Element } from '../page/tree.js';
import type { UrlKind } from '../page/url.js';

/** Components whose uses stay uses while others are expanded. */
export interface Staying {
  /** the component whose uses in pages do not stay; others are expanded only in its template */
  taken: string;
  isUse: (element: Element) => boolean;
  /** how an attribute holds URLs, that of a use among them */
  urlKindOf: (element: Element, name: string) => UrlKind | null;
  /** where a slot of the component stands that an element is a use of; null where it has none by itself */
  slotOf: (element: Element, slot: string) => StayingSlot | null;
}

/** Where content of a use that stays will stand once that is expanded too. */
export interface StayingSlot {
  /** indentation of the element around the slot, and of the component's lines, in its file */
  base: string;
  from: string;
  /** white space shows there */
  shows: boolean;
}

/** A use that stays around what is compiled, and the slot that this is poured into. */
export interface Within extends StayingSlot {
  /** indentation of the use, and of the tag that holds the content, in the file */
  use: string;
  tag: string;
}

/** From one indentation to another. */
export interface Move {
  from: string;
  to: string;
}

export const NO_MOVE: Move = { from: '', to: '' };

/** Lines that are put at a place. */
interface Lines {
  /** their indentation in the file, and that of the place */
  base: string;
  indent: string;
  /** how they are moved later */
  later: Move;
}

/** How lines within uses that stay will be moved: each in the slot of the one around it. */
export function moveLater(within: readonly Within[], { base, indent, later }: Lines): Move {
  return within.reduce((move, slot) => {
    if (slot.shows) return NO_MOVE;
    const use = movedIndent(movedIndent(slot.use, base, indent), move.from, move.to);
    return { from: movedIndent(slot.tag, base, indent), to: movedIndent(slot.base, slot.from, use) };
  }, later);
}

/** A value whose lines are moved back by as much as they will be moved when the uses around it are expanded. */
export function heldBack(text: string, within: readonly Within[], lines: Lines): string {
  const { from, to } = moveLater(within, lines);
  return movedLines(text, to, from);
}
