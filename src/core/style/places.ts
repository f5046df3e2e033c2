/** Where stylesheets and what is in them stand, for messages. */
import type { Place } from '../errors.js';
import { placeAt } from '../page/parse.js';
import type { Sheet } from './sheet.js';

/** Where an offset into a sheet stands on disk. */
export function sheetPlace(sheet: Sheet, offset: number): Place {
  return sheet.onDisk?.(offset) ?? placeAt(sheet, offset);
}

/** How a sheet is named. */
export function sheetName({ path, element }: Sheet): string {
  return element === 0 ? path : `style element ${element} of ${path}`;
}
