/** Proof by pictures, for the commands that prove: what the browser draws, and what of it differs. */
import { expandPage } from '../core/component/expand.js';
import type { Registry } from '../core/component/model.js';
import { OFFSET_ATTRIBUTE, originAt, withOffsets } from '../core/component/trace.js';
import { Problem } from '../core/errors.js';
import { type Page, parsePage, placeAt } from '../core/page/parse.js';
import { filledReader } from '../core/style/plan.js';
import { progress } from '../terminal/progress.js';
import type { LaunchBrowser } from '../verify/browser.js';
import { comparePictures, type DrawnElement } from '../verify/pictures.js';
import { versionOf } from '../verify/site-version.js';
import { clearFolder, removeEmptyFolder, writeRegular } from '../workspace/disk.js';
import { decode, encode } from '../workspace/encoding.js';
import type { SourceFile } from '../workspace/files.js';
import { JOURNAL, TEMPORARY } from '../workspace/journal.js';
import type { Originals } from '../workspace/originals.js';
import type { Project } from '../workspace/project.js';
import { loadStylesheets, type Stylesheets } from '../workspace/stylesheets.js';
import type { PlannedFile } from '../workspace/transaction.js';
import {
  type DrawnPlace,
  type Pictured,
  type PictureFiles,
  pictureLines,
  type PictureOptions,
  PICTURES,
} from './drawn.js';
import { type ProvenPage, registryAfter } from './proving.js';

/** A page before and after, and where its places stand. */
interface DrawnPage {
  /** as it stands on disk afterwards, or will */
  page: Page;
  before: Buffer;
  /** how its bytes are read */
  file: SourceFile;
}

interface Drawing {
  project: Project;
  pages: DrawnPage[];
  /** all components as they are afterwards */
  registry: Registry;
  /** bytes of stylesheets that differ from the folder, in each version, by path */
  sheets: { before: ReadonlyMap<string, Buffer>; after: ReadonlyMap<string, Buffer> };
  /** paths of what the user changed since the last write */
  changed: ReadonlySet<string>;
}

/** The pages that a lift writes, before and after. @throws Problem (exit 1) when one would be drawn otherwise */
export async function picturesOfLift(
  launch: LaunchBrowser,
  { project, planned, pages }: { project: Project; planned: PlannedFile[]; pages: ProvenPage[] },
  options: PictureOptions,
): Promise<Pictured> {
  const files = new Map([...project.componentFiles, ...pages].map(({ path, file }) => [path, file]));
  const sheets = await loadStylesheets(project);
  for (const [path, file] of sheets.files) files.set(path, file);
  const written = new Map(planned.map(({ path, after }) => [path, after!]));
  const textOf = (path: string) => {
    const bytes = written.get(path);
    return bytes === undefined ? files.get(path)!.text : decode(bytes, files.get(path)?.encoding).text;
  };
  const registry = registryAfter(project, planned, textOf);
  const sources = new Map([...sheets.sources.keys()].map((path) => [path, textOf(path)]));
  const drawn = pages.map(({ path, origin, file }) => ({
    page: parsePage(path, textOf(path)),
    before: encode(origin, file),
    file,
  }));
  const drawing = {
    project,
    pages: drawn,
    registry,
    sheets: {
      before: filledSheets(sheets, project.registry),
      after: filledSheets({ sources, files: sheets.files }, registry),
    },
    changed: new Set<string>(),
  };
  const pictured = await comparedPictures(launch, drawing, options);
  if (pictured.isSame) return pictured;
  throw new Problem('pages would not be drawn as they are', {
    exit: 1,
    details: pictureLines(pictured),
    hint: 'nothing was written but the pictures',
  });
}

interface CheckedFiles extends Pick<Drawing, 'project' | 'changed'> {
  pages: Page[];
  files: ReadonlyMap<string, SourceFile>;
  originals: Originals;
  sheets: Stylesheets;
}

/** The pages of which it is known what they were, then and now. */
export function picturesOfCheck(
  launch: LaunchBrowser,
  { project, pages, files, originals, sheets, changed }: CheckedFiles,
  options: PictureOptions,
): Promise<Pictured> {
  const after = filledSheets(sheets, project.registry);
  /** bytes of a file as it was; null where that is not known */
  const originalOf = (file: SourceFile) => {
    const original = originals.of(file.path);
    if (original === null || 'lost' in original) return null;
    const { text, encoding = file.encoding, bom = file.bom } = original;
    return encode(text, { ...file, encoding, bom });
  };
  const before = new Map([...after].map(([path, bytes]) => [path, originalOf(sheets.files.get(path)!) ?? bytes]));
  const drawn = pages.flatMap((page) => {
    const file = files.get(page.path)!;
    const original = originalOf(file);
    return original === null ? [] : [{ page, file, before: original }];
  });
  const drawing = { project, pages: drawn, registry: project.registry, sheets: { before, after }, changed };
  return comparedPictures(launch, drawing, options);
}

/** Draws and compares pages, and writes three pictures of each that differs. */
async function comparedPictures(
  launch: LaunchBrowser,
  { project, pages, registry, sheets, changed }: Drawing,
  { pictures, computed }: PictureOptions,
): Promise<Pictured> {
  const { root, config } = project;
  const drawn = new Map(pages.map((each) => [each.page.path, { ...each, expanded: expandPage(each.page, registry) }]));
  const after = [...drawn].map(([path, { expanded, file }]) => [path, encode(expanded.text, file)] as const);
  const marked = (path: string) => {
    const { expanded, file } = drawn.get(path)!;
    return encode(withOffsets(parsePage(path, expanded.text), OFFSET_ATTRIBUTE), file);
  };
  const { widths } = config.pictures;
  const drawing = progress('drawing', 'pictures');
  const found = await comparePictures(launch, {
    pages: [...drawn.keys()],
    before: versionOf(
      root,
      new Map([...sheets.before, ...pages.map(({ page, before }) => [page.path, before] as const)]),
    ),
    after: versionOf(root, new Map([...sheets.after, ...after])),
    withOffsets: marked,
    widths,
    pictures: pictures === true,
    computed: computed === true,
    tick: drawing.tick,
  });
  drawing.end();
  const placeOf = (path: string, { element, offset }: DrawnElement): DrawnPlace => {
    const { page, expanded } = drawn.get(path)!;
    if (offset === null) return { element, component: null, ...placeAt(page, 0) };
    const { place, component } = originAt(page, expanded, offset);
    return { element, component, ...place };
  };
  /** what the user changed that may show on a page */
  const editedOn = (path: string) => {
    const { components } = drawn.get(path)!.expanded;
    const own = new Set([path, ...[...components].map((name) => registry.get(name)!.path)]);
    const styled = new Set([...registry.values()].flatMap((each) => (each.style === null ? [] : [each.path])));
    return [...changed].filter((each) => own.has(each) || styled.has(each) || each.endsWith('.css'));
  };
  clearFolder(root, PICTURES, (name) => name.endsWith('.png'));
  const different = found.different.map((each) => ({
    path: each.path,
    width: each.width,
    pixels: each.pixels,
    places: each.elements.map((element) => placeOf(each.path, element)),
    files: writePictures(root, each),
    edited: editedOn(each.path),
  }));
  if (different.length === 0) removeEmptyFolder(root, JOURNAL);
  const restyled = found.restyled.map(({ path, element, offset, ...rest }) => ({
    ...rest,
    ...placeOf(path, { element, offset }),
    edited: editedOn(path),
  }));
  const { pictures: drawnCount, styled, unloaded } = found;
  const isSame = unloaded.length === 0 && [...different, ...restyled].every(({ edited }) => edited.length > 0);
  const compared = pages.length - unloaded.length;
  return { widths, pages: compared, pictures: drawnCount, styled, different, restyled, unloaded, isSame };
}

/** Writes the three pictures of a page that differs. */
function writePictures(
  root: string,
  picture: { path: string; width: number } & Record<keyof PictureFiles, Buffer>,
): PictureFiles {
  // one name a path
  const name = picture.path.replaceAll('_', '__').replaceAll('/', '_');
  const write = (what: keyof PictureFiles) => {
    const path = `${PICTURES}/${name}-${picture.width}-${what}.png`;
    writeRegular(root, path, picture[what], TEMPORARY);
    return path;
  };
  return { before: write('before'), after: write('after'), difference: write('difference') };
}

/** Bytes of the stylesheets in which styles of components are filled in, by path. */
export function filledSheets(
  { sources, files }: Pick<Stylesheets, 'sources' | 'files'>,
  registry: Registry,
): Map<string, Buffer> {
  const { filled } = filledReader(sources, registry);
  return new Map([...filled].map(([path, { text }]) => [path, encode(text, files.get(path)!)]));
}
