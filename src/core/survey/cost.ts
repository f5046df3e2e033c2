/** What a component costs and saves: the length of all that is written, before and after (description length). */
import { eolOf, indentAt } from '../page/parse.js';
import type { General } from '../infer/generalise.js';
import { componentFile, needsTemplateForm } from '../infer/template.js';
import { useText, valuesAt } from '../lift/use.js';

export interface Written {
  file: string;
  uses: string[];
  saved: { lines: number; bytes: number };
}

/** Writes component and uses and counts: fragments as they are, less uses, less the component file. */
export function writeAll(name: string, general: General): Written {
  return count(name, general, componentFile(name, general));
}

/** What the group saves under a name of usual length: for ranking, before names are given and layouts compared. */
export function savedBy(general: General): Written['saved'] {
  return count(USUAL_NAME, general, componentFile(USUAL_NAME, general, 0)).saved;
}

const USUAL_NAME = 'component-name';
/** Length of the tags around a part that comes and goes. */
const BLOCK = '<template when=""></template>'.length + 8;
/** Length of a prop's name as it usually is. */
const USUAL_PROP = 6;

function count(name: string, general: General, file: string): Written {
  const uses = usesOf(name, general);
  const saved = { lines: -countLines(file), bytes: -byteLength(file) };
  general.occurrences.forEach(({ page, element, end }, i) => {
    const fragment = page.source.slice(element.start, end);
    saved.lines += breaks(fragment) - breaks(uses[i]!);
    saved.bytes += byteLength(fragment) - byteLength(uses[i]!);
  });
  return { file, uses, saved };
}

/** The uses of a generalised group, one an occurrence. */
function usesOf(name: string, general: General): string[] {
  return general.occurrences.map(({ page, element }, i) =>
    useText(name, general.props, valuesAt(general.props, i), needsTemplateForm(element) ? 'template' : 'tag', {
      indent: indentAt(page.source, element.start),
      eol: eolOf(page.source),
    }),
  );
}

/** Bytes that the group saves, estimated from lengths alone: cheap enough to ask for every group. */
export function estimate({ occurrences, props, blocks }: General, nameLength = 14): number {
  // the longest occurrence, whichever comes first, stands for the template
  const lengths = occurrences.map(({ element, end }) => end - element.start);
  const longest = lengths.indexOf(Math.max(...lengths));
  let saved = -lengths[longest]! - 2 * nameLength;
  saved -= props.length * (30 + USUAL_PROP);
  for (const { patterns, presence } of blocks) {
    saved -= BLOCK;
    if (presence[longest] === true) continue;
    // what that one lacks is written all the same
    for (const { nodes } of patterns)
      saved -= Math.max(...nodes.map((node) => (node === null ? 0 : node.end - node.start)));
  }
  occurrences.forEach((_, i) => {
    saved += lengths[i]! - 5 - 2 * nameLength;
    for (const { values, default: usual } of props) {
      const value = values[i] ?? false;
      if (typeof value === 'boolean') saved -= value ? USUAL_PROP + 1 : 0;
      else if (value.value !== usual?.value) saved -= USUAL_PROP + 4 + value.raw.length;
    }
  });
  return saved;
}

/** Length in UTF-8, counted without encoding it. */
export function byteLength(text: string): number {
  let length = text.length;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (code > 0x7f) length += code > 0x7ff && (code < 0xd800 || code > 0xdfff) ? 2 : 1;
  }
  return length;
}

function breaks(text: string): number {
  let count = 0;
  for (let i = text.indexOf('\n'); i >= 0; i = text.indexOf('\n', i + 1)) count++;
  return count;
}

function countLines(file: string): number {
  return breaks(file) + (file.endsWith('\n') ? 0 : 1);
}
