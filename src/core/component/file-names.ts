/** How the file of a component spells its name: `boat-card.html`, `BoatCard.html`, `boatCard.part.html`. */
import { camelCase, kebabCase, pascalCase } from 'change-case';

export const FILE_CASES = ['kebab', 'pascal', 'camel'] as const;
export type FileCase = (typeof FILE_CASES)[number];

/** How file names are made of component names. */
export interface FileNaming {
  fileCase: FileCase;
  /** follows the name, before the extension */
  suffix: string;
}

/** A component's name, or several words, in one of the cases. */
export function inFileCase(name: string, fileCase: FileCase): string {
  if (fileCase === 'kebab') return /^[a-z][a-z0-9._-]*$/.test(name) ? name : kebabCase(name);
  return (fileCase === 'pascal' ? pascalCase : camelCase)(name);
}

/** The name of a component's file, with its extension. */
export function fileNameOf(name: string, { fileCase, suffix }: FileNaming): string {
  return `${inFileCase(name, fileCase)}${suffix}.html`;
}

/** The letters and digits of a name, which are the same in every case. */
function lettersOf(text: string): string {
  return text.toLowerCase().replace(/[^a-z0-9]/g, '');
}

/** True where a file may hold a component of that name: its own name begins with it, in whatever case. */
export function isNamedAfter(path: string, name: string): boolean {
  return lettersOf(baseOf(path)).startsWith(lettersOf(name));
}

/** How the file of a component spells its name; what follows the name is the suffix. */
export function namingOf(path: string, name: string): FileNaming {
  const base = baseOf(path);
  const fileCase = FILE_CASES.find((each) => base.startsWith(inFileCase(name, each))) ?? 'kebab';
  const spelled = inFileCase(name, fileCase);
  return { fileCase, suffix: base.startsWith(spelled) ? base.slice(spelled.length) : '' };
}

/** A file's name without its folder and `.html`. */
export function baseOf(path: string): string {
  return path.replace(/^.*\//, '').replace(/\.html$/, '');
}

/** A text that speaks of one name speaking of another, in each case and as plain words: `team-part`, `TeamPart`, `Team part`. */
export function withName(text: string, from: string, to: string): string {
  const spellings = (name: string) => [...FILE_CASES.map((each) => inFileCase(name, each)), wordsOf(name)];
  const [old, fresh] = [spellings(from), spellings(to)];
  const pattern = old.map((each) => each.replace(/[^\w ]/g, '\\$&')).join('|');
  return text.replace(
    new RegExp(`(?<![A-Za-z0-9])(?:${pattern})(?![a-z0-9])`, 'g'),
    (found) => fresh[old.indexOf(found)]!,
  );
}

/** A name as it is written in a sentence that it begins. */
function wordsOf(name: string): string {
  const words = kebabCase(name).replaceAll('-', ' ');
  return words.charAt(0).toUpperCase() + words.slice(1);
}
