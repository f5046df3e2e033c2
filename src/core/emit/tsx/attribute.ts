/** The attributes of one element in JSX. */
import { camelName, type Expression, isSpelled } from '../../component/expression.js';
import type { ElementNode, EmitAttr, Piece } from '../model.js';
import { isKept, isUnsafe, plainText } from '../pieces.js';
import { isHandler, spelling, type Spelling } from './attributes.js';
import { js, jsPieces, test } from './expression.js';
import type { Argument } from './handlers.js';
import { braced, jsKey, jsString, jsxValue } from './strings.js';
import { styleObject } from './style.js';
import { isNumber, typeOf } from './types.js';
import { unsayable, type Writer } from './writer.js';

/** All attributes, in the order of the source; those that the types of JSX do not take come last, spread. */
export function attributesOf(element: ElementNode, writer: Writer): string[] {
  const said: string[] = [];
  const loose: string[] = [];
  for (const attr of element.attrs) {
    const { name } = attr;
    if (isKept(element.tag, name) || isUnsafe(name))
      unsayable(
        writer,
        attr,
        `the attribute ${name} is one that JSX runtimes keep to themselves or cannot set; it is left out`,
      );
    else if (isHandler(name)) {
      const handler = handlerOf(attr, name.slice(2), writer);
      if (handler !== null) said.push(`${spelling(element, name, writer.job.names.options).name}={${handler}}`);
    } else if (name === 'style' && writer.job.names.options.attributes === 'dom')
      said.push(`style={${styleOf(attr, writer)}}`);
    else {
      const { text, isLoose } = attributeText(element, attr, writer);
      if (text !== '') (isLoose ? loose : said).push(text);
    }
  }
  if (loose.length > 0)
    said.push(writer.job.typed ? `{...({ ${loose.join(', ')} } as object)}` : `{...{ ${loose.join(', ')} }}`);
  return said;
}

function attributeText(element: ElementNode, attr: EmitAttr, writer: Writer): { text: string; isLoose: boolean } {
  const spelled = spelling(element, attr.name, writer.job.names.options);
  const { name } = spelled;
  const { code, fits } = valueOf(attr, spelled, writer);
  const isJsx = /^[a-z_$][\w$-]*$/i.test(name);
  if (isJsx && (fits || !writer.job.typed)) {
    const literal = /^"[^]*"$/.test(code) || /^'[^]*'$/.test(code);
    if (code === 'true') return { text: name, isLoose: false };
    const plain = plainText(attr.pieces);
    return {
      text: literal && plain !== null ? `${name}=${jsxValue(plain)}` : `${name}=${braced(code)}`,
      isLoose: false,
    };
  }
  return { text: `${jsKey(name)}: ${code}`, isLoose: true };
}

/** The JavaScript of a value, and whether the attribute's type takes it. */
function valueOf(attr: EmitAttr, { takes, words, name }: Spelling, writer: Writer): { code: string; fits: boolean } {
  const { pieces } = attr;
  const text = plainText(pieces);
  if (text !== null) {
    if (takes === 'boolean' || (takes === 'hidden' && text === '')) return { code: 'true', fits: true };
    if (takes === 'truth' && /^(true|false)$/.test(text)) return { code: text, fits: true };
    if (/^(width|height)$/.test(name) && takes === 'text' && isNumber(text)) return { code: text, fits: true };
    if (takes === 'number') return isNumber(text) ? { code: text, fits: true } : { code: jsString(text), fits: false };
    const isWord = words.includes(text);
    const fits = { words: isWord, constant: isWord, hidden: text === 'until-found', truth: false, loose: false };
    return { code: jsString(text), fits: takes === 'text' || fits[takes] };
  }
  const [first] = pieces;
  if (pieces.length > 1 || typeof first !== 'object' || first.kind !== 'value')
    return { code: jsPieces(pieces, writer), fits: takes === 'text' };
  const given = typeOf(first.expression, writer.scope);
  const code = js(first.expression, writer);
  if (given.kind === 'nothing') return { code: 'undefined', fits: true };
  if (takes === 'hidden' && given.kind === 'flag') return { code, fits: true };
  if (takes === 'boolean') {
    if (given.kind === 'flag') return { code, fits: true };
    return { code: given.absent ? `(${code}) !== undefined` : 'true', fits: true };
  }
  if (given.kind === 'flag') return { code: `(${code}) ? '' : undefined`, fits: takes === 'text' };
  if (given.kind === 'mixed')
    return { code: `(${code}) === true ? '' : (${code}) === false ? undefined : ${code}`, fits: false };
  if (takes === 'number') return { code, fits: given.kind === 'number' };
  if (takes === 'words')
    return { code, fits: given.kind === 'choice' && given.choices.every((word) => words.includes(word)) };
  return {
    code,
    fits: takes === 'text' && (given.kind !== 'number' || /^(width|height|value|defaultValue|data-)/.test(name)),
  };
}

/** The object of a `style` attribute, of which the declarations are known here, or else are read where it is rendered. */
function styleOf(attr: EmitAttr, writer: Writer): string {
  const [first] = attr.pieces;
  if (attr.pieces.length === 1 && typeof first === 'object' && first.kind === 'value')
    return styleOfExpression(first.expression, attr, writer);
  const code = styleText(attr, writer);
  if (code === null) return readWhenRendered(attr.pieces, writer);
  // the types of some runtimes know no custom properties
  const cast = writer.job.typed && code.includes("'--") ? ' as Record<string, string>' : '';
  return code + cast;
}

/** For a style of which the declarations are known only where it is rendered. */
function readWhenRendered(style: Piece[], writer: Writer): string {
  writer.module.usesStyles = true;
  writer.job.shared.add('styleObject');
  return `styleObject(${jsPieces(style, writer)})`;
}

function styleOfExpression(expression: Expression, attr: EmitAttr, writer: Writer): string {
  if (typeOf(expression, writer.scope).kind === 'style') return js(expression, writer);
  if (expression.kind === 'choose') {
    const [yes, no] = [expression.yes, expression.no].map((each) => styleOfExpression(each, attr, writer));
    return `${test(expression.test, false, writer)} ? ${yes} : ${no}`;
  }
  if (expression.kind !== 'literal') return readWhenRendered([{ kind: 'value', expression }], writer);
  return isSpelled(expression.value) ? styleOf({ ...attr, pieces: [expression.value.value] }, writer) : 'undefined';
}

/** The function that a prop is given as; what cannot be run does nothing. */
export function handlerText(value: EmitAttr, prop: string, writer: Writer): string {
  return handlerOf(value, prop, writer) ?? '() => undefined';
}

/** The object that a style is given as, and what that cannot say is told; null where its declarations are not known here. */
export function styleText(value: EmitAttr, writer: Writer): string | null {
  const style = styleObject(value.pieces, (pieces) => styleValue(pieces, writer));
  for (const message of style?.lost ?? []) unsayable(writer, value, `in a style object ${message}`);
  return style?.code ?? null;
}

/** The value of a declaration: always text, for runtimes take numbers as lengths in pixels. */
function styleValue(pieces: Piece[], writer: Writer): string {
  const code = jsPieces(pieces, writer);
  const [only] = pieces;
  const isNumber =
    pieces.length === 1 &&
    typeof only === 'object' &&
    only.kind === 'value' &&
    typeOf(only.expression, writer.scope).kind === 'number';
  return isNumber ? `\`\${${code}}\`` : code;
}

/** The function for an event handler attribute or a handler that a use gives; null when there can be none. */
function handlerOf(attr: EmitAttr, event: string, writer: Writer): string | null {
  const { job, module } = writer;
  const { name, pieces } = attr;
  const chosen = chosenHandler(attr, event, writer);
  if (chosen !== null) return chosen;
  const code = pieces.map((piece) => (typeof piece === 'string' ? piece : argumentOf(piece, writer)));
  const isReadable = code.every((part) => part !== null);
  const call = isReadable ? job.handlers.callOf(code, `${module.owner.replace(/\.x?html?$/i, '')} ${event}`) : null;
  if (call === null) {
    const isCode = plainText(pieces) !== null;
    const what = isCode ? 'is no JavaScript that can be read' : 'is put together from values, which no function is';
    unsayable(writer, attr, `the code of ${name} ${what}; it is left out`);
    return null;
  }
  module.handlerNames.add(call.name);
  if (call.given.length === 0) return call.name;
  const passed = call.given.some((each) => /\bevent\b/.test(each)) ? 'handled' : 'event';
  return `(${passed}) => ${call.name}(${[passed, ...call.given].join(', ')})`;
}

/** The function that an attribute's only value is, or of which it chooses one; null for another value. */
function chosenHandler({ pieces, ...attr }: EmitAttr, event: string, writer: Writer): string | null {
  const [only] = pieces;
  if (pieces.length !== 1 || typeof only !== 'object' || only.kind !== 'value') return null;
  const { expression } = only;
  if (typeOf(expression, writer.scope).kind === 'handler') return js(expression, writer);
  if (expression.kind !== 'choose') return null;
  const [yes, no] = [expression.yes, expression.no].map((each): string | null => {
    if (each.kind !== 'literal')
      return chosenHandler({ ...attr, pieces: [{ kind: 'value', expression: each }] }, event, writer);
    return isSpelled(each.value) ? handlerOf({ ...attr, pieces: [each.value.value] }, event, writer) : 'undefined';
  });
  return yes && no ? `${test(expression.test, false, writer)} ? ${yes} : ${no}` : null;
}

/** A value in the code of a handler; null for what is no text there. */
function argumentOf(piece: Exclude<Piece, string>, writer: Writer): Argument | null {
  const text = jsPieces([piece], writer);
  if (piece.kind === 'url') return { name: 'url', text, number: null };
  const { expression } = piece;
  const name = expression.kind === 'name' ? camelName(expression.path.at(-1)!) : 'value';
  const { kind, absent } = typeOf(expression, writer.scope);
  if (/^(handler|list|style)$/.test(kind)) return null;
  return {
    name,
    text: kind === 'number' ? `\`\${${text}}\`` : text,
    number: kind === 'number' && !absent ? js(expression, writer) : null,
  };
}
