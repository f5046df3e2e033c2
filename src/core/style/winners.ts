/**
 * Which declarations win (CSS Cascading and Inheritance Level 5). What only a running page decides, media queries and
 * `:hover` among it, is left open: for each element and longhand the answer is the list of declarations that win
 * somewhere, the strongest first, down to the first one that always holds. Two cascades give the same page in every
 * state when these lists are equal.
 */
import * as csstree from 'css-tree';
import type { Element } from '../page/tree.js';
import { attrOf } from '../page/tree.js';
import type { Cascade } from './cascade.js';
import type { Candidate } from './match.js';
import { longhandsOf } from './properties.js';
import { compareSpecificity, type Specificity } from './selector.js';
import { fold } from './sheet.js';
import { type Declaration, readDeclarations } from './syntax.js';
import { addTo } from '../groups.js';

/** A declaration as it applies to an element. */
export interface Entry {
  /** null for one of the `style` attribute */
  candidate: Candidate | null;
  declaration: Declaration;
  specificity: Specificity;
  layer: number;
  /** what must hold for it to apply */
  conditions: readonly string[];
  /** says what it is, wherever it stands */
  identity: string;
}

/** What `all` does not set. */
export const NOT_ALL = new Set(['direction', 'unicode-bidi']);
const valid = new Map<string, boolean>();

/** False for a value that a browser may not take, and then passes over. */
function isValid(property: string, value: string): boolean {
  if (property.startsWith('--') || /\b(?:var|env|attr)\(/i.test(value)) return true;
  const key = `${property}:${value}`;
  let known = valid.get(key);
  if (known === undefined) valid.set(key, (known = csstree.lexer.matchProperty(property, value).error === null));
  return known;
}

function entry(candidate: Candidate | null, declaration: Declaration, cascade: Cascade): Entry {
  const { property, value, important } = declaration;
  const conditions: string[] = [];
  let identity = `${property}:${fold(value)}${important ? '!' : ''}`;
  let layer = cascade.layers.get('') ?? 0;
  if (candidate !== null) {
    const { rule, use, selector } = candidate;
    conditions.push(...use.conditions, ...rule.conditions);
    if (!selector.exact) conditions.push(selector.text);
    identity += ` ${rule.unit.name} ${selector.text} ${conditions.join()} ${rule.sheet.path}`;
    if (!rule.sure) conditions.push(identity);
    layer = cascade.layers.get([...use.layers, ...rule.layers].join('.')) ?? layer;
  }
  if (!isValid(property, value)) conditions.push(identity);
  return {
    candidate,
    declaration,
    specificity: candidate?.selector.specificity ?? [0, 0, 0],
    layer,
    conditions,
    identity,
  };
}

/** Below zero when `a` is weaker. */
function compare(a: Entry, b: Entry): number {
  const important = Number(a.declaration.important) - Number(b.declaration.important);
  if (important !== 0) return important;
  // the style attribute stands above all layers, and above all selectors
  const inline = Number(a.candidate === null) - Number(b.candidate === null);
  if (inline !== 0 || a.candidate === null || b.candidate === null)
    return inline || a.declaration.start - b.declaration.start;
  const layer = (a.layer - b.layer) * (a.declaration.important ? -1 : 1);
  if (layer !== 0) return layer;
  const specificity = compareSpecificity(a.specificity, b.specificity);
  if (specificity !== 0) return specificity;
  const sheet = a.candidate.use.order - b.candidate.use.order;
  if (sheet !== 0) return sheet;
  return a.declaration.start - b.declaration.start;
}

/** The declarations that apply to an element, by pseudo-element and longhand: `::before color`. */
export type Applying = Map<string, Entry[]>;

/** What applies to an element that `matched` match; the style attribute counts too. In no order yet. */
export function applyingTo(element: Element, matched: readonly Candidate[], cascade: Cascade): Applying {
  const applying: Applying = new Map();
  const everything = new Map<string, Entry[]>();
  const push = (map: Map<string, Entry[]>, key: string, each: Entry) => {
    addTo(map, key, each);
  };
  const take = (pseudo: string, each: Entry) => {
    if (each.declaration.property === 'all') push(everything, pseudo, each);
    else
      for (const { name, sure } of longhandsOf(each.declaration.property))
        push(
          applying,
          `${pseudo} ${name}`,
          sure ? each : { ...each, conditions: [...each.conditions, `${each.identity} ${name}`] },
        );
  };
  for (const candidate of matched)
    for (const declaration of candidate.rule.declarations)
      take(candidate.selector.pseudo, entry(candidate, declaration, cascade));
  const style = attrOf(element, 'style');
  if (style !== undefined) for (const each of readDeclarations(style)) take('', entry(null, each, cascade));
  for (const [pseudo, all] of everything)
    for (const [key, list] of applying) {
      const [of, name] = key.split(' ');
      if (of === pseudo && !name!.startsWith('--') && !NOT_ALL.has(name!)) list.push(...all);
    }
  for (const [pseudo, all] of everything) applying.set(`${pseudo} all`, all);
  return applying;
}

/** Those that win somewhere, the strongest first. */
export function winnersOf(list: readonly Entry[]): Entry[] {
  const sorted = list.length < 2 ? list : [...list].sort((a, b) => compare(b, a));
  const winners: Entry[] = [];
  for (const each of sorted) {
    // one that holds whenever this does, and is stronger, leaves it nothing
    const covered = winners.some(({ conditions }) =>
      conditions.every((condition) => each.conditions.includes(condition)),
    );
    if (!covered) winners.push(each);
    if (each.conditions.length === 0) break;
  }
  return winners;
}

/** The first two winners in which two lists differ, null when they are alike. */
export function difference(before: readonly Entry[], after: readonly Entry[]): [Entry | null, Entry | null] | null {
  for (let i = 0; i < Math.max(before.length, after.length); i++)
    if (before[i]?.identity !== after[i]?.identity) return [before[i] ?? null, after[i] ?? null];
  return null;
}
