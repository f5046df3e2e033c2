/** The scripts of a project, which may speak of components. */
import { readSource } from '../workspace/files.js';
import { findFiles } from '../workspace/find.js';
import type { Project } from '../workspace/project.js';

/** Texts of the scripts of a project, by path. */
export async function scriptsOf({ root, unseen }: Project): Promise<Map<string, string>> {
  const { paths } = await findFiles(root, ['**/*.{js,mjs}'], { ignore: unseen });
  return new Map(
    paths.flatMap((path) => {
      const file = readSource(root, path, 'UTF-8');
      return 'why' in file ? [] : [[path, file.text] as const];
    }),
  );
}
