/** Trees of paths, and two of them side by side. */
import widthOf from 'fast-string-width';
import { dim } from './style.js';

interface Folder {
  folders: Map<string, Folder>;
  files: string[];
}

/**
 * The lines of a tree: folders first, with a slash, what is in them indented.
 * @param show how a file is shown, given its name and its path
 */
export function treeLines(paths: readonly string[], show: (name: string, path: string) => string): string[] {
  const root: Folder = { folders: new Map(), files: [] };
  for (const path of paths) {
    let at = root;
    const names = path.split('/');
    for (const name of names.slice(0, -1)) {
      const inner = at.folders.get(name) ?? { folders: new Map(), files: [] };
      at.folders.set(name, inner);
      at = inner;
    }
    at.files.push(names.at(-1)!);
  }
  const linesOf = ({ folders, files }: Folder, path: string): string[] => [
    ...[...folders]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .flatMap(([name, inner]) => [`${name}/`, ...linesOf(inner, `${path}${name}/`).map((line) => `  ${line}`)]),
    ...files.sort().map((name) => show(name, path + name)),
  ];
  return linesOf(root, '');
}

/** Two lists of lines under their titles: side by side where they fit, else one below the other. */
export function sideBySide(before: readonly string[], after: readonly string[], width: number): string {
  const left = Math.max(...[...before, 'before'].map((line) => widthOf(line))) + 4;
  const right = Math.max(...[...after, 'after'].map((line) => widthOf(line)));
  if (left + right > width) return [dim('before'), ...before, '', dim('after'), ...after].join('\n');
  const pad = (text: string) => text + ' '.repeat(left - widthOf(text));
  const rows = Array.from({ length: Math.max(before.length, after.length) }, (_, i) =>
    (pad(before[i] ?? '') + (after[i] ?? '')).trimEnd(),
  );
  return [dim(`${pad('before')}after`), ...rows].join('\n');
}
