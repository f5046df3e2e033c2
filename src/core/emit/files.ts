/** What a target gives back, looked at before anything is written. */
import { Problem } from '../errors.js';
import type { EmittedFile } from './model.js';

/**
 * The files, each at a path of its own inside the output folder.
 * @throws Problem naming the paths that lead out of it, or that stand twice or in each other's way
 */
export function checkedFiles(files: EmittedFile[], target: string): EmittedFile[] {
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
  for (const { path } of files) {
    // some file systems make no difference between capitals and small letters
    const name = path.toLowerCase().normalize();
    const twin = seen.get(name);
    if (twin !== undefined) fail('gives two files one name', [twin, path], 'give each file a path of its own');
    seen.set(name, path);
  }
  for (const [name, path] of seen)
    for (let at = name.lastIndexOf('/'); at > 0; at = name.lastIndexOf('/', at - 1)) {
      const folder = seen.get(name.slice(0, at));
      if (folder !== undefined) fail('gives a file where a folder must be', [folder, path], 'rename one of the two');
    }
  return files;
}

function isInside(path: string): boolean {
  if (path === '' || path.includes('\\') || /^(\/|[a-z]:)/i.test(path) || path.includes('\0')) return false;
  return path.split('/').every((part) => part !== '' && part !== '.' && part !== '..');
}
