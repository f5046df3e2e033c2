/**
 * Which folder each component file goes to: all into one, each into its own, by where components are used, or by patterns.
 * The data files of a component go to the folder of the same name among the data.
 */
import { fileNameOf, type FileNaming, inFileCase } from '../component/file-names.js';
import { Problem } from '../errors.js';
import type { Page } from '../page/parse.js';
import { folderOf } from '../page/url.js';
import { type Change, changeOf, type Edits } from './change.js';
import { dataOfComponents, noteMoves } from './move.js';
import { type RosterEntry, rosterOf } from './roster.js';
import type { Site } from './uses.js';

export const LAYOUTS = ['flat', 'own', 'area', 'patterns'] as const;
export type Layout = (typeof LAYOUTS)[number];

export interface Arrangement extends FileNaming {
  layout: Layout;
  /** folders by patterns of component names, in which `*` stands for any letters; the first that fits counts */
  patterns: Readonly<Record<string, string>>;
}

/** Where components and data stand, relative to the root. */
interface Folders {
  components: string;
  data: string;
}

/** The folder for what most pages share. */
const SHELL = 'shell';
/** The folder for what stands on the page at the top only. */
const HOME = 'home';

/**
 * Moves component files, with their data.
 * @param partsOf names of the components that take part in a page
 * @throws Problem (exit 1) where two files would have one name, or a URL cannot follow
 */
export function arrange(
  site: Site,
  arrangement: Arrangement,
  folders: Folders,
  partsOf: (page: Page) => ReadonlySet<string>,
): Change {
  const { registry } = site;
  const folderFor = foldersFor(site, arrangement, partsOf);
  const moved = new Map<string, string>();
  for (const { name, path } of registry.values())
    moved.set(path, joined(folders.components, folderFor.get(name)!, fileNameOf(name, arrangement)));
  for (const [path, owner] of dataOfComponents(site))
    moved.set(path, joined(folders.data, folderFor.get(owner)!, path.replace(/^.*\//, '')));
  refuseTwins(moved);
  for (const [path, to] of moved) if (path === to) moved.delete(path);
  const edits: Edits = new Map();
  noteMoves(edits, site, moved);
  return changeOf(edits, moved);
}

function joined(...parts: string[]): string {
  return parts.filter((part) => part !== '').join('/');
}

/** @throws Problem (exit 1) where two files would have one name, whatever the file system makes of capitals */
function refuseTwins(moved: ReadonlyMap<string, string>): void {
  const taken = new Map<string, string>();
  for (const [path, to] of moved) {
    const twin = taken.get(to.toLowerCase());
    if (twin !== undefined)
      throw new Problem(`${twin} and ${path} would both be ${to}`, {
        exit: 1,
        hint: 'choose another file case or layout, or rename one of them; nothing was written',
      });
    taken.set(to.toLowerCase(), path);
  }
}

/** The folder of each component by its name, '' for the one that holds all. */
function foldersFor(
  site: Site,
  { layout, fileCase, patterns }: Arrangement,
  partsOf: (page: Page) => ReadonlySet<string>,
): Map<string, string> {
  const names = [...site.registry.keys()];
  switch (layout) {
    case 'flat':
      return new Map(names.map((name) => [name, '']));
    case 'own':
      return new Map(names.map((name) => [name, inFileCase(name, fileCase)]));
    case 'patterns':
      return new Map(names.map((name) => [name, folderByPattern(name, patterns)]));
    case 'area':
      return areas(rosterOf(site, partsOf), site.pages.length, fileCase);
  }
}

function folderByPattern(name: string, patterns: Arrangement['patterns']): string {
  const fits = ([pattern]: [string, string]) =>
    new RegExp(
      `^${pattern
        .split('*')
        .map((part) => part.replace(/[^\w-]/g, '\\$&'))
        .join('.*')}$`,
    ).test(name);
  return Object.entries(patterns).find(fits)?.[1] ?? '';
}

/** What only one component uses goes below it; what most pages share, into a shell; all else to where its pages are. */
function areas(roster: RosterEntry[], pageCount: number, fileCase: FileNaming['fileCase']): Map<string, string> {
  const entries = new Map(roster.map((entry) => [entry.component.name, entry]));
  const folders = new Map<string, string>();
  const folderFor = (name: string): string => {
    const known = folders.get(name);
    if (known !== undefined) return known;
    const { uses, usedIn, pages } = entries.get(name)!;
    const [owner] = usedIn;
    const folder =
      uses.inPages === 0 && owner !== undefined && usedIn.length === 1
        ? joined(folderFor(owner), inFileCase(owner, fileCase))
        : pages.length > 1 && pages.length * 2 > pageCount
          ? SHELL
          : commonArea(pages.map(areaOf));
    folders.set(name, folder);
    return folder;
  };
  for (const name of entries.keys()) folderFor(name);
  return folders;
}

/** The folder of a page, as a list of names; a page at the top is an area of its own, since others may stand in a folder called like it. */
function areaOf(page: string): string[] {
  const folder = folderOf(page);
  if (folder !== '') return folder.split('/').map(asFolderName);
  const base = page.replace(/\.[^.]*$/, '');
  return [base === 'index' ? HOME : asFolderName(base)];
}

/** A name that means the same in a path and in a URL. */
function asFolderName(name: string): string {
  return (
    name
      .toLowerCase()
      .replace(/[^\p{L}\p{N}]+/gu, '-')
      .replace(/^-|-$/g, '') || 'pages'
  );
}

/** What all areas have in common. */
function commonArea(areas: string[][]): string {
  const [first = [], ...others] = areas;
  const differs = first.findIndex((name, i) => others.some((other) => other[i] !== name));
  return first.slice(0, differs < 0 ? first.length : differs).join('/');
}
