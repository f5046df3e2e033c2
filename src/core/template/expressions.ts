/** Placeholders and expressions as a template writes them. */
import { camelName } from '../component/expression.js';
import type { Hole, InferredProp } from './pattern.js';

/** What stands for the value of a hole, with what is constant around it. */
export function placeholder({ before, ends = ['', ''], ...hole }: Hole, prop: InferredProp, quote: string): string {
  const quoted = (text: string) => `${quote}${text}${quote}`;
  const value = hole.either === undefined ? `{{${named(prop)}}}` : chosen(hole, prop, hole.either.map(quoted), quote);
  return `${escapeBraces(before + ends[0], quote)}${value}${escapeBraces(ends[1], quote)}`;
}

/** Whether a flag is there, or a marker stands here, as an expression. */
export function tested(prop: InferredProp, equals: string | undefined, quote: string): string {
  return equals === undefined ? named(prop) : `${named(prop)} === ${quote}${equals}${quote}`;
}

/** A placeholder for `yes` where the hole is there, and `no` where it is not. */
export function chosen(
  { equals, negated }: Pick<Hole, 'equals' | 'negated'>,
  prop: InferredProp,
  [yes, no]: string[],
  quote: string,
): string {
  const test = tested(prop, equals, quote);
  return negated ? `{{${test} ? ${no!} : ${yes!}}}` : `{{${test} ? ${yes!} : ${no!}}}`;
}

/** Whether a hole is there, as a placeholder. */
export function whether(hole: Hole, prop: InferredProp, quote: string): string {
  return hole.negated ? chosen(hole, prop, ['true', 'false'], quote) : `{{${tested(prop, hole.equals, quote)}}}`;
}

/** A prop as expressions name it. */
export function named({ name, scope }: InferredProp): string {
  return scope === undefined ? camelName(name) : `${camelName(scope)}.${camelName(name)}`;
}

/** Text in which braces are no placeholder. */
export function escapeBraces(text: string, quote: string): string {
  return text.replaceAll('{{', `{{${quote}{{${quote}}}`);
}
