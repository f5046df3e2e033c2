/** Where the modules of elements go, and what pages load of them. */
import { folderOf, relativise } from '../../page/url.js';
import type { EmitPage, EmitSite } from '../model.js';

/** A name at the top that no file of the site has. */
export function freeName(name: string, { files, pages }: EmitSite): string {
  const isTaken = (each: string) =>
    [...files, ...pages.map(({ path }) => path)].some((path) => path === each || path.startsWith(`${each}/`));
  const [, stem, extension = ''] = /^([^.]+)(\..+)?$/.exec(name)!;
  let found = name;
  for (let n = 2; isTaken(found); n++) found = `${stem!}-${n}${extension}`;
  return found;
}

/** The folder of the modules, of which a site has no other. */
export function elementsFolder(site: EmitSite): string {
  return freeName('elements', site);
}

/** URLs of the stylesheet and the script of all elements, as a page names them. */
export interface Loaded {
  stylesheet: string;
  script: string;
}

/** @param modules the folder of the modules */
export function loadedBy({ path, folder }: EmitPage, modules: string): Loaded {
  const toFile = (name: string) => relativise(`${modules}/${name}`, folder ?? folderOf(path));
  return { stylesheet: toFile('all.css'), script: toFile('all.js') };
}
