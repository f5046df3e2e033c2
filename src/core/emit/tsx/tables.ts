/**
 * What the types of JSX know of elements and attributes: the HTML standard's tables, SVG 2's elements, and the enumerated
 * attributes of HTML and ARIA. Where the types of well-known runtimes differ, what all of them take.
 */

function words(text: string): string[] {
  return text.trim().split(/\s+/);
}

export const TRUTH = ['true', 'false'];
/** Enumerated attributes whose types in JSX are unions. */
export const WORDS = new Map<string, readonly string[]>(
  Object.entries({
    autocapitalize: ['off', 'none', 'on', 'sentences', 'words', 'characters'],
    'clip-rule': ['nonzero', 'evenodd', 'inherit'],
    'fill-rule': ['nonzero', 'evenodd', 'inherit'],
    focusable: TRUTH,
    popover: ['auto', 'manual'],
    preload: ['auto', 'metadata', 'none'],
    referrerpolicy: words(
      `no-referrer no-referrer-when-downgrade origin origin-when-cross-origin same-origin strict-origin
    strict-origin-when-cross-origin unsafe-url`,
    ),
    'stroke-linecap': ['butt', 'round', 'square', 'inherit'],
    'stroke-linejoin': ['miter', 'round', 'bevel', 'inherit'],
    'text-anchor': ['start', 'middle', 'end'],
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
    crossorigin: ['anonymous', 'use-credentials'],
    decoding: ['async', 'auto', 'sync'],
    dir: ['ltr', 'rtl', 'auto'],
    fetchpriority: ['high', 'low', 'auto'],
    inputmode: ['none', 'text', 'tel', 'url', 'email', 'numeric', 'decimal', 'search'],
    loading: ['eager', 'lazy'],
    wrap: ['hard', 'soft'],
  }),
);
/** Numbers that types of JSX ask for; other numeric attributes take text as well. */
export const NUMBERS = new Set(
  'colspan rowspan tabindex maxlength minlength size span start rows cols aria-colcount aria-colindex aria-colspan aria-level aria-posinset aria-rowcount aria-rowindex aria-rowspan aria-setsize aria-valuemax aria-valuemin aria-valuenow'.split(
    ' ',
  ),
);
/** Attributes that the types of well-known runtimes have for every element. */
export const GLOBAL = new Set(
  `accesskey autocapitalize autofocus class contenteditable dir draggable hidden id inputmode inert itemid
  itemprop itemref itemscope itemtype lang nonce part popover role slot spellcheck style tabindex title`.split(/\s+/),
);
/** Further attributes of an element, by the HTML standard. */
const OWN: Record<string, string> = {
  a: 'download href hreflang ping referrerpolicy rel target type',
  area: 'alt coords download href hreflang referrerpolicy rel shape target',
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
  td: 'align colspan headers rowspan scope',
  textarea: 'autocomplete cols disabled form maxlength minlength name placeholder readonly required rows wrap',
  th: 'align colspan headers rowspan scope',
  time: 'datetime',
  track: 'default kind label src srclang',
  video: 'autoplay controls crossorigin height loop muted playsinline poster preload src width',
};
export const OWN_ATTRIBUTES: ReadonlyMap<string, ReadonlySet<string>> = new Map(
  Object.entries(OWN).map(([tag, names]) => [tag, new Set(names.split(/\s+/))]),
);

const LISTS = 'group list listbox menu menubar none presentation tablist toolbar tree';
const ROLES = new Map<string, string>(
  Object.entries({
    a: 'button checkbox link menuitem menuitemcheckbox menuitemradio option radio switch tab treeitem',
    area: 'link',
    article: 'application article document main none presentation region',
    aside: 'complementary none note presentation region search',
    audio: 'application',
    br: 'none presentation',
    button: `button checkbox combobox gridcell link menuitem menuitemcheckbox option radio separator slider switch tab
    treeitem`,
    datalist: 'listbox',
    details: 'group',
    dialog: 'alertdialog dialog',
    dl: 'group list none presentation',
    dt: 'listitem',
    embed: 'application document img none presentation',
    fieldset: 'group none presentation',
    figcaption: 'group none presentation',
    footer: 'group none presentation',
    form: 'form none presentation search',
    header: 'banner group none presentation',
    hr: 'none presentation separator',
    iframe: 'application document img none presentation',
    img: 'img',
    main: 'main',
    menu: LISTS,
    nav: 'menu menubar navigation none presentation tablist',
    object: 'application document img',
    ol: LISTS,
    optgroup: 'group',
    option: 'option',
    progress: 'progressbar',
    select: 'combobox listbox menu',
    textarea: 'textbox',
    u: LISTS,
    ul: LISTS,
    video: 'application',
    wbr: 'none presentation',
  }),
);
const NO_ROLE = words(
  `base caption col colgroup dd head html input label legend link map meta meter noscript picture script slot source
  style template title track`,
);
const ANY_ROLE = words(
  `alert alertdialog application article banner button cell checkbox combobox complementary dialog document form grid
  gridcell group heading img link list listbox listitem log main menu menubar menuitem menuitemcheckbox navigation none
  note option presentation progressbar radio region row rowgroup search searchbox separator slider spinbutton status
  switch tab table tablist tabpanel textbox timer toolbar tooltip tree treeitem`,
);

/** Roles that an element may take, by "ARIA in HTML". */
export function rolesOf(tag: string): readonly string[] {
  if (NO_ROLE.includes(tag)) return [];
  if (/^h[1-6]$/.test(tag)) return ['heading', 'none', 'presentation', 'tab'];
  const roles = ROLES.get(tag);
  return roles === undefined ? ANY_ROLE : words(roles);
}

/** Attributes of drawings that the types of some runtime lack, or not take with any text. */
export const UNTYPED_IN_DRAWINGS = new Set(
  `about accumulate additive alignment-baseline arabic-form bandwidth color color-interpolation-filters content
  datatype defaultaction dominant-baseline download editable event externalresourcesrequired focushighlight fr
  handler hatchcontentunits hatchunits horiz-origin-y hreflang initialvisibility mask-type max media
  mediacharacterencoding mediacontentencodings mediasize mediatime method min name nav-down nav-down-left
  nav-down-right nav-left nav-next nav-prev nav-right nav-up nav-up-left nav-up-right observer overlay path
  phase ping pitch playbackorder preservealpha propagate property rel requiredfonts requiredformats resource rev
  side snapshottime syncbehavior syncbehaviordefault syncmaster synctolerance synctolerancedefault tabindex
  target timelinebegin title transform-origin transformbehavior typeof widths`.split(/\s+/),
);

/** Elements that the types of JSX know, by the HTML standard's list and SVG 2's. */
export const ELEMENTS = new Set(
  `a abbr address area article aside audio b base bdi bdo blockquote body br button canvas caption cite code col colgroup
  data datalist dd del details dfn dialog div dl dt em embed fieldset figcaption figure footer form h1 h2 h3 h4 h5 h6
  head header hgroup hr html i iframe img input ins kbd label legend li link main map mark meta meter nav noscript
  object ol optgroup option output p picture pre progress q rp rt ruby s samp script section select slot small source
  span strong style sub summary sup table tbody td template textarea tfoot th thead time title tr track u ul var video wbr`.split(
    /\s+/,
  ),
);
export const DRAWING = new Set(
  `animate circle clipPath defs desc ellipse feBlend feColorMatrix feComponentTransfer feComposite feConvolveMatrix
  feDiffuseLighting feDisplacementMap feDistantLight feFlood feFuncA feFuncB feFuncG feFuncR feGaussianBlur feImage
  feMerge feMergeNode feMorphology feOffset fePointLight feSpecularLighting feSpotLight feTile feTurbulence filter
  foreignObject g image line linearGradient marker mask metadata path pattern polygon polyline radialGradient rect stop
  svg switch symbol text textPath tspan use view`.split(/\s+/),
);
