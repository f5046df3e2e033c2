/** The text of styles on its way: indentation, line ends and URLs as their new home needs them. */
import type { Component } from '../component/model.js';
import { eolOf } from '../page/parse.js';
import { folderOf, moveUrls } from '../page/url.js';

/** The white space before `at` when nothing else stands before it on its line, null otherwise. Never looks further. */
export function leadAt(source: string, at: number): string | null {
  let start = at;
  while (start > 0 && /[ \t]/.test(source[start - 1]!)) start--;
  return start === 0 || /[\n\r]/.test(source[start - 1]!) ? source.slice(start, at) : null;
}

/** Moves the lines of a block after its first one from one indentation to another; blank ones stay as they are. */
export function reindent(text: string, from: string, to: string): string {
  const lines = text.split(/\r\n|\n|\r/);
  return lines
    .map((line, i) => {
      if (i === 0 || line.trim() === '') return line;
      return line.startsWith(from) ? to + line.slice(from.length) : to + line.trimStart();
    })
    .join('\n');
}

/** Component styles as they stand in a component file: its lines indented by two spaces, without the indentation. */
export function componentStyle(source: string, { start, end }: { start: number; end: number }): string {
  const content = source.slice(start, end);
  const first = start + (/^(?:[ \t]*(?:\r\n|\n|\r))*/.exec(content)?.[0].length ?? 0);
  const base = /^[ \t]*/.exec(source.slice(first, end))![0];
  return reindent(source.slice(first + base.length, end).trimEnd(), base, '');
}

/** The `style` element of a component file. */
export function styleElement(styles: string): string {
  return `\n<style>\n  ${reindent(styles, '', '  ')}\n</style>\n`;
}

/** Styles as they stand in a stylesheet at `offset`, with the URLs rewritten from the component file's folder. */
export function atHome(styles: string, sheet: { path: string; source: string }, offset: number, from: string): string {
  const text = reindent(styles, '', leadAt(sheet.source, offset) ?? '');
  return movedUrls(text, from, sheet.path).replaceAll('\n', eolOf(sheet.source));
}

/** The `url()`s of a text, rewritten for another file; as they are where one leads out of the project. */
export function movedUrls(text: string, from: string, to: string): string {
  return moveUrls(text, 'css', folderOf(from), folderOf(to)) ?? text;
}

/** A component file without its styles, as it was before they came. */
export function withoutStyle({ source, style }: Component): string {
  if (style === null) return source;
  const start = source.lastIndexOf('<style', style.start);
  const end = source.indexOf('>', style.end) + 1;
  const lineBreak = /(?:\r\n|\n|\r)?$/.exec(source.slice(0, start))![0];
  return source.slice(0, start - lineBreak.length) + source.slice(end).replace(/^(?:\r\n|\n|\r)/, '');
}
