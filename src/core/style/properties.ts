/**
 * Which declarations compete: the longhands that a property sets. Shorthands as MDN's data list them, completed by what
 * the CSS specifications reset besides; flow-relative properties may set any physical one of their group, prefixed
 * ones may be another name of the plain one.
 */
import mdn from 'mdn-data';

export interface Longhand {
  name: string;
  /** false where it depends on more than the declaration whether this is set */
  sure: boolean;
}

const data = mdn.css.properties;

const MORE = new Map<string, string>(
  Object.entries({
    overflow: 'overflow-x overflow-y',
    'overscroll-behavior': 'overscroll-behavior-x overscroll-behavior-y',
    'white-space': 'white-space-collapse text-wrap-mode white-space-trim',
    'text-wrap': 'text-wrap-mode text-wrap-style',
    'font-variant':
      'font-variant-ligatures font-variant-caps font-variant-alternates font-variant-numeric font-variant-east-asian font-variant-position font-variant-emoji',
    'font-synthesis': 'font-synthesis-weight font-synthesis-style font-synthesis-small-caps font-synthesis-position',
    font: 'font-size-adjust font-kerning font-feature-settings font-variation-settings font-language-override font-optical-sizing font-palette',
    border: 'border-image',
    'background-position': 'background-position-x background-position-y',
    'text-decoration': 'text-decoration-thickness',
    animation: 'animation-composition animation-range',
    mask: 'mask-border',
    'text-box': 'text-box-trim text-box-edge',
    'page-break-before': 'break-before',
    'page-break-after': 'break-after',
    'page-break-inside': 'break-inside',
    'word-wrap': 'overflow-wrap',
    'grid-row-gap': 'row-gap',
    'grid-column-gap': 'column-gap',
    'font-stretch': 'font-width',
  }),
);

const SIDES = ['top', 'right', 'bottom', 'left'];

/** The physical properties that a flow-relative one may set, null for others. (CSS Logical Properties) */
function physical(name: string): string[] | null {
  const sides =
    /^(margin|padding|scroll-margin|scroll-padding|border|inset)-(?:block|inline)(?:-(?:start|end))?(-\w+)?$/;
  const [, group, rest = ''] = sides.exec(name) ?? [];
  if (group === 'inset') return SIDES;
  if (group !== undefined) return SIDES.map((side) => `${group}-${side}${rest}`);
  if (/^border-(start|end)-(start|end)-radius$/.test(name))
    return ['top-left', 'top-right', 'bottom-left', 'bottom-right'].map((corner) => `border-${corner}-radius`);
  const size = /^(min-|max-|contain-intrinsic-)?(?:block|inline)-size$/.exec(name);
  if (size) return ['width', 'height'].map((side) => `${size[1] ?? ''}${side}`);
  const axis = /^(overflow|overscroll-behavior)-(?:block|inline)$/.exec(name);
  return axis ? ['x', 'y'].map((side) => `${axis[1]!}-${side}`) : null;
}

const known = new Map<string, Longhand[]>();

/** The longhands that a declaration of `property` (lower-case) sets, itself when it is one; `all` stays `all`. */
export function longhandsOf(property: string): Longhand[] {
  let found = known.get(property);
  if (found === undefined) known.set(property, (found = expand(property)));
  return found;
}

function expand(property: string): Longhand[] {
  if (property.startsWith('--')) return [{ name: property, sure: true }];
  const plain = property.replace(/^-[a-z]+-/, '');
  const listed = data[property]?.initial;
  const parts = [...(Array.isArray(listed) ? listed : []), ...(MORE.get(property)?.split(' ') ?? [])];
  const mapped = physical(property);
  const found = new Map<string, boolean>();
  const take = (name: string, sure: boolean) => found.set(name, sure || found.get(name) === true);
  if (mapped !== null) for (const name of mapped) for (const each of longhandsOf(name)) take(each.name, false);
  else if (plain !== property) {
    take(property, true);
    for (const each of longhandsOf(plain)) take(each.name, false);
  } else if (parts.length === 0) take(property, true);
  else
    for (const name of new Set(parts))
      for (const each of name === property ? [{ name, sure: true }] : longhandsOf(name)) take(each.name, each.sure);
  return [...found].map(([name, sure]) => ({ name, sure }));
}
