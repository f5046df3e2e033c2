/** What a use expands to in the place of a fragment, compared with what stands there. */
import { expandPage } from '../component/expand.js';
import type { Registry } from '../component/model.js';
import { Problem } from '../errors.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { indentAt, parseFragment } from '../page/parse.js';
import { firstDifference, isReindented, type Sameness } from '../page/same.js';

export interface UseVerdict {
  same: Sameness;
  why: string;
}

/** What `text` expands to in the place of an occurrence. */
export function expandedAt({ page, element, folder }: Occurrence, text: string, registry: Registry): string {
  if (registry.size === 0) return text;
  const context = element.parent?.kind === 'element' ? element.parent : null;
  const indent = indentAt(page, element.start);
  const source = indent + text;
  const part = { path: page.path, source, root: parseFragment(source, context) };
  return expandPage(part, registry, folder).text.slice(indent.length);
}

/**
 * Compares a fragment, the uses in it expanded, with what a use expands to; both by themselves.
 * @param before the components that there are
 * @param after those that the use may be made of
 */
export function compareUse(occurrence: Occurrence, use: string, before: Registry, after: Registry): UseVerdict {
  const { page, element, end } = occurrence;
  const context = element.parent?.kind === 'element' ? element.parent : null;
  const original = expandedAt(occurrence, page.source.slice(element.start, end), before);
  let output: string;
  try {
    output = expandedAt(occurrence, use, after);
  } catch (error) {
    // what is poured in may leave something open that the use would have to close
    if (error instanceof Problem) return { same: 'different', why: error.message };
    throw error;
  }
  if (original === output) return { same: 'bytes', why: '' };
  const root = parseFragment(original, context);
  if (isReindented({ source: original, root }, output)) return { same: 'markup', why: '' };
  const found = firstDifference(root, parseFragment(output, context), false);
  return found === null ? { same: 'markup', why: '' } : { same: 'different', why: found.what };
}
