/**
 * Modules written the way a team writes its own: its file says where the imports, the interface, the parameters and the
 * markup go, and its name stands for that of the component. All else in it stands in every module.
 */
import { withName } from '../../component/file-names.js';
import { nearestName } from '../../component/problems.js';
import { Problem } from '../../errors.js';
import { placeAt } from '../../page/parse.js';
import { folderOf, resolve } from '../../page/url.js';
import { importPath } from './names.js';
import type { Starter } from './options.js';

/** What a module is made of. */
export interface ModuleParts {
  /** tells the compiler which runtime is meant; '' where nothing does */
  pragma: string;
  imports: string;
  /** what is declared: constants, and the types of the props */
  interface: string;
  /** the comment of the function */
  about: string;
  name: string;
  /** the parameters of the function, without parentheses */
  props: string;
  /** an element or a fragment, or nothing with a comment */
  markup: string;
}

const NEEDED = ['imports', 'interface', 'props', 'markup'] as const;
const MARKERS = [...NEEDED, 'about'] as const;
type Marker = (typeof MARKERS)[number];

/** A marker, with the braces that make it a child of an element. */
const MARKER = /(\{\s*)?\/\*\s*estrade:\s*([\w-]*)\s*\*\/(?:\s*(\}))?/g;

/** What a relative import names. */
const IMPORTED = /(\bfrom\s*|\bimport\s*\(?\s*)(['"])(\.{1,2}\/[^'"\n]*)\2/g;

/** A module without a starter. */
export function plainModule({ pragma, imports, interface: types, about, name, props, markup }: ModuleParts): string {
  const code = `${about}export function ${name}(${props}) {\nreturn (${markup});\n}`;
  return `${[pragma, imports, types, code].filter((part) => part !== '').join('\n\n')}\n`;
}

/** Text of the starter, or a marker that stands between. */
type Piece =
  | string
  | {
      marker: Marker;
      braces: [before: string, after: string];
      /** the end of a line that has nothing but the marker, which goes with it where there is nothing to put there */
      lineEnd: string;
    };

/**
 * Reads a starter.
 * @param toRoot leads from the output folder to the project's root, '' or ending in a slash
 * @returns what writes a module that stands in a folder of the output
 * @throws Problem with the place of a marker that is wrong, or of the file that lacks one
 */
export function moduleStarter(starter: Starter, toRoot: string): (folder: string, parts: ModuleParts) => string {
  const { path, source } = starter;
  const own = path.replace(/^.*\//, '').replace(/\.\w+$/, '');
  const pieces = piecesOf(starter);
  const moved = (text: string, folder: string) =>
    text.replace(IMPORTED, (whole, lead: string, quote: string, url: string) => {
      const target = resolve(url, folderOf(path));
      if (target === null) return whole;
      const up = folder.split('/').map(() => '..');
      const file = toRoot === '' ? importPath(folder, target) : `${up.join('/')}/${toRoot}${target}`;
      return `${lead}${quote}${file}${quote}`;
    });
  const hasAbout = pieces.some((piece) => typeof piece !== 'string' && piece.marker === 'about');
  const textAt = (piece: Exclude<Piece, string>, parts: ModuleParts): string => {
    const { marker, braces, lineEnd } = piece;
    const [before, after] = braces;
    const isChild = before !== '' && after !== '';
    const child = parts.markup.startsWith('<') ? parts.markup : `{${parts.markup}}`;
    if (marker === 'markup') return (isChild ? child : `${before}(${parts.markup})${after}`) + lineEnd;
    // a comment stands right above what it is of
    const about = parts.about.trimEnd();
    const text = marker === 'about' ? about : parts[marker];
    const own = marker === 'interface' && !hasAbout ? [text, about].filter((part) => part !== '').join('\n\n') : text;
    const all = before + own + after;
    return all === '' ? '' : all + lineEnd;
  };
  return (folder, parts) => {
    const written = pieces.map((piece) =>
      typeof piece === 'string' ? moved(withName(piece, own, parts.name), folder) : textAt(piece, parts),
    );
    const pragma = source.includes('@jsxImportSource') || parts.pragma === '' ? '' : `${parts.pragma}\n\n`;
    return pragma + written.join('');
  };
}

function piecesOf(starter: Starter): Piece[] {
  const { source, path } = starter;
  const pieces: Piece[] = [];
  const seen = new Set<string>();
  let at = 0;
  for (const { 0: whole, 1: before = '', 2: name = '', 3: after = '', index } of source.matchAll(MARKER)) {
    const marker = MARKERS.find((each) => each === name);
    const place = placeAt(starter, index);
    if (marker === undefined)
      throw new Problem(`"estrade: ${name}" is no marker of a starter`, {
        place,
        hint: `${nearestName(name, MARKERS) === null ? '' : `did you mean ${nearestName(name, MARKERS)!}? `}there are ${MARKERS.join(', ')}`,
      });
    if (seen.has(marker))
      throw new Problem(`the marker "estrade: ${marker}" stands twice`, { place, hint: 'take one of them out' });
    seen.add(marker);
    const text = source.slice(at, index);
    at = index + whole.length;
    const isFirst = /(?:^|\n)[ \t]*$/.test(text);
    const lineEnd = isFirst ? (/^[ \t]*\r?\n/.exec(source.slice(at))?.[0] ?? '') : '';
    pieces.push(text, { marker, braces: [before, after], lineEnd });
    at += lineEnd.length;
  }
  const missing = NEEDED.find((name) => !seen.has(name));
  if (missing !== undefined)
    throw new Problem(
      `the starter does not say where the ${missing} go${missing === 'imports' || missing === 'props' ? '' : 'es'}`,
      {
        place: { path, line: 1, column: 1 },
        hint: `write /* estrade: ${missing} */ there; docs/starters.md has an example`,
      },
    );
  return [...pieces, source.slice(at)];
}
