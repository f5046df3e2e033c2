/** Pictures as pixels: compared, and what differs as boxes and as a picture of its own. */
import pixelmatch from 'pixelmatch';
import { PNG } from 'pngjs';

/** A part of a picture, in pixels from its top left. */
export interface Box {
  x: number;
  y: number;
  width: number;
  height: number;
}

export interface ImageDifference {
  /** how many pixels differ; where one picture is larger, all that is beyond the other */
  pixels: number;
  /** where differences begin, from the top: what comes after may only be moved by it */
  first: Box;
  /** all that differs, what stands close together in one box, from the top */
  boxes: Box[];
  /** PNG files of the whole pictures */
  before: Buffer;
  after: Buffer;
  difference: Buffer;
}

/** A picture of a page, in strips from the top, as PNG files. */
export type Strips = readonly Buffer[];

/** Pixels that differ and have fewer than so many between them are in one box. */
const CELL = 16;
/** The colour of what differs. */
const MARK: [number, number, number] = [200, 0, 120];

/**
 * How far two pictures are apart at most.
 * @returns 0 where no pixel differs, 255 where one has another size, else the largest difference of a red, green, blue or
 * alpha
 */
export function farthest(before: Strips, after: Strips): number {
  if (before.length === after.length && before.every((strip, i) => strip.equals(after[i]!))) return 0;
  // pictures of other sizes need not be decoded
  if (sizeOf(before) !== sizeOf(after)) return 255;
  const [one, two] = [joined(before), joined(after)];
  let most = 0;
  for (let i = 0; i < one.data.length; i++) {
    const apart = Math.abs(one.data[i]! - two.data[i]!);
    if (apart > most) most = apart;
  }
  return most;
}

/** What differs between two pictures of which some pixels do. */
export function imageDifference(before: Strips, after: Strips): ImageDifference {
  const pictures = [before, after].map(joined) as [PNG, PNG];
  const width = Math.max(...pictures.map((each) => each.width));
  const height = Math.max(...pictures.map((each) => each.height));
  const [one, two] = pictures.map((each) => grown(each, width, height)) as [PNG, PNG];
  const columns = Math.ceil(width / CELL);
  const cells = new Map<number, Box>();
  let pixels = 0;
  let first: Box | undefined;
  for (let i = 0; i < width * height; i++) {
    if (one.data.readUInt32LE(i * 4) === two.data.readUInt32LE(i * 4)) continue;
    pixels++;
    const at = { x: i % width, y: Math.floor(i / width), width: 1, height: 1 };
    if (first === undefined || at.y < first.y + CELL) first = around(first, at);
    const cell = Math.floor(at.y / CELL) * columns + Math.floor(at.x / CELL);
    cells.set(cell, around(cells.get(cell), at));
  }
  const marked = new PNG({ width, height });
  const options = { threshold: 0, includeAA: true, diffColor: MARK, alpha: 0.25 };
  pixelmatch(one.data, two.data, marked.data, width, height, options);
  return {
    pixels,
    first: first ?? { x: 0, y: 0, width: 0, height: 0 },
    boxes: grouped(cells, columns),
    before: written(before, pictures[0]),
    after: written(after, pictures[1]),
    difference: PNG.sync.write(marked, WRITING),
  };
}

/** Small enough, and not slowly. */
const WRITING = { deflateLevel: 4, filterType: 1 } as const;

/** A whole picture as a PNG file. */
function written(strips: Strips, whole: PNG): Buffer {
  return strips.length === 1 ? strips[0]! : PNG.sync.write(whole, WRITING);
}

/** The smallest box that holds both. */
function around(one: Box | undefined, two: Box): Box {
  if (one === undefined) return two;
  const [x, y] = [Math.min(one.x, two.x), Math.min(one.y, two.y)];
  return {
    x,
    y,
    width: Math.max(one.x + one.width, two.x + two.width) - x,
    height: Math.max(one.y + one.height, two.y + two.height) - y,
  };
}

/** One box for each group of cells that touch. */
function grouped(cells: Map<number, Box>, columns: number): Box[] {
  const left = new Map(cells);
  const boxes: Box[] = [];
  for (const [start, box] of cells) {
    if (!left.delete(start)) continue;
    let whole = box;
    const open = [start];
    for (let cell = open.pop(); cell !== undefined; cell = open.pop())
      for (const next of touching(cell, columns)) {
        const found = left.get(next);
        if (found === undefined) continue;
        left.delete(next);
        open.push(next);
        whole = around(whole, found);
      }
    boxes.push(whole);
  }
  return boxes.sort((a, b) => a.y - b.y || a.x - b.x);
}

/** Numbers of the cells that may touch one, in a grid of so many columns. */
function touching(cell: number, columns: number): number[] {
  const column = cell % columns;
  return [-1, 0, 1].flatMap((down) =>
    [-1, 0, 1]
      .filter((right) => column + right >= 0 && column + right < columns)
      .map((right) => cell + down * columns + right),
  );
}

/** Where the width and the height stand in a PNG file, in bytes: at the start of its first chunk, which is always the header. */
const WIDTH_AT = 16;
const HEIGHT_AT = 20;

/** Width and height of a whole picture in pixels, read from the headers of its files. */
function sizeOf(strips: Strips): string {
  const height = strips.reduce((sum, strip) => sum + strip.readUInt32BE(HEIGHT_AT), 0);
  return `${strips[0]!.readUInt32BE(WIDTH_AT)} ${height}`;
}

/** Strips, one below the other. */
function joined(strips: Strips): PNG {
  const parts = strips.map((strip) => PNG.sync.read(strip));
  if (parts.length === 1) return parts[0]!;
  const height = parts.reduce((sum, part) => sum + part.height, 0);
  const whole = new PNG({ width: parts[0]!.width, height });
  let y = 0;
  for (const part of parts) {
    PNG.bitblt(part, whole, 0, 0, part.width, part.height, 0, y);
    y += part.height;
  }
  return whole;
}

/** A picture on a ground of that size, at its top left; what is beyond it is transparent. */
function grown(picture: PNG, width: number, height: number): PNG {
  if (picture.width === width && picture.height === height) return picture;
  const ground = new PNG({ width, height });
  PNG.bitblt(picture, ground, 0, 0, picture.width, picture.height, 0, 0);
  return ground;
}
