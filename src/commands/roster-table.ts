/** The uses of a component side by side, for people and for programs. */
import { placeText } from '../core/errors.js';
import {
  type Column as Given,
  keyOf,
  type UseRow,
  type UseTable,
  type Given as Value,
} from '../core/library/roster.js';
import { count, dim, yellow } from '../terminal/style.js';
import { type Column, cut, oneLine } from '../terminal/table.js';

/** How a column is named where it is asked for. */
export function labelOf({ name, kind }: Given): string {
  return kind === 'slot' ? `#${name}` : name;
}

/** Columns and cells, values cut where they are long. */
export function tableOfUses(uses: UseTable, rows: UseRow[]): [Column[], string[][]] {
  return [
    columnsOf(uses),
    rows.map((row) => [placeText(row.place), ...row.given.map((each, i) => cellOf(each, row.odd[i]!))]),
  ];
}

export function columnsOf({ columns }: UseTable): Column[] {
  const titles = columns.map(({ name, kind }) => (kind === 'slot' ? `#${name === '' ? 'content' : name}` : name));
  return [{ title: 'place', fixed: true }, ...titles.map((title) => ({ title, whole: true }))];
}

export function usesJson({ columns }: UseTable, rows: UseRow[]) {
  return {
    columns,
    uses: rows.map(({ place, within, given, odd }) => ({
      ...place,
      within,
      given: Object.fromEntries(given.map((each, i) => [labelOf(columns[i]!), valueJson(each)])),
      odd: columns.filter((_, i) => odd[i]).map(labelOf),
    })),
  };
}

function valueJson(given: Value): unknown {
  switch (given.kind) {
    case 'value':
    case 'markup':
      return given.text;
    case 'records':
      return { records: given.count };
    case 'flag':
      return given.value;
    case 'default':
      return { default: given.text };
    case 'none':
      return null;
  }
}

/** A value as plain text, for a spreadsheet. */
export function plainText(given: Value): string {
  if (given.kind === 'none') return '';
  return given.kind === 'markup' || given.kind === 'default' ? oneLine(given.text) : keyOf(given);
}

const MOST_SHOWN = 40;

/** What a use gives, in a few words; quiet where it gives nothing of its own. */
export function givenText(given: Value): { text: string; isQuiet: boolean } {
  switch (given.kind) {
    case 'value':
      return { text: given.text === '' ? '(empty)' : cut(oneLine(given.text), MOST_SHOWN), isQuiet: false };
    case 'markup':
      return { text: cut(oneLine(given.text), MOST_SHOWN), isQuiet: false };
    case 'records':
      return { text: given.count === null ? '(no list)' : count(given.count, 'record'), isQuiet: false };
    case 'flag':
      return { text: keyOf(given), isQuiet: !given.value };
    case 'default':
      return { text: `${cut(oneLine(given.text), MOST_SHOWN)} (default)`, isQuiet: true };
    case 'none':
      return { text: '(none)', isQuiet: true };
  }
}

function cellOf(given: Value, isOdd: boolean): string {
  const { text, isQuiet } = givenText(given);
  return isOdd ? `${yellow(text)} *` : isQuiet ? dim(text) : text;
}
