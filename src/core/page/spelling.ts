/**
 * How a value is spelled in HTML source. A value travels with its raw spelling, so that what a page writes `&copy;`
 * comes out as `&copy;` wherever that means the same; elsewhere it is escaped.
 */
import { decodeHTML, decodeHTMLAttribute } from 'entities';

/** A value and the source text that it was read from. */
export interface Spelled {
  value: string;
  raw: string;
}

/** Where a value is written: text, or an attribute value with the given quote ('' is unquoted). */
export type Target = 'text' | '"' | "'" | '';

export function decodeText(raw: string): string {
  return decodeHTML(withLineFeeds(raw));
}

export function decodeAttribute(raw: string): string {
  return decodeHTMLAttribute(withLineFeeds(raw));
}

function withLineFeeds(raw: string): string {
  return raw.includes('\r') ? raw.replace(/\r\n?/g, '\n') : raw;
}

export function spelledText(raw: string): Spelled {
  return { value: decodeText(raw), raw };
}

export function spelledAttribute(raw: string): Spelled {
  return { value: decodeAttribute(raw), raw };
}

/** A value that no source spells, escaped only as far as both text and attributes need it. */
export function spelledValue(value: string): Spelled {
  return { value, raw: escape(value, 'text') };
}

/**
 * Source text for `spelled` at `target`: its own spelling where that means the same there, else escaped. `joins` says
 * that what follows could be read as part of a character reference that the value leaves open.
 */
export function spell({ raw, value }: Spelled, target: Target, joins = false): string {
  const fits = (text: string) => !(joins && /&[#\w]*$/.test(text)) && means(text, value, target);
  const plain = raw.includes("'") && !raw.includes('"') ? raw.replaceAll(QUOTE, '"') : raw;
  if (fits(plain)) return plain;
  return fits(raw) ? raw : escape(value, target);
}

/** How a use spells a double quote in a value that holds single quotes too, so that `spell` can turn it back. */
const QUOTE = '&#34;';

/**
 * `name="value"` for a use. The quote is the one that needs no escaping; when the value holds both, double quotes
 * are spelled in a way that `spell` turns back.
 */
export function quoteAttribute(spelled: Spelled): string {
  for (const quote of ['"', "'"] as const)
    if (means(spelled.raw, spelled.value, quote)) return quote + spelled.raw + quote;
  const requoted = spelled.raw.replaceAll('"', QUOTE);
  return `"${means(requoted, spelled.value, '"') ? requoted : escape(spelled.value, '"')}"`;
}

function means(raw: string, value: string, target: Target): boolean {
  // `<` is text unless a tag, a comment or the like could start with it
  if (target === 'text') return !/<(?![^a-z/!?])/i.test(raw) && decodeText(raw) === value;
  if (target === '') return /^[^\s"'=<>`]+$/.test(raw) && decodeAttribute(raw) === value;
  return !raw.includes(target) && decodeAttribute(raw) === value;
}

function escape(value: string, target: Target): string {
  const text = value.replaceAll('&', '&amp;').replaceAll('\r', '&#13;');
  if (target === 'text') return text.replaceAll('<', '&lt;').replaceAll('>', '&gt;');
  if (target === "'") return text.replaceAll("'", '&#39;');
  if (target === '') return text.replace(/[\s"'=<>`]/g, (char) => `&#${char.charCodeAt(0)};`);
  return text.replaceAll('"', '&quot;');
}
