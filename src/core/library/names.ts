/** Names in the expressions of a template: where a prop, or a field of a list, is spoken of. */
import { camelName } from '../component/expression.js';
import type { Component } from '../component/model.js';
import { PLACEHOLDER } from '../component/segments.js';
import { bodyOf } from '../component/read.js';
import { valueOf } from '../page/attribute.js';
import type { Edit } from '../page/edits.js';
import { attrOf, type Child, RAW_TEXT } from '../page/tree.js';

/** Strings of an expression, as they are or spelled in an attribute; then names, with the dot before a field. */
const TOKEN = /"(?:[^"\\]|\\.)*"|'(?:[^'\\]|\\.)*'|&quot;.*?&quot;|&#3[49];.*?&#3[49];|(\.\s*)?([A-Za-z_$][\w$]*)/gs;

/** A prop, or a field of the records of a list prop. */
export interface PropName {
  prop: string;
  field: string | null;
}

/** `stops.place` is the field place of stops. */
export function propName(name: string): PropName {
  const [prop = '', field = null] = name.split('.');
  return { prop, field };
}

/** Edits of the template that make its expressions say `to` where they say `from`, a prop or a field as it stands there. */
export function renamedInTemplate(component: Component, from: PropName, to: string): Edit[] {
  const { source } = component;
  const [prop, field, name] = [camelName(from.prop), from.field === null ? null : camelName(from.field), camelName(to)];
  const edits: Edit[] = [];

  /** @param hidden names of records around, which hide a prop; @param records those of them that are of the list */
  const visit = (node: Child, hidden: ReadonlySet<string>, records: ReadonlySet<string>): void => {
    const inCode = (start: number, code: string) => {
      let head = '';
      for (const { 0: whole, 1: dot, 2: word, index } of code.matchAll(TOKEN)) {
        if (word === undefined) continue;
        const isField = dot !== undefined;
        const isMeant = isField
          ? field === word && records.has(head)
          : field === null && word === prop && !hidden.has(word);
        const at = start + index + whole.length - word.length;
        if (isMeant) edits.push({ start: at, end: at + word.length, text: name });
        // only what follows the first name is a field of the record
        head = isField ? '' : word;
      }
    };
    const inPlaceholders = (start: number, raw: string) => {
      for (const match of raw.matchAll(PLACEHOLDER)) inCode(start + match.index + 2, match[1]!);
    };
    if (node.kind === 'text' && node.start >= 0) inPlaceholders(node.start, source.slice(node.start, node.end));
    if (node.kind !== 'element') return;
    const each = node.tag === 'template' ? attrOf(node, 'each') : undefined;
    for (const attr of node.attrs.filter(({ start }) => start >= 0)) {
      const { raw, start } = valueOf(source, attr);
      const isCode = node.tag === 'template' && ['when', 'unless', 'of'].includes(attr.name);
      if (isCode) inCode(start, raw);
      else inPlaceholders(start, raw);
    }
    if (RAW_TEXT.has(node.tag)) return;
    const of = (attrOf(node, 'of') ?? '').trim();
    const isOfList = each !== undefined && of === prop && !hidden.has(of);
    const inner = each === undefined ? hidden : new Set([...hidden, each]);
    const others = each === undefined ? records : new Set([...records].filter((record) => record !== each));
    for (const child of node.children) visit(child, inner, isOfList ? new Set([...others, each]) : others);
  };
  for (const node of bodyOf(component)) visit(node, new Set(), new Set());
  return edits;
}
