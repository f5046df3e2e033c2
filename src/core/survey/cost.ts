/** What a component costs and saves: the length of all that is written, before and after (description length). */
import { eolOf, indentAt } from '../page/parse.js';
import type { General } from '../template/generalise.js';
import { needsTemplateForm } from '../template/form.js';
import { componentFile } from '../template/write.js';
import { isText, placesIn, runsOf } from '../template/pattern.js';
import type { Child } from '../page/tree.js';
import { burdenOf, longest } from '../template/weigh.js';
import type { Amount } from './choose.js';
import { pouredAt, useText, valuesAt } from '../template/use.js';

export interface Measured {
  /** what each place saves: the fragment, less its use */
  gains: Amount[];
  /** what the component file takes */
  cost: Amount;
}

/** Measures the group, its component file written from any occurrence: for ranking, before layouts are compared. */
export function measure(name: string, general: General, file = componentFile(name, general, 0)): Measured {
  const uses = usesOf(name, general);
  const gains = general.occurrences.map(({ page, element, end }, i): Amount => {
    const fragment = page.source.slice(element.start, end);
    return { lines: breaks(fragment) - breaks(uses[i]!), bytes: byteLength(fragment) - byteLength(uses[i]!) };
  });
  return { gains, cost: { lines: countLines(file), bytes: byteLength(file) } };
}

/** Length of the tags around a part that comes and goes. */
const BLOCK = '<template when=""></template>'.length + 8;
/** Length of a component's and of a prop's name as they usually are. */
const USUAL_NAME = 14;
const USUAL_PROP = 6;

/** The uses of a generalised group, one an occurrence. */
export function usesOf(name: string, general: General): string[] {
  const { props, slots } = general;
  return general.occurrences.map((occurrence, i) => {
    const { page, element } = occurrence;
    const content = { values: valuesAt(props, i), slots: pouredAt(slots, occurrence, i) };
    const form = needsTemplateForm(element, slots) ? 'template' : 'tag';
    return useText(name, props, content, form, {
      indent: indentAt(page.source, element.start),
      eol: eolOf(page.source),
    });
  });
}

/** Length of the tags around what is poured into a named slot, or of those around a list. */
const NAMED_SLOT = '<template slot=""></template>'.length + 8;
const JSON_BLOCK = '<script type="application/json" slot=""></script>'.length + 8;
const RECORD = 8;
const EACH = '<template each="" of=""></template>'.length + 14;

/** Share of its length that poured-in markup counts as a cost: of two frames the one that moves less is the better cut. */
const POURED = 0.05;

/** What a component costs those who read it, in bytes: markup poured in, and parts that come and go. */
export function burden(general: General): number {
  return Math.round(pouredBurden(general) + blockBurden(general));
}

function pouredBurden({ slots }: General): number {
  let bytes = 0;
  for (const { ranges } of slots)
    for (const range of ranges) bytes += range === null ? 0 : (range[1] - range[0]) * POURED;
  return bytes;
}

function blockBurden({ root }: General): number {
  let bytes = 0;
  for (const { pattern } of placesIn(root))
    for (const [number, run] of runsOf(pattern).entries()) bytes += burdenOf(run, number);
  return bytes;
}

/**
 * Bytes that the group saves, less its burden, estimated from lengths alone: cheap enough to ask for every group.
 * @param count how many places there are, when the occurrences are a sample of them
 */
export function estimate(general: General, count = general.occurrences.length): number {
  const { occurrences, props, blocks, slots } = general;
  const poured = occurrences.map((_, i) => {
    const ranges = slots.flatMap(({ ranges }) => (ranges[i] ? [ranges[i]] : []));
    return ranges.reduce((sum, [start, end]) => sum + end - start, 0);
  });
  const listed = occurrences.map(() => 0);
  const records = occurrences.map(() => 0);
  let fixed = blockBurden(general) + 2 * USUAL_NAME + slots.length * 20;
  for (const { list } of props) {
    if (list === undefined) continue;
    const { pattern, items } = list;
    pattern.items.forEach(({ element, end }, k) => {
      const owner = pattern.owners[k]!;
      listed[owner]! += end - element.start;
      records[owner]! +=
        RECORD + items.props.reduce((sum, { values }) => sum + USUAL_PROP + 6 + lengthOf(values[k]!), 0);
    });
    fixed += EACH + longest(pattern.items, ({ element, end }) => end - element.start);
    fixed += items.props.length * (30 + USUAL_PROP) + items.blocks.length * BLOCK;
  }
  // the longest occurrence, whichever comes first, stands for the template
  const lengths = occurrences.map(({ element, end }, i) => end - element.start - poured[i]! - listed[i]!);
  const most = lengths.indexOf(longest(lengths, (length) => length));
  fixed += lengths[most]! + props.length * (30 + USUAL_PROP);
  for (const { patterns, presence } of blocks) {
    fixed += BLOCK;
    if (presence[most] === true) continue;
    // what that one lacks is written all the same
    for (const { nodes } of patterns) fixed += longest<Child>(nodes, (node) => node.end - node.start);
  }
  const named = slots.length > 1 ? NAMED_SLOT * slots.length : 0;
  let saved = -pouredBurden(general);
  occurrences.forEach((_, i) => {
    saved += lengths[i]! + listed[i]! - records[i]! - (records[i]! > 0 ? JSON_BLOCK : 0) - 5 - 2 * USUAL_NAME - named;
    for (const { values, default: usual, list } of props) {
      const value = values[i] ?? false;
      if (list !== undefined || Array.isArray(value)) continue;
      if (typeof value === 'boolean') saved -= value ? USUAL_PROP + 1 : 0;
      else if (value.value !== usual?.value) saved -= USUAL_PROP + 4 + value.raw.length;
    }
  });
  return (saved * count) / occurrences.length - fixed;
}

function lengthOf(value: General['props'][number]['values'][number]): number {
  return isText(value) ? value.raw.length : 0;
}

/** Length in UTF-8, counted without encoding it. */
export function byteLength(text: string): number {
  let length = text.length;
  for (let i = 0; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (code > 0x7f) length += code > 0x7ff && (code < 0xd800 || code > 0xdfff) ? 2 : 1;
  }
  return length;
}

function breaks(text: string): number {
  let count = 0;
  for (let i = text.indexOf('\n'); i >= 0; i = text.indexOf('\n', i + 1)) count++;
  return count;
}

function countLines(file: string): number {
  return breaks(file) + (file.endsWith('\n') ? 0 : 1);
}
