/** How declarations are told. */
import { cut, oneLine } from './table.js';

/** `color: red !important`, on one line. */
export function declarationText({
  property,
  value,
  important,
}: {
  property: string;
  value: string;
  important: boolean;
}): string {
  return cut(oneLine(`${property}: ${value}${important ? ' !important' : ''}`), 60);
}
