/**
 * How an attribute of HTML or SVG is spelled in JSX, and what its type takes. The tables are those of the HTML standard
 * (through property-information) and, for what has a narrower type than text, the enumerated attributes of HTML and ARIA.
 */
import { find, html, hastToReact, svg } from 'property-information';
import type { ElementNode } from '../model.js';
import { plainText } from '../pieces.js';
import type { JsxOptions } from './options.js';

export interface Spelling {
  name: string;
  /**
   * - `text`: any string
   * - `boolean`: there or not, whatever it says
   * - `number`: a number, when it is spelled as one would be
   * - `words`: one of `words`
   * - `loose`: not in the types of JSX
   */
  takes: 'text' | 'boolean' | 'number' | 'words' | 'loose';
  words: readonly string[];
}

const TRUTH = ['true', 'false'];
/** Enumerated attributes whose types in JSX are unions. */
const WORDS: Record<string, readonly string[]> = {
  'aria-atomic': TRUTH,
  'aria-autocomplete': ['none', 'inline', 'list', 'both'],
  'aria-busy': TRUTH,
  'aria-checked': [...TRUTH, 'mixed'],
  'aria-current': [...TRUTH, 'page', 'step', 'location', 'date', 'time'],
  'aria-disabled': TRUTH,
  'aria-expanded': TRUTH,
  'aria-haspopup': [...TRUTH, 'menu', 'listbox', 'tree', 'grid', 'dialog'],
  'aria-hidden': TRUTH,
  'aria-invalid': [...TRUTH, 'grammar', 'spelling'],
  'aria-live': ['off', 'assertive', 'polite'],
  'aria-modal': TRUTH,
  'aria-multiline': TRUTH,
  'aria-multiselectable': TRUTH,
  'aria-orientation': ['horizontal', 'vertical'],
  'aria-pressed': [...TRUTH, 'mixed'],
  'aria-readonly': TRUTH,
  'aria-required': TRUTH,
  'aria-selected': TRUTH,
  'aria-sort': ['none', 'ascending', 'descending', 'other'],
  contenteditable: [...TRUTH, 'inherit', 'plaintext-only'],
  crossorigin: ['', 'anonymous', 'use-credentials'],
  decoding: ['async', 'auto', 'sync'],
  dir: ['ltr', 'rtl', 'auto'],
  draggable: TRUTH,
  enterkeyhint: ['enter', 'done', 'go', 'next', 'previous', 'search', 'send'],
  fetchpriority: ['high', 'low', 'auto'],
  inputmode: ['none', 'text', 'tel', 'url', 'email', 'numeric', 'decimal', 'search'],
  loading: ['eager', 'lazy'],
  spellcheck: TRUTH,
  translate: ['yes', 'no'],
  wrap: ['hard', 'soft'],
};
/** Numbers that types of JSX ask for; other numeric attributes take text as well. */
const NUMBERS = new Set(
  'colspan rowspan tabindex maxlength minlength size span start rows cols aria-colcount aria-colindex aria-colspan aria-level aria-posinset aria-rowcount aria-rowindex aria-rowspan aria-setsize aria-valuemax aria-valuemin aria-valuenow'.split(
    ' ',
  ),
);
/** Attributes that the types of well-known runtimes have for every element. */
const GLOBAL = new Set(
  `accesskey autocapitalize autofocus class contenteditable dir draggable enterkeyhint hidden id inputmode inert itemid
  itemprop itemref itemscope itemtype lang nonce part popover role slot spellcheck style tabindex title translate`.split(
    /\s+/,
  ),
);
/** Further attributes of an element, by the HTML standard. */
const OWN: Record<string, string> = {
  a: 'download href hreflang ping referrerpolicy rel target type',
  area: 'alt coords download href hreflang ping referrerpolicy rel shape target',
  audio: 'autoplay controls crossorigin loop muted preload src',
  base: 'href target',
  blockquote: 'cite',
  button: 'disabled form formaction formenctype formmethod formnovalidate formtarget name type value',
  canvas: 'height width',
  col: 'span width',
  colgroup: 'span',
  data: 'value',
  del: 'cite datetime',
  details: 'name open',
  dialog: 'open',
  embed: 'height src type width',
  fieldset: 'disabled form name',
  form: 'accept-charset action autocomplete enctype method name novalidate rel target',
  iframe: 'allow allowfullscreen height loading name referrerpolicy sandbox src srcdoc width',
  img: 'alt crossorigin decoding fetchpriority height loading referrerpolicy sizes src srcset usemap width',
  input: `accept alt autocomplete checked disabled form formaction formenctype formmethod formnovalidate formtarget
    height list max maxlength min minlength multiple name pattern placeholder readonly required size src step type value width`,
  ins: 'cite datetime',
  label: 'for form',
  li: 'value',
  link: 'as crossorigin href hreflang integrity media referrerpolicy rel sizes type',
  map: 'name',
  meta: 'charset content http-equiv media name',
  meter: 'high low max min optimum value',
  object: 'data form height name type usemap width',
  ol: 'reversed start type',
  optgroup: 'disabled label',
  option: 'disabled label selected value',
  output: 'for form name',
  progress: 'max value',
  q: 'cite',
  script: 'async charset crossorigin defer integrity nomodule referrerpolicy src type',
  select: 'autocomplete disabled form multiple name required size',
  slot: 'name',
  source: 'height media sizes src srcset type width',
  style: 'media type',
  table: 'cellpadding cellspacing summary',
  td: 'align colspan headers rowspan scope valign',
  textarea: 'autocomplete cols disabled form maxlength minlength name placeholder readonly required rows wrap',
  th: 'align colspan headers rowspan scope',
  time: 'datetime',
  track: 'default kind label src srclang',
  video: 'autoplay controls crossorigin height loop muted playsinline poster preload src width',
};
const own = new Map(Object.entries(OWN).map(([tag, names]) => [tag, new Set(names.split(/\s+/))]));
/** What `type` of a button is, whose type in JSX is a union. */
const BUTTON_TYPES = ['button', 'reset', 'submit'];
/** Attributes whose value a browser takes over into a property that the user changes: JSX names them apart. */
const INITIAL: Record<string, string> = { value: 'defaultValue', checked: 'defaultChecked' };
const FIXED_VALUE = /^(hidden|submit|button|reset|image|checkbox|radio)$/i;

/** True for the attribute of an event handler. */
export function isHandler(name: string): boolean {
  return /^on[a-z]+$/.test(name);
}

/** How the attribute `name` of an element is spelled. */
export function spelling(element: ElementNode, name: string, options: JsxOptions): Spelling {
  const { tag, space } = element;
  const info = find(space === 'svg' ? svg : html, name);
  const result = (takes: Spelling['takes'], words: readonly string[] = []): Spelling => ({
    name: jsxName(element, name, options),
    takes,
    words,
  });
  if (!/^[a-z_][\w:.-]*$/i.test(name) || /[:.]/.test(result('text').name)) return { name, takes: 'loose', words: [] };
  if (space === 'math') return result('loose');
  if (space === 'svg')
    return info.space === undefined && !isNamed(name) && !GLOBAL.has(name) ? result('loose') : result('text');
  if (/^(data|aria)-/.test(name)) {
    const words = WORDS[name];
    return words !== undefined ? result('words', words) : result(NUMBERS.has(name) ? 'number' : 'text');
  }
  if (!GLOBAL.has(name) && own.get(tag)?.has(name) !== true && !isHandler(name)) return result('loose');
  if (info.boolean || info.overloadedBoolean)
    return result(name === 'download' || name === 'hidden' ? 'text' : 'boolean');
  if (name === 'type' && tag === 'button') return result('words', BUTTON_TYPES);
  if (name === 'type' && tag === 'ol') return result('words', ['1', 'a', 'A', 'i', 'I']);
  if (name === 'value' && /^(li|meter|progress)$/.test(tag)) return result('number');
  if (/^(min|max|low|high|optimum)$/.test(name) && /^(meter|progress)$/.test(tag)) return result('number');
  if (name === 'align' || name === 'valign')
    return result('words', ['left', 'center', 'right', 'justify', 'char', 'top', 'middle', 'bottom', 'baseline']);
  if (NUMBERS.has(name)) return result('number');
  const words = WORDS[name];
  return words === undefined ? result('text') : result('words', words);
}

function isNamed(name: string): boolean {
  return /^(data|aria)-/.test(name) || isHandler(name);
}

function jsxName(element: ElementNode, name: string, { attributes, jsxImport }: JsxOptions): string {
  const { tag, space, attrs } = element;
  if (isHandler(name))
    return jsxImport === 'react' && name === 'ondblclick'
      ? 'onDoubleClick'
      : find(html, name).property.replace(/^on[a-z]/, (start) => `on${start.at(-1)!.toUpperCase()}`);
  if (/^(data|aria)-/.test(name)) return name;
  const info = find(space === 'svg' ? svg : html, name);
  if (attributes === 'html') return name;
  if (tag === 'input' && name in INITIAL) {
    const kind = plainText(attrs.find((attr) => attr.name === 'type')?.pieces ?? []) ?? '';
    return name === 'value' && FIXED_VALUE.test(kind) ? name : INITIAL[name]!;
  }
  return info.space === undefined ? name : (hastToReact[info.property] ?? info.property);
}

/** Elements that the types of JSX know, by the HTML standard's list and SVG 2's. */
const ELEMENTS = new Set(
  `a abbr address area article aside audio b base bdi bdo blockquote body br button canvas caption cite code col colgroup
  data datalist dd del details dfn dialog div dl dt em embed fieldset figcaption figure footer form h1 h2 h3 h4 h5 h6
  head header hgroup hr html i iframe img input ins kbd label legend li link main map mark menu meta meter nav noscript
  object ol optgroup option output p picture pre progress q rp rt ruby s samp script section select slot small source
  span strong style sub summary sup table tbody td template textarea tfoot th thead time title tr track u ul var video wbr`.split(
    /\s+/,
  ),
);
const DRAWING = new Set(
  `animate circle clipPath defs desc ellipse feBlend feColorMatrix feComponentTransfer feComposite feConvolveMatrix
  feDiffuseLighting feDisplacementMap feDistantLight feFlood feFuncA feFuncB feFuncG feFuncR feGaussianBlur feImage
  feMerge feMergeNode feMorphology feOffset fePointLight feSpecularLighting feSpotLight feTile feTurbulence filter
  foreignObject g image line linearGradient marker mask metadata path pattern polygon polyline radialGradient rect stop
  svg switch symbol text textPath tspan use view`.split(/\s+/),
);

/** True for an element that the types of JSX have. */
export function isKnown({ tag, space }: ElementNode): boolean {
  return space === 'html' ? ELEMENTS.has(tag) : space === 'svg' && DRAWING.has(tag);
}
