/** What a folder holds, and the configuration that fits it to start with. */
import { folderOf } from '../core/page/url.js';
import { DEFAULT_CONFIG, PAGES } from './defaults.js';
import { byPath } from './files.js';
import { findFiles, ignoredBelow } from './find.js';
import { ignoredAmong } from './git.js';

/** Names that tools commonly give to folders of what they build or fetch. */
const BUILT = new Set(
  'dist build out output public-html _site site-build coverage tmp temp vendor bower_components target release'.split(
    ' ',
  ),
);

export interface Start {
  /** globs of pages, by the ends of names that there are */
  pages: string[];
  /** folders that are left out, with the reason */
  ignore: { folder: string; why: string }[];
  /** how many pages and stylesheets there are without those */
  pageCount: number;
  sheetCount: number;
}

/** Looks at the folder: its pages, its stylesheets, and folders that other tools wrote. */
export async function lookAt(root: string): Promise<Start> {
  const ignore = await ignoredBelow(root);
  const { paths } = await findFiles(root, PAGES, { ignore, caseSensitiveMatch: false });
  const folders = foldersOf(paths);
  const gitIgnored = new Set(await ignoredAmong(root, folders));
  const left = folders.flatMap((folder) => {
    const name = folder.slice(folder.lastIndexOf('/') + 1);
    if (gitIgnored.has(folder)) return [{ folder, why: 'git ignores it' }];
    return BUILT.has(name) ? [{ folder, why: 'tools write such folders' }] : [];
  });
  const outer = left.filter(({ folder }) => !left.some((each) => folder.startsWith(`${each.folder}/`)));
  const isIn = (path: string) => outer.some(({ folder }) => path.startsWith(`${folder}/`));
  // a site may have nothing but such a folder
  const outermost = paths.every(isIn) ? [] : outer;
  const isLeft = (path: string) => outermost.length > 0 && isIn(path);
  const kept = paths.filter((path) => !isLeft(path));
  const sheets = (await findFiles(root, ['**/*.css'], { ignore })).paths.filter((path) => !isLeft(path));
  const ends = [...new Set(kept.map((path) => path.slice(path.lastIndexOf('.'))))].sort(byPath);
  return {
    pages: ends.length === 0 ? PAGES : ends.map((end) => `**/*${end}`),
    ignore: outermost,
    pageCount: kept.length,
    sheetCount: sheets.length,
  };
}

/** All folders that hold pages, and those around them, outer ones first. */
function foldersOf(paths: string[]): string[] {
  const folders = new Set<string>();
  for (const path of paths) for (let at = folderOf(path); at !== ''; at = folderOf(at)) folders.add(at);
  return [...folders].sort(byPath);
}

/** The configuration as it is written: what fits the folder, and what else can be said, in comments. */
export function configText({ pages, ignore, pageCount, sheetCount }: Start): string {
  const { components, data, inlineList, survey } = DEFAULT_CONFIG;
  const globs = ignore.map(({ folder, why }) => `    ${JSON.stringify(`${folder}/**`)}, // ${why}`);
  const left = globs.length === 0 ? '[]' : `[\n${globs.join('\n')}\n  ]`;
  return `{
  // Globs are relative to this file; pages found when it was written: ${pageCount}, stylesheets: ${sheetCount}.
  "pages": ${JSON.stringify(pages).replaceAll(',', ', ')},
  // never surveyed, and never part of the built site
  "ignore": ${left},

  // where component files go, and lists that are too long for a page
  "components": ${JSON.stringify(components)},
  "data": ${JSON.stringify(data)},
  // "inlineList": ${inlineList}, // most characters of a list in a page

  // what the survey asks of a finding; these are the values that hold anyway
  // "survey": { "minOccurrences": ${survey.minOccurrences}, "minElements": ${survey.minElements}, "minWorth": ${survey.minWorth}, "maxProps": ${survey.maxProps} },

  // what a class word is there for, where the survey is wrong about it: estrade survey --words
  // "words": { "grid": "layout" },

  // folders of component files: "flat", "own", "area" or "patterns" (estrade arrange)
  // "arrange": { "layout": "area" },
}
`;
}
