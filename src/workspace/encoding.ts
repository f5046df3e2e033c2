/** Bytes to text and back, as a browser would decide: byte-order mark, `meta charset`, else windows-1252 or UTF-8. */
import sniff from 'html-encoding-sniffer';
import iconv from 'iconv-lite';
import { isUtf8 } from 'node:buffer';

export interface Decoded {
  text: string;
  /** label as the Encoding standard names it */
  encoding: string;
  bom: boolean;
  /** false when writing the text back would not give these bytes; such a file is read, never written */
  exact: boolean;
  /** true for a stylesheet, which spells missing characters its own way */
  styles?: boolean;
}

const BOMS: Record<string, Buffer> = {
  'UTF-8': Buffer.from([0xef, 0xbb, 0xbf]),
  'UTF-16LE': Buffer.from([0xff, 0xfe]),
  'UTF-16BE': Buffer.from([0xfe, 0xff]),
};

/**
 * Decodes a page. Without any sign of its encoding, bytes that are valid UTF-8 are taken as UTF-8.
 * @param known label of the encoding, where that was decided before; a byte-order mark still goes before it
 */
export function decode(bytes: Buffer, known?: string): Decoded {
  // what a journal says may be anything
  const isKnown = known !== undefined && iconv.encodingExists(known);
  if (isKnown && !Object.values(BOMS).some((mark) => bytes.subarray(0, mark.length).equals(mark)))
    return decodeAs(bytes, known);
  return decodeAs(bytes, encodingOf(bytes));
}

/** Label of the encoding that a page says it is in, or seems to be. */
export function encodingOf(bytes: Buffer): string {
  return sniff(bytes, { defaultEncoding: isUtf8(bytes) ? 'UTF-8' : 'windows-1252' });
}

/** Decodes a stylesheet: byte-order mark, `@charset`, else UTF-8. (CSS Syntax Level 3, "determine the fallback encoding") */
export function decodeStyles(bytes: Buffer): Decoded {
  const named = /^@charset "([^"]*)";/.exec(bytes.subarray(0, 1024).toString('latin1'))?.[1];
  const marked = Object.entries(BOMS).find(([, mark]) => bytes.subarray(0, mark.length).equals(mark))?.[0];
  // a sheet that says it is UTF-16 without a mark is read as UTF-8
  const known = named !== undefined && !/^utf-?(8|16)/i.test(named) && iconv.encodingExists(named) ? named : 'UTF-8';
  return { ...decodeAs(bytes, marked ?? known), styles: true };
}

function decodeAs(bytes: Buffer, encoding: string): Decoded {
  const mark = BOMS[encoding];
  const bom = mark !== undefined && bytes.subarray(0, mark.length).equals(mark);
  const rest = bom ? bytes.subarray(mark.length) : bytes;
  if (encoding === 'UTF-8') return { text: rest.toString('utf8'), encoding, bom, exact: isUtf8(rest) };
  const text = iconv.decode(rest, encoding, { stripBOM: false });
  const decoded = { text, encoding, bom, exact: true };
  decoded.exact = encode(text, decoded).equals(bytes);
  return decoded;
}

/** The bytes of a text in the encoding that it was read in; a character that it lacks becomes a reference. */
export function encode(text: string, { encoding, bom, styles }: Pick<Decoded, 'encoding' | 'bom' | 'styles'>): Buffer {
  const spelled = spellMissing(text, encoding, styles === true);
  const bytes =
    encoding === 'UTF-8' ? Buffer.from(spelled, 'utf8') : iconv.encode(spelled, encoding, { addBOM: false });
  return bom ? Buffer.concat([BOMS[encoding]!, bytes]) : bytes;
}

function spellMissing(text: string, encoding: string, styles: boolean): string {
  if (/^utf/i.test(encoding)) return text;
  return text.replace(/[\u0080-\u{10ffff}]/gu, (char) =>
    iconv.decode(iconv.encode(char, encoding), encoding) === char
      ? char
      : styles
        ? `\\${char.codePointAt(0)!.toString(16)} `
        : `&#${char.codePointAt(0)!};`,
  );
}

/** True for what is no text: a NUL byte, as no HTML page in an encoding of bytes has one. */
export function isBinary(bytes: Buffer): boolean {
  const wide =
    bytes.length > 1 && ((bytes[0] === 0xff && bytes[1] === 0xfe) || (bytes[0] === 0xfe && bytes[1] === 0xff));
  return !wide && bytes.subarray(0, 8192).includes(0);
}
