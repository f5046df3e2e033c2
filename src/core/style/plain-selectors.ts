/** Selector lists of which enough can be told without a parser. */
import { OLD_ELEMENTS, RUNNING, STRUCTURAL } from './pseudo-classes.js';

/** A compound of a tag, classes, ids and what is known of pseudo-classes and pseudo-elements without arguments. */
const PLAIN_COMPOUND = `(?=[a-z*.#:])(?:[a-z][\\w-]*|\\*)?(?:[.#]-?[a-z_][\\w-]*)*(?:::?(?:${[
  ...OLD_ELEMENTS,
  ...STRUCTURAL,
  ...RUNNING,
].join('|')})(?![\\w(-]))*`;
const PLAIN = new RegExp(`^${PLAIN_COMPOUND}(?:(?:\\s*[>+~,]\\s*|\\s+)${PLAIN_COMPOUND})*$`, 'i');

/**
 * The key of each selector of a list, where that can be told without reading them: tags, classes, ids and pseudo-classes
 * that are known, so that they are valid; null for any other list.
 */
export function plainKeys(prelude: string): string[] | null {
  if (!PLAIN.test(prelude)) return null;
  const keys = prelude.split(',').map((selector) => {
    const last = /[^\s>+~]*\s*$/.exec(selector)![0].replace(/:.*$/s, '');
    const name = /#[\w-]+/.exec(last) ?? /\.[\w-]+/.exec(last);
    return name?.[0] ?? /^[\w-]+/.exec(last)?.[0].toLowerCase() ?? null;
  });
  return keys.includes(null) ? null : (keys as string[]);
}
