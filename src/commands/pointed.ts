/** What is told of a place that was pointed at. */
import { placeText } from '../core/errors.js';
import type { Occurrence } from '../core/fragments/occurrence.js';
import { placeAt } from '../core/page/parse.js';
import type { PointedAt } from '../operations/pointing.js';
import { count } from '../terminal/style.js';
import { cut, oneLine } from '../terminal/table.js';
import { hint } from './printing.js';

const SHOWN = 5;

const LONGEST = 40;

/** Places that a fixed prop leaves out. */
export function tellFixed(leftOut: Occurrence[]): void {
  for (const { page, element } of leftOut)
    hint(`stays as it is, for its value is another one: ${placeText(placeAt(page, element.start))}`);
}

/** What else looks like it, and what could be named. */
export function tellPointed({ alike, nameable, leftOut, finding }: PointedAt): void {
  const place = ({ page, element }: Occurrence) => placeText(placeAt(page, element.start));
  const some = (places: Occurrence[]) =>
    `${places.slice(0, SHOWN).map(place).join(', ')}${places.length > SHOWN ? ', …' : ''}`;
  tellFixed(leftOut);
  if (alike.length > 0)
    hint(
      `${count(alike.length, 'other place')} look${alike.length === 1 ? 's' : ''} like it: ${some(alike)}; --alike takes them too`,
    );
  const names = nameable.filter(({ name }) => !finding.props.some((prop) => prop.name === name));
  if (names.length > 0) {
    const few = names.slice(0, SHOWN).map((each) => `${each.name} "${cut(oneLine(each.text), LONGEST)}"`);
    hint(
      `its texts stay as they are, but for those that --props names: ${few.join(', ')}${names.length > SHOWN ? ', …' : ''}`,
    );
  }
}
