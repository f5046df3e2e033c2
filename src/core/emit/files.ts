/** What a target gives back, looked at before anything is written. */
import { Problem } from '../errors.js';
import type { EmitSite, EmittedFile } from './model.js';

/**
 * The files, each at a path of its own inside the output folder.
 * @param site that they are made of
 * @throws Problem naming the paths that lead out of it, that stand twice or in each other's way, or that are joined and are
 * no texts
 */
export function checkedFiles(
  files: EmittedFile[],
  target: string,
  site: Pick<EmitSite, 'files' | 'pages'>,
): EmittedFile[] {
  const fail = (message: string, details: string[], hint: string): never => {
    throw new Problem(`the target ${target} ${message}; nothing was written`, { details, hint });
  };
  const outside = files.filter(({ path }) => !isInside(path)).map(({ path }) => JSON.stringify(path));
  if (outside.length > 0)
    fail(
      'gives files that are not in the output folder',
      outside,
      'a path is relative to that folder, with / and without ..',
    );
  const seen = new Map<string, string>();
  // some file systems make no difference between capitals and small letters
  const isCaseTold = differInCase(site);
  for (const { path } of files) {
    const name = (isCaseTold ? path : path.toLowerCase()).normalize();
    const twin = seen.get(name);
    if (twin !== undefined) fail('gives two files one name', [twin, path], 'give each file a path of its own');
    seen.set(name, path);
  }
  for (const [name, path] of seen)
    for (let at = name.lastIndexOf('/'); at > 0; at = name.lastIndexOf('/', at - 1)) {
      const folder = seen.get(name.slice(0, at));
      if (folder !== undefined) fail('gives a file where a folder must be', [folder, path], 'rename one of the two');
    }
  const texts = new Set(files.flatMap((file) => ('text' in file ? [file.path] : [])));
  const missing = files.flatMap((file) => ('join' in file ? file.from.filter((path) => !texts.has(path)) : []));
  if (missing.length > 0) fail('joins what it gives no text of', missing, 'name paths of files with a text');
  return files;
}

/**
 * The texts of files, by path: as they come, formatted where they ask for that, or joined.
 * @param formatted formats the text of a path
 */
export async function textsOf(
  files: readonly EmittedFile[],
  formatted: (path: string, text: string) => Promise<string>,
): Promise<Map<string, string>> {
  const texts = new Map<string, string>();
  // one after the other, for where the configuration of a formatter stands is looked for once a folder
  for (const file of files)
    if ('text' in file) texts.set(file.path, file.format === true ? await formatted(file.path, file.text) : file.text);
  for (const file of files)
    if ('join' in file) texts.set(file.path, file.join(file.from.map((path) => texts.get(path)!)));
  return texts;
}

/** True where files of the site differ in capitals alone: what it is on tells them apart. */
function differInCase({ files, pages }: Pick<EmitSite, 'files' | 'pages'>): boolean {
  const paths = [...new Set([...files, ...pages.map(({ path }) => path)])];
  return new Set(paths.map((path) => path.toLowerCase())).size < paths.length;
}

function isInside(path: string): boolean {
  if (path === '' || path.includes('\\') || /^(\/|[a-z]:)/i.test(path) || path.includes('\0')) return false;
  return path.split('/').every((part) => part !== '' && part !== '.' && part !== '..');
}
