/**
 * Relative URLs: which attributes hold one, what they point at, and how the same target is written from elsewhere.
 * The list of attributes is that of the HTML standard's index of attributes ("valid URL"), and SVG's `href`.
 * Paths are relative to the project's root, with `/`; segments are compared as they are spelled.
 */
import { attrOf, type Element } from './tree.js';

const EVERYWHERE = new Set(['href', 'src', 'action', 'formaction', 'poster', 'xlink:href', 'cite', 'background']);
const SCHEME = /^[a-z][a-z0-9+.-]*:/i;

/** One URL, a list of candidates for an image, the delay and URL of `meta refresh`, or `url()` in declarations. */
export type UrlKind = 'url' | 'srcset' | 'refresh' | 'css';

/** How the attribute of an element holds URLs, null for none. */
export function urlKind(element: Element, name: string): UrlKind | null {
  if (EVERYWHERE.has(name) || (name === 'data' && element.tag === 'object')) return 'url';
  if (name === 'srcset' || name === 'imagesrcset') return 'srcset';
  if (name === 'style') return /url\(/i.test(attrOf(element, 'style') ?? '') ? 'css' : null;
  const isRefresh = name === 'content' && attrOf(element, 'http-equiv')?.toLowerCase() === 'refresh';
  return isRefresh ? 'refresh' : null;
}

/** Stands in a value for what a placeholder will say. */
export const MARK = '\u0003';
/** What means something while a value is worked on, should a page hold such characters; and what stands for it then. */
// eslint-disable-next-line no-control-regex -- no others are left over for marks
const [OWN, HIDDEN] = [/[\u0002-\u0004]/g, /\u0004([b-d])/g];

/** A value as one text: its strings, and a mark for each part that is none. */
export function markedText(parts: readonly unknown[]): string {
  const hide = (char: string) => `\u0004${String.fromCharCode(0x60 + char.charCodeAt(0))}`;
  return parts.map((part) => (typeof part === 'string' ? part.replace(OWN, hide) : MARK)).join('');
}

/**
 * The parts of a marked text: its strings but for empty ones, and for each mark the next value.
 * @param values as many as there are marks; these are taken out of it
 */
export function partsOfMarked<T>(text: string, values: T[]): (string | T)[] {
  const show = (_: string, letter: string) => String.fromCharCode(letter.charCodeAt(0) - 0x60);
  return text
    .split(MARK)
    .flatMap((part, i) => [...(i === 0 ? [] : [values.shift()!]), part.replace(HIDDEN, show)])
    .filter((part) => part !== '');
}

/** True for a URL that means something else from another folder. */
export function isRelative(url: string): boolean {
  return url !== '' && !url.startsWith(MARK) && !/^[#?/\\\s]/.test(url) && !SCHEME.test(url);
}

/** True for a URL that leads out of the site: one with a scheme, or a server. */
export function isElsewhere(url: string): boolean {
  return SCHEME.test(url) || url.startsWith('//');
}

/** The folder of a path, '' for the root itself; never with a slash at its end. */
export function folderOf(path: string): string {
  return path.slice(0, Math.max(0, path.lastIndexOf('/')));
}

/** The file that a URL leads to, without its ending and a `.min` before that; '' for a folder. */
export function fileStem(url: string): string {
  return /([^/?#]*?)(?:\.min)?(?:\.\w+)?(?:[?#].*)?$/.exec(url)![1]!;
}

/** The path from the root of a relative URL that stands in `folder`; null when it climbs out of the root. */
export function resolve(url: string, folder: string): string | null {
  const [path, rest] = splitUrl(url);
  const target = folder === '' ? [] : folder.split('/');
  const segments = path.split('/');
  segments.forEach((segment, i) => {
    if (segment === '..') target.push('..');
    else if (segment !== '.') target.push(segment);
    else if (i === segments.length - 1) target.push('');
  });
  const out: string[] = [];
  for (const segment of target) {
    if (segment !== '..') out.push(segment);
    else if (out.pop() === undefined) return null;
  }
  if (segments.at(-1) === '..') out.push('');
  return out.join('/') + rest;
}

/** How the target (as `resolve` gives it) is written in `folder`. */
export function relativise(target: string, folder: string): string {
  const [path, rest] = splitUrl(target);
  const from = folder === '' ? [] : folder.split('/');
  const to = path.split('/');
  const file = to.pop()!;
  let common = 0;
  while (common < from.length && common < to.length && from[common] === to[common]) common++;
  const steps = [...from.slice(common).map(() => '..'), ...to.slice(common), file];
  const written = steps.join('/');
  return (written === '' || SCHEME.test(written) ? `./${written}` : written) + rest;
}

function splitUrl(url: string): [string, string] {
  const at = url.search(/[?#]/);
  return at < 0 ? [url, ''] : [url.slice(0, at), url.slice(at)];
}

/** What stands before the URL in `5; url=page.html` (HTML standard, "shared declarative refresh steps"). */
const REFRESH = /^\s*[\d.]+\s*[;,]\s*(?:url\s*=\s*)?/i;
/** Quotes around a URL, as spelled. */
const QUOTE_BEFORE = /^(?:['"]|&quot;|&#3[49];)/i;
const QUOTE_AFTER = /(?:['"]|&quot;|&#3[49];)$/i;

/** Applies `change` to each URL in a raw attribute value that is relative, leaving all else as spelled. */
export function mapUrls(raw: string, kind: UrlKind, change: (url: string) => string): string {
  return mapAllUrls(raw, kind, (url) => (isRelative(url) ? change(url) : url));
}

/** Applies `change` to each URL in a raw attribute value, of whatever kind. Linear in the length of the value. */
function mapAllUrls(raw: string, kind: UrlKind, change: (url: string) => string): string {
  if (kind === 'url') return mapTrimmed(raw, change);
  if (kind === 'refresh') {
    const lead = REFRESH.exec(raw)?.[0];
    if (lead === undefined) return raw;
    const rest = raw.slice(lead.length);
    return lead + mapRanges(rest, [quotedRange(rest)], change);
  }
  if (kind === 'css') return mapRanges(raw, cssUrlRanges(raw), change);
  // a candidate is a URL and up to one descriptor; commas separate candidates, and those at the end of a URL are none of it
  return raw.replace(
    /(^|,)(\s*)([^\s,](?:\S*[^\s,])?)(?=,*(?:\s|$))/g,
    (_whole: string, comma: string, space: string, url: string) => comma + space + change(url),
  );
}

/** A URL with white space around it. */
function mapTrimmed(text: string, change: (url: string) => string): string {
  const url = text.trim();
  const start = text.length - text.trimStart().length;
  return text.slice(0, start) + change(url) + text.slice(start + url.length);
}

/** Where a URL stands in a text, with white space or quotes around it, or both. */
function quotedRange(text: string): [start: number, end: number] {
  const inner = text.trim();
  const before = QUOTE_BEFORE.exec(inner)?.[0] ?? '';
  const start = text.length - text.trimStart().length + before.length;
  return [start, start + inner.slice(before.length).replace(QUOTE_AFTER, '').length];
}

/** A text in which what stands in some ranges, in order, is changed. */
function mapRanges(text: string, ranges: [start: number, end: number][], change: (part: string) => string): string {
  let out = '';
  let at = 0;
  for (const [start, end] of ranges) {
    out += text.slice(at, start) + change(text.slice(start, end));
    at = end;
  }
  return out + text.slice(at);
}

/**
 * Where URLs stand in raw declarations, as UTF-16 offsets, without their quotes (CSS Values and Units, "URLs"); a `url(` that
 * is not closed ends at the end, and is none.
 */
export function cssUrlRanges(raw: string): [start: number, end: number][] {
  const found: [number, number][] = [];
  let at = 0;
  for (const { index } of raw.matchAll(/url\(/gi)) {
    if (index < at) continue;
    const open = index + 'url('.length;
    at = raw.indexOf(')', open);
    if (at < 0) break;
    const [start, end] = quotedRange(raw.slice(open, at)).map((offset) => open + offset) as [number, number];
    if (!/['"]/.test(raw.slice(start, end))) found.push([start, end]);
  }
  return found;
}

/** The URLs in a raw attribute value, of whatever kind. */
export function urlsIn(raw: string, kind: UrlKind): string[] {
  const found: string[] = [];
  mapAllUrls(raw, kind, (url) => {
    found.push(url);
    return url;
  });
  return found;
}

/** The relative URLs in a raw attribute value. */
export function relativeUrls(raw: string, kind: UrlKind): string[] {
  return urlsIn(raw, kind).filter(isRelative);
}

/** Moves the relative URLs of a raw attribute value from one folder to a page's; null when one climbs out of the root. */
export function moveUrls(raw: string, kind: UrlKind, from: string, to: string): string | null {
  return movedUrls(raw, kind, (url) => moved(url, from, to, byWay));
}

/**
 * The same for a component file's folder: a URL that climbs further up than it has to gets a `./` where it turns, so that all
 * pages have it by way of that folder: `../pages/a.html` in `pages` is `.././pages/a.html` in `components`.
 * @returns null when one climbs out of the root
 */
export function templateUrls(raw: string, kind: UrlKind, from: string, to: string): string | null {
  return movedUrls(raw, kind, (url) => moved(url, from, to, byMarkedWay));
}

function movedUrls(raw: string, kind: UrlKind, move: (url: string) => string | null): string | null {
  const outside: string[] = [];
  const result = mapUrls(raw, kind, (url) => {
    const found = move(url);
    if (found === null) outside.push(url);
    return found ?? url;
  });
  return outside.length > 0 ? null : result;
}

function moved(url: string, from: string, to: string, write: (detour: Detour, to: string) => string): string | null {
  const target = resolve(url, from);
  if (target === null) return null;
  const detour = detourOf(url, from);
  return detour === null ? spelledAs(url, relativise(target, to)) : write(detour, to);
}

/** A URL that turns in a folder: that one as a path from the root, '' or ending in a slash, and what follows. */
interface Detour {
  via: string;
  rest: string;
}

/** The way of a URL that says where it turns, or that climbs out of a folder and comes back into it; null for others. */
function detourOf(url: string, folder: string): Detour | null {
  const [path] = splitUrl(url);
  const turn = path.indexOf(TURN);
  if (turn >= 0 && path.length > turn + TURN.length) {
    const via = resolve(path.slice(0, turn + 1), folder);
    return via === null ? null : { via, rest: url.slice(turn + TURN.length) };
  }
  const up = /^(?:\.\.\/)+/.exec(path)?.[0] ?? '';
  const segments = folder.split('/');
  const left = segments.length - up.length / '../'.length;
  if (up === '' || left < 0 || !path.startsWith(`${segments[left]!}/`, up.length)) return null;
  return {
    via: segments
      .slice(0, left)
      .map((segment) => `${segment}/`)
      .join(''),
    rest: url.slice(up.length),
  };
}

/** Where a URL turns in a component file. */
const TURN = '/./';

function byWay({ via, rest }: Detour, to: string): string {
  const way = relativise(via, to);
  return way === './' && !SCHEME.test(rest) ? rest : way + rest;
}

function byMarkedWay({ via, rest }: Detour, to: string): string {
  return `${relativise(via, to)}./${rest}`;
}

/** True for a component file's URL that says where it turns. */
export function hasTurn(url: string): boolean {
  return splitUrl(url)[0].includes(TURN);
}

/** A component file's URL with a turn where another one of it has one; as it is where that is not on its way. */
export function turnedAs(url: string, other: string): string {
  if (!hasTurn(other) || hasTurn(url)) return url;
  const way = other.slice(0, other.indexOf(TURN) + 1);
  return url.startsWith(way) ? `${way}./${url.slice(way.length)}` : url;
}

/** A raw value with where its URLs lead, as paths from the root: the same for all spellings. All but relative ones as they are. */
export function targetIn(raw: string, kind: UrlKind, folder: string): string {
  return mapUrls(raw, kind, (url) => resolve(url, folder) ?? url);
}

/** A relative URL as a path from the root, with the dots that it had; null when it climbs out of the root. */
export function toRoot(url: string, folder: string): string | null {
  const target = resolve(url, folder);
  if (target === null) return null;
  const detour = detourOf(url, folder);
  return detour === null ? spelledAs(url, target) : byMarkedWay(detour, '');
}

/** How what `toRoot` gives is written in `folder`; a dot before it is left out where it climbs. */
export function fromRoot(target: string, folder: string): string {
  const detour = detourOf(target, '');
  if (detour !== null) return byWay(detour, folder);
  if (!target.startsWith('./')) return relativise(target, folder);
  const url = relativise(target.slice(2), folder);
  return /^\.\.?\//.test(url) ? url : `./${url}`;
}

/**
 * A URL that was moved with the dots that it had before: `./` at the start, kept before `../` once so that it comes back when
 * that goes, and `.` at the end.
 */
function spelledAs(url: string, moved: string): string {
  if (!url.startsWith('.')) return moved;
  const [path, rest] = splitUrl(moved);
  const [before] = splitUrl(url);
  const end = /(^|\/)\.$/.test(before) && path.endsWith('/') ? '.' : '';
  if (path.startsWith('./')) return (path === './' ? end || path : path) + rest;
  const isKept = url.startsWith('./') && !(url.startsWith('./../') && path.startsWith('../'));
  return (isKept ? './' : '') + path + end + rest;
}

/**
 * The folder against which a page's URLs resolve: its own, or its `base` element's; null when that is elsewhere.
 */
export function baseFolder(path: string, baseHref: string | undefined): string | null {
  const own = folderOf(path);
  if (baseHref === undefined) return own;
  if (!isRelative(baseHref)) return null;
  const target = resolve(baseHref, own);
  return target === null ? null : folderOf(target);
}
