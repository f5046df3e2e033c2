/** Where scripts and stylesheets speak of components in ways that cannot be followed. */
import { isJson } from '../component/use.js';
import { placeAt } from '../page/parse.js';
import { elementsOf } from '../page/tree.js';
import type { Site } from './uses.js';

/** A place that names a component or a file of it. */
export interface Mention {
  path: string;
  line: number;
  column: number;
  /** what is named */
  named: string;
}

/**
 * Where scripts and stylesheets speak of a tag: by a name that is no class, no id and no part of a longer one.
 * @param texts of scripts and stylesheets, by path
 */
export function mentionsOf(tag: string, site: Site, texts: ReadonlyMap<string, string>): Mention[] {
  const named = new RegExp(`(?<![\\w.#/-])(?<!@component\\s+)${tag.replaceAll('.', '\\.')}(?![\\w-])`, 'g');
  const found = (holder: { path: string; source: string }, from: number, to: number) =>
    [...holder.source.slice(from, to).matchAll(named)].map(({ index }) => ({
      ...placeAt(holder, from + index),
      named: tag,
    }));
  const inPages = [...site.pages, ...site.registry.values()].flatMap((holder) => {
    const root = 'root' in holder ? holder.root : holder.template;
    const scripts = elementsOf(root).filter((each) => each.tag === 'script' && !isJson(each));
    return scripts.flatMap((script) => found(holder, script.openEnd, script.closeStart));
  });
  return [...inPages, ...[...texts].flatMap(([path, source]) => found({ path, source }, 0, source.length))];
}

/** Where texts have one of the paths, as it is seen from the root. */
export function pathMentions(paths: readonly string[], texts: ReadonlyMap<string, string>): Mention[] {
  return [...texts].flatMap(([path, source]) =>
    paths.flatMap((named) => {
      const at = source.indexOf(named);
      return at < 0 ? [] : [{ ...placeAt({ path, source }, at), named }];
    }),
  );
}
