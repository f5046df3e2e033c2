/** Writes HTML: what is put into a template is text, and escaped, unless it is markup already. */

/** Markup that is written as it is. */
export class Markup {
  constructor(readonly text: string) {}
}

/** What may stand in a template: null and false for nothing. */
export type Part = string | number | Markup | readonly Part[] | null | false;

const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' };

function written(part: Part): string {
  if (part === null || part === false) return '';
  if (part instanceof Markup) return part.text;
  if (typeof part === 'object') return part.map(written).join('');
  return String(part).replace(/[&<>"']/g, (character) => ESCAPES[character]!);
}

/** A tag for template literals; attribute values stand in quotes there. */
export function html(strings: TemplateStringsArray, ...parts: Part[]): Markup {
  return new Markup(strings.reduce((text, next, i) => text + written(parts[i - 1]!) + next));
}
