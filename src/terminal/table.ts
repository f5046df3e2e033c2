/** Tables of text: columns as wide as they need to be, the widest ones cut where the terminal ends. */
import widthOf from 'fast-string-width';
import { dim } from './style.js';

export interface Column {
  title: string;
  align?: 'left' | 'right';
  /** never cut */
  fixed?: boolean;
  /** the title is never cut */
  whole?: boolean;
}

const GAP = '  ';
/** So narrow a column may get. */
const FLOOR = 6;
/** Lays out rows under their titles, within `width` columns. Cells are plain or coloured text of one line. */
export function table(columns: Column[], rows: string[][], width: number): string {
  const widths = columns.map(({ title }, i) => Math.max(widthOf(title), ...rows.map((row) => widthOf(row[i]!))));
  const total = () => widths.reduce((sum, each) => sum + each, 0) + GAP.length * (columns.length - 1);
  const floors = columns.map(({ title, whole }) => (whole === true ? Math.max(FLOOR, widthOf(title)) : FLOOR));
  while (total() > width) {
    const cuttable = widths.map((each, i) => (columns[i]!.fixed === true || each <= floors[i]! ? 0 : each));
    const widest = Math.max(...cuttable);
    if (widest === 0) break;
    widths[cuttable.indexOf(widest)]!--;
  }
  const line = (cells: string[]) =>
    columns
      .map(({ align }, i) => pad(cut(cells[i]!, widths[i]!), widths[i]!, align ?? 'left'))
      .join(GAP)
      .trimEnd();
  const head = columns.map(({ title }) => title);
  return [dim(line(head)), ...rows.map(line)].join('\n');
}

function pad(text: string, width: number, align: 'left' | 'right'): string {
  const space = ' '.repeat(Math.max(0, width - widthOf(text)));
  return align === 'left' ? text + space : space + text;
}

/** Cuts a text to `width` columns, with an ellipsis where something is lost. */
export function cut(text: string, width: number): string {
  if (widthOf(text) <= width) return text;
  let kept = '';
  for (const char of text) {
    if (widthOf(kept + char) > width - 1) break;
    kept += char;
  }
  return `${kept}…`;
}

/** So many characters before a difference are shown at most. */
const BEFORE = 8;

/** Two texts cut to `width` columns; what they begin with alike is left out where it takes half of that and some would be lost. */
export function cutApart(one: string, other: string, width: number): [string, string] {
  let same = 0;
  while (same < one.length && one[same] === other[same]) same++;
  const areWhole = widthOf(one) <= width && widthOf(other) <= width;
  if (areWhole || widthOf(one.slice(0, same)) <= width / 2) return [cut(one, width), cut(other, width)];
  const near = Math.max(0, same - BEFORE);
  const from = near + /[^\s/]*$/.exec(one.slice(near, same))!.index;
  // half of a pair of units is no character
  const start = /[\uDC00-\uDFFF]/.test(one[from] ?? '') ? from - 1 : from;
  return [cut(`…${one.slice(start)}`, width), cut(`…${other.slice(start)}`, width)];
}

/** Breaks a text between words, so that no line is wider than `width` where that can be; later lines are indented. */
export function wrapped(text: string, width: number): string {
  const lines: string[] = [];
  let line = '';
  for (const word of text.split(' ')) {
    const longer = line === '' ? word : `${line} ${word}`;
    if (line === '' || widthOf(longer) <= width) line = longer;
    else {
      lines.push(line);
      line = `  ${word}`;
    }
  }
  return [...lines, line].join('\n');
}

/** One line of what may hold line breaks and control characters. */
export function oneLine(text: string): string {
  // eslint-disable-next-line no-control-regex -- these are what must not reach a terminal
  return text.replace(/\s+/g, ' ').replace(/[\u0000-\u001f\u007f]/g, '\uFFFD');
}
