/** What declarations change, in a word: what a value is called that only decides on these. */
import { asName } from './names.js';

/** What some properties are called where the property itself says it in other words than people do. */
const CALLED: ReadonlyMap<string, string> = new Map(
  Object.entries({
    'background-color': 'background',
    'background-image': 'background',
    'border-radius': 'radius',
    'box-shadow': 'shadow',
    // of a pseudo-element: a glyph of an icon font
    content: 'icon',
    'font-weight': 'weight',
    'text-align': 'alignment',
    'align-items': 'alignment',
    'align-self': 'alignment',
    'justify-content': 'alignment',
    'justify-self': 'alignment',
    'vertical-align': 'alignment',
  }),
);

/** Properties that only say how boxes share their row. */
const SHARING = /^(flex|float|padding|margin|position|min-|max-)/;

/**
 * What properties come to: `color` for that alone, `margin` for two sides of it, `width` for a cell of a grid.
 * @param properties lower-case names, as rules or a `style` attribute have them
 * @returns a name, null where they change several things
 */
export function effectOf(properties: Iterable<string>): string | null {
  // custom properties are parts of the others' values, and prefixed ones mean what the plain one does
  const names = [...new Set(properties)].filter((name) => !name.startsWith('-'));
  if (names.length === 0) return null;
  const [first, ...others] = names;
  if (others.length === 0) return called(first!);
  if (names.every((name) => /^border-.*radius$/.test(name))) return called('border-radius');
  if (
    names.some((name) => /^(max-)?width$/.test(name)) &&
    names.every((name) => name === 'width' || SHARING.test(name))
  )
    return 'width';
  const [stem] = first!.split('-');
  return others.every((name) => name.split('-')[0] === stem) ? called(stem!) : null;
}

function called(property: string): string | null {
  const border = /^border(-[a-z]+)?-color$/.test(property) ? 'border-color' : 'border';
  const name = CALLED.get(property) ?? (property.startsWith('border-') ? border : property);
  return /^(float|flex|grid|display)(-|$)/.test(name) ? null : asName(name);
}

/** What a class word ends in that says how large something is. */
const SIZE = /(^|[-_])(x{0,3}s|sm|md|x{0,3}l|lg|tiny|mini|x?small|medium|x?large|big|huge)$/;

/** True for a class word that says how large something is, as `wide-lg` does. */
export function isSize(word: string): boolean {
  return SIZE.test(word);
}

/** Words that several frameworks spell alike, by what they change: what is told of one whose stylesheet is not on the site. */
const USUAL: readonly (readonly [RegExp, string])[] = [
  [/^(text|link)-(primary|secondary|success|danger|warning|info|muted|white|black|light|dark|body)$/, 'color'],
  [/^text-(left|center|right|start|end|justify)$/, 'alignment'],
  [/^bg-/, 'background'],
  [/^m[trblxyse]?-(\d|auto|[a-z]{2}-(\d|auto))/, 'margin'],
  [/^p[trblxyse]?-(\d|[a-z]{2}-\d)/, 'padding'],
  [/^(col|w)-([a-z]{2,3}-)?\d/, 'width'],
  [/^h-\d/, 'height'],
  [/^shadow(-|$)/, 'shadow'],
  [/^rounded(-|$)/, 'radius'],
];

/** What a word that no stylesheet knows usually changes; null where nothing tells. */
export function usualEffectOf(word: string): string | null {
  return USUAL.find(([words]) => words.test(word))?.[1] ?? null;
}
