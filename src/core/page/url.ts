/**
 * Relative URLs: which attributes hold one, what they point at, and how the same target is written from elsewhere.
 * The list of attributes is that of the HTML standard's index of attributes ("valid URL"), and SVG's `href`.
 * Paths are relative to the project's root, with `/`; segments are compared as they are spelled.
 */

const EVERYWHERE = new Set(['href', 'src', 'action', 'formaction', 'poster', 'xlink:href', 'cite', 'background']);
const SCHEME = /^[a-z][a-z0-9+.-]*:/i;

/** How the attribute holds URLs: one, a `srcset` list, or none. */
export function urlKind(tag: string, name: string): 'url' | 'srcset' | null {
  if (EVERYWHERE.has(name) || (name === 'data' && tag === 'object')) return 'url';
  return name === 'srcset' || name === 'imagesrcset' ? 'srcset' : null;
}

/** True for a URL that means something else from another folder. */
export function isRelative(url: string): boolean {
  return url !== '' && !/^[#?/\\\s]/.test(url) && !SCHEME.test(url);
}

/** The folder of a path, '' for the root itself; never with a slash at its end. */
export function folderOf(path: string): string {
  return path.slice(0, Math.max(0, path.lastIndexOf('/')));
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

/** Applies `change` to each URL in a raw attribute value that is relative, leaving all else as spelled. */
function mapUrls(raw: string, kind: 'url' | 'srcset', change: (url: string) => string): string {
  if (kind === 'url') {
    const [, lead, url, trail] = /^(\s*)([\s\S]*?)(\s*)$/.exec(raw)!;
    return isRelative(url!) ? `${lead!}${change(url!)}${trail!}` : raw;
  }
  // a candidate is a URL and up to one descriptor; commas separate candidates
  return raw.replace(
    /(^|,)(\s*)([^\s,][^\s]*?)(?=,?\s|,?$)/g,
    (whole: string, comma: string, space: string, url: string) =>
      isRelative(url) ? comma + space + change(url) : whole,
  );
}

/** Moves the relative URLs of a raw attribute value from one folder to another; null when one climbs out of the root. */
export function moveUrls(raw: string, kind: 'url' | 'srcset', from: string, to: string): string | null {
  const outside: string[] = [];
  const moved = mapUrls(raw, kind, (url) => {
    const target = resolve(url, from);
    if (target === null) outside.push(url);
    return target === null ? url : relativise(target, to);
  });
  return outside.length > 0 ? null : moved;
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
