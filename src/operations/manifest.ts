/** Describing the components for editors. */
import { existsSync, readFileSync } from 'node:fs';
import { basename, dirname, join, relative, resolve } from 'node:path';
import { Problem } from '../core/errors.js';
import { sourceManifest } from '../core/library/manifest.js';
import { writeRegular } from '../workspace/disk.js';
import { toPosix } from '../workspace/files.js';
import { openProject } from '../workspace/project.js';
import { tellNotices } from './notices.js';

export interface ManifestOptions {
  out?: string;
  force?: boolean;
  json?: boolean;
}

/** Name of the manifest that editors look for. */
export const FILE = 'custom-elements.json';

/** Writes the manifest. @throws Problem (exit 1) where a file is in the way that describes something else */
export async function writeManifest(cwd: string, { out, force }: ManifestOptions) {
  const project = await openProject(cwd);
  tellNotices(project);
  const { root, registry } = project;
  if (out === '-') return { path: out, text: sourceManifest(registry, ''), components: registry.size, written: false };
  const path = out ?? FILE;
  const file = out === undefined ? join(root, FILE) : resolve(cwd, out);
  const way = toPosix(relative(dirname(file), root));
  const text = sourceManifest(registry, way === '' ? '' : `${way}/`);
  const there = existsSync(file) ? readFileSync(file, 'utf8') : null;
  if (there !== null && force !== true && !isOwnManifest(there))
    throw new Problem(`${path} is there already, and describes more than the components here`, {
      exit: 1,
      hint: 'write another file with --out, print it with --out -, or overwrite it with --force',
    });
  if (there !== text) writeRegular(dirname(file), basename(file), Buffer.from(text), '');
  return { path, text, components: registry.size, written: there !== text };
}

/** True for a manifest of component files, such as this command writes. */
function isOwnManifest(text: string): boolean {
  try {
    const { modules } = JSON.parse(text) as { modules?: { path?: unknown }[] };
    return Array.isArray(modules) && modules.every(({ path }) => typeof path === 'string' && path.endsWith('.html'));
  } catch {
    return false;
  }
}
