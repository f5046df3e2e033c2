/** Writes uses: the tag that stands for a component in a page. */
import { quoteAttribute, type Spelled } from '../page/spelling.js';
import type { Value } from '../infer/columns.js';

/** Columns that a line of a use may take; what is longer goes on in the next line. */
const WIDTH = 120;

export interface UseProp {
  name: string;
  default: Spelled | null;
}

/**
 * The source of one use, slotless. `indent` is that of its line; a value equal to the prop's default is left out.
 */
export function useText(
  component: string,
  props: UseProp[],
  values: (Spelled | boolean)[],
  form: 'tag' | 'template',
  place: { indent: string; eol: string },
): string {
  const attributes: string[] = form === 'template' ? [`use="${component}"`] : [];
  props.forEach((prop, i) => {
    const value = values[i]!;
    if (typeof value === 'boolean') {
      if (value) attributes.push(prop.name);
    } else if (prop.default?.value !== value.value || prop.default.raw !== value.raw)
      attributes.push(`${prop.name}=${quoteAttribute(value)}`);
  });
  const tag = form === 'template' ? 'template' : component;
  const unit = place.indent.startsWith('\t') ? '\t' : '  ';
  const lines = [`<${tag}`];
  for (const [i, attribute] of attributes.entries()) {
    const end = i === attributes.length - 1 ? `></${tag}>` : '';
    const line = `${lines.at(-1)!} ${attribute}${end}`;
    if (place.indent.length + line.length <= WIDTH || i === 0) lines[lines.length - 1] = line;
    else lines.push(`${unit}${attribute}${end}`);
  }
  if (attributes.length === 0) lines.push(`${lines.pop()!}></${tag}>`);
  return lines.join(place.eol + place.indent);
}

/** The values of one occurrence, a known component's default where the use gives none. */
export function valuesAt(
  props: { values: (Value | null)[]; default: Spelled | null }[],
  index: number,
): (Spelled | boolean)[] {
  return props.map((prop) => prop.values[index] ?? prop.default ?? false);
}
