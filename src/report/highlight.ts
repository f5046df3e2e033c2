/** Markup with its parts told apart by colour. */
import hljs from 'highlight.js/lib/core';
import css from 'highlight.js/lib/languages/css';
import handlebars from 'highlight.js/lib/languages/handlebars';
import javascript from 'highlight.js/lib/languages/javascript';
import json from 'highlight.js/lib/languages/json';
import xml from 'highlight.js/lib/languages/xml';
import { Markup } from '../core/html.js';

const highlighter = hljs.newInstance();
for (const [name, language] of Object.entries({ css, handlebars, javascript, json, xml }))
  highlighter.registerLanguage(name, language);

/**
 * @param source HTML, with placeholders in double braces
 * @returns the same text as markup: everything in it is escaped
 */
export function highlighted(source: string): Markup {
  return new Markup(highlighter.highlight(source, { language: 'handlebars', ignoreIllegals: true }).value);
}
