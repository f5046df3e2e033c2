/**
 * How an attribute of HTML or SVG is spelled in JSX, and what its type takes. The tables are those of the HTML standard
 * (through property-information) and, for what has a narrower type than text, the enumerated attributes of HTML and ARIA.
 */
import { hastToReact, type Info } from 'property-information';
import { infoOf } from '../attribute-info.js';
import type { ElementNode } from '../model.js';
import { plainText } from '../pieces.js';
import type { JsxOptions } from './options.js';
import {
  DRAWING,
  ELEMENTS,
  GLOBAL,
  NUMBERS,
  OWN_ATTRIBUTES,
  rolesOf,
  TRUTH,
  UNTYPED_IN_DRAWINGS,
  WORDS,
} from './tables.js';

export interface Spelling {
  name: string;
  /**
   * - `text`: any string
   * - `boolean`: there or not, whatever it says
   * - `number`: a number, when it is spelled as one would be
   * - `words`: one of `words`
   * - `truth`: true or false, spelled out
   * - `constant`: one of `words`, known when the module is written
   * - `hidden`: there or not, or `until-found`
   * - `loose`: not in the types of JSX
   */
  takes: 'text' | 'boolean' | 'number' | 'words' | 'truth' | 'constant' | 'hidden' | 'loose';
  words: readonly string[];
}

/** What `type` of a button is, whose type in JSX is a union. */
const BUTTON_TYPES = ['button', 'reset', 'submit'];
const INPUT_TYPES =
  `button checkbox color date datetime-local email file hidden image month number password radio range reset search submit
  tel text time url week`.split(/\s+/);
/** Attributes whose value a browser takes over into a property that the user changes: JSX names them apart. */
const INITIAL = new Map<string, string>(Object.entries({ value: 'defaultValue', checked: 'defaultChecked' }));
const FIXED_VALUE = /^(hidden|submit|button|reset|image|checkbox|radio)$/i;

/** True for the attribute of an event handler. */
export function isHandler(name: string): boolean {
  return /^on[a-z]+$/.test(name);
}

/** How the attribute `name` of an element is spelled. */
export function spelling(element: ElementNode, name: string, options: JsxOptions): Spelling {
  const { tag, space } = element;
  const info = knownOf(element, name);
  const result = (takes: Spelling['takes'], words: readonly string[] = []): Spelling => ({
    name: jsxName(element, name, options),
    takes,
    words,
  });
  if (!/^[a-z_][\w:.-]*$/i.test(name) || /[:.]/.test(result('text').name)) return { name, takes: 'loose', words: [] };
  if (space === 'math') return result('loose');
  const words = WORDS.get(name);
  if (space === 'svg') {
    if (UNTYPED_IN_DRAWINGS.has(name.toLowerCase())) return result('loose');
    if (name === 'role') return result('words', rolesOf('g'));
    if (words !== undefined) return result('words', words);
    return info?.space === undefined && !isNamed(name) && !GLOBAL.has(name) ? result('loose') : result('text');
  }
  if (/^(data|aria)-/.test(name))
    return words !== undefined ? result('words', words) : result(NUMBERS.has(name) ? 'number' : 'text');
  if (!GLOBAL.has(name) && OWN_ATTRIBUTES.get(tag)?.has(name) !== true && !isHandler(name)) return result('loose');
  if (info?.boolean === true || info?.overloadedBoolean === true)
    return result(name === 'download' ? 'text' : name === 'hidden' ? 'hidden' : 'boolean');
  if (name === 'type' && tag === 'button') return result('words', BUTTON_TYPES);
  if (name === 'type' && tag === 'ol') return result('words', ['1', 'a', 'A', 'i', 'I']);
  if (name === 'value' && /^(li|meter|progress)$/.test(tag)) return result('number');
  if (/^(min|max|low|high|optimum)$/.test(name) && /^(meter|progress)$/.test(tag)) return result('number');
  if (name === 'align')
    return result('words', ['left', 'center', 'right', 'justify', 'char', 'top', 'middle', 'bottom', 'baseline']);
  if (NUMBERS.has(name)) return result('number');
  if (name === 'role') return result('words', rolesOf(tag));
  if (name === 'draggable' || result('truth').name === 'spellcheck') return result('truth');
  // spelled as JSX does, all runtimes set it as text, but not all of them as false
  if (name === 'spellcheck') return options.jsxImport === null ? result('loose') : result('words', TRUTH);
  if (name === 'type' && tag === 'input') return result('constant', INPUT_TYPES);
  return words === undefined ? result('text') : result('words', words);
}

/** What the tables say of an attribute; nothing for one that is called as JSX calls another, such as `htmlfor`. */
function knownOf(element: ElementNode, name: string): Info | undefined {
  const info = infoOf(element, name);
  return info?.attribute.toLowerCase() === name.toLowerCase() ? info : undefined;
}

function isNamed(name: string): boolean {
  return /^(data|aria)-/.test(name) || isHandler(name);
}

function jsxName(element: ElementNode, name: string, { attributes, jsxImport }: JsxOptions): string {
  const { tag, space, attrs } = element;
  if (isHandler(name))
    return jsxImport === 'react' && name === 'ondblclick'
      ? 'onDoubleClick'
      : infoOf({ space: 'html' }, name)!.property.replace(/^on[a-z]/, (start) => `on${start.at(-1)!.toUpperCase()}`);
  if (/^(data|aria)-/.test(name)) return name;
  if (attributes === 'html') return name;
  // Preact itself sets them as they are spelled
  if (jsxImport === 'preact' && (name === 'spellcheck' || (space === 'svg' && name.includes('-')))) return name;
  const initial = INITIAL.get(name);
  if (tag === 'input' && initial !== undefined) {
    const kind = plainText(attrs.find((attr) => attr.name === 'type')?.pieces ?? []) ?? '';
    return name === 'value' && FIXED_VALUE.test(kind) ? name : initial;
  }
  const info = knownOf(element, name);
  return info?.space === undefined ? name : (hastToReact[info.property] ?? info.property);
}

/** True for an element that the types of JSX have. */
export function isKnown({ tag, space }: ElementNode): boolean {
  return space === 'html' ? ELEMENTS.has(tag) : space === 'svg' && DRAWING.has(tag);
}
