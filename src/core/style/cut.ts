/**
 * Taking units out of a stylesheet: what moves leaves with its comment and the at-rules around it, a marker stays where
 * it stood, and every other byte stays.
 */
import type { Filled } from './fill.js';
import { isGrouping, type Rule } from './syntax.js';
import { firstNotBefore } from '../search.js';
import type { Sheet, Unit } from './sheet.js';
import { folderOf, moveUrls } from '../page/url.js';
import { leadAt, movedUrls, reindent } from './text.js';

/** Adjacent nodes that move together: units, and at-rules that hold nothing else. */
interface Run {
  /** at-rules around it that stay */
  around: Rule[];
  nodes: Rule[];
  units: Unit[];
  start: number;
  end: number;
}

/** What moves into one component. */
export interface Share {
  component: string;
  /** the component file */
  path: string;
  units: Unit[];
  /** the marker stands where this unit stood */
  anchor: Unit;
}

interface Edit {
  start: number;
  end: number;
  text: string;
  /** of those at one place */
  order: number;
}

/** The runs in which units leave, in source order. */
export function runsOf(sheet: Sheet, units: ReadonlySet<Unit>): Run[] {
  const byNode = new Map([...units].map((unit) => [unit.node, unit]));
  const holders = new Set([...units].flatMap(({ around }) => around));
  const first = Math.min(...[...byNode.keys()].map(({ start }) => start));
  const last = Math.max(...[...byNode.keys()].map(({ start }) => start));
  const runs: Run[] = [];
  const below = (node: Rule): Unit[] | null => {
    const unit = byNode.get(node);
    if (unit !== undefined) return [unit];
    if (!holders.has(node) || node.children === null) return null;
    const inner = node.children.map((child) => (child.kind === 'rule' ? below(child) : null));
    return inner.includes(null) ? null : inner.flatMap((each) => each!);
  };
  const visit = (nodes: Rule[], around: Rule[]) => {
    let open: Run | null = null;
    for (let i = firstNotBefore(nodes, ({ end }) => end <= first); i < nodes.length && nodes[i]!.start <= last; i++) {
      const node = nodes[i]!;
      const moved = below(node);
      if (moved !== null) {
        // what a style element cannot hold stays where it is
        if (open !== null && ENDS_STYLE.test(sheet.source.slice(open.end, node.start))) open = null;
        if (open === null) runs.push((open = { around, nodes: [], units: [], start: startOf(sheet, node), end: 0 }));
        open.nodes.push(node);
        open.units.push(...moved);
        open.end = endOf(sheet, node);
        continue;
      }
      open = null;
      if (holders.has(node) && node.children !== null)
        visit(
          node.children.filter((child): child is Rule => child.kind === 'rule'),
          [...around, node],
        );
    }
  };
  visit(sheet.nodes, []);
  return runs;
}

/** Where a node starts: with the comment directly above it, from the start of its line when nothing else is on it. */
function startOf({ source }: Sheet, node: Rule): number {
  let start = node.start;
  for (;;) {
    const before = source.slice(Math.max(0, start - NEAR), start);
    const comment = /\/\*(?:[^*]|\*(?!\/))*\*\/[ \t]*(?:\r\n|\n|\r)?[ \t]*$/.exec(before);
    if (comment === null || ENDS_STYLE.test(comment[0])) return start;
    const at = start - comment[0].length;
    // one at the top of the sheet is about all of it
    if (at < NEAR && source.slice(0, at).trim() === '') return start;
    // one behind something else on its line belongs to that
    if (leadAt(source, at) === null && /[\n\r]/.test(comment[0])) return start;
    start = at;
  }
}

/** What ends a style element wherever it stands. */
const ENDS_STYLE = /<\/style/i;

/** So many characters above a rule, its comment is looked for. */
const NEAR = 4000;

/** Where a node ends: with the comment behind it on its line. */
function endOf({ source }: Sheet, node: Rule): number {
  const comment = /^[ \t]*\/\*(?:[^*\n\r]|\*(?!\/))*\*\/(?=[ \t]*(?:[\n\r]|$))/.exec(
    source.slice(node.end, node.end + 400),
  );
  return node.end + (comment === null || ENDS_STYLE.test(comment[0]) ? 0 : comment[0].length);
}

/** The at-rules that stand around all runs: a marker within them needs no others. */
function commonAround(runs: Run[]): Rule[] {
  const [first, ...others] = runs;
  return first!.around.filter((node, i) => others.every(({ around }) => around[i] === node));
}

/** Where the marker of a share stands: before its run, or before the at-rule around that which not all share. */
function anchorOf(runs: Run[], anchor: Unit): { start: number; unit: Unit } {
  const next = (run: Run) => run.units.at(-1)!.at >= anchor.at;
  const chosen = runs.find(next) ?? runs.at(-1)!;
  const holder = chosen.around[commonAround(runs).length];
  if (holder === undefined) return { start: chosen.start, unit: chosen.units[0]! };
  const unit = chosen.units[0]!.sheet.units.find(({ node }) => node.start >= holder.start)!;
  return { start: holder.start, unit };
}

/** Where the units of shares come to stand in source order, as numbers beside those of the units that stay. */
export function positionsAfter(sheet: Sheet, shares: Share[]): Map<Unit, number> {
  const positions = new Map<Unit, number>();
  shares.forEach(({ units, anchor }, i) => {
    if (units.length === 0) return;
    const runs = runsOf(sheet, new Set(units));
    const { unit } = anchorOf(runs, anchor);
    const inOrder = runs.flatMap((each) => each.units);
    inOrder.forEach((each, k) => positions.set(each, unit.at - 0.5 + i * 1e-4 + k * 1e-8));
  });
  return positions;
}

/** Why a unit cannot move into the component file at `path`, null when it can. */
export function refusal({ sheet, node, around, kind, name }: Unit, path: string): string | null {
  const text = sheet.source.slice(node.start, node.end);
  if (sheet.element > 0) return 'it stands in a style element';
  if (around.some((each) => each.name === 'layer' && each.prelude === ''))
    return 'its layer has no name to be found by';
  const scopes = around.filter(({ name: rule }) => rule === 'scope').map(({ prelude }) => prelude);
  if (kind === 'rule' && !/[.#[]/.test([name, ...scopes].join()))
    return 'it names no class, id or attribute, and may be meant for more';
  if (ENDS_STYLE.test(text)) return 'it holds what would end a style element';
  if (/\\[\n\r]/.test(text)) return 'it holds a string of several lines';
  return moveUrls(text, 'css', folderOf(sheet.path), folderOf(path)) === null
    ? 'a url() in it leads out of the project'
    : null;
}

/**
 * Cuts shares out of a sheet, whose markers are filled in; gives back what is left of it, with the markers it had, and what
 * goes to each component.
 */
export function cutShares(
  sheet: Sheet,
  shares: Share[],
  filled: Filled['ranges'],
): { text: string; styles: Map<string, string> } {
  const { source } = sheet;
  const edits: Edit[] = filled.map(({ start, end, marker }) => ({ start, end, text: marker, order: -2 }));
  const styles = new Map<string, string>();
  shares.forEach(({ component, path, units, anchor: at }, order) => {
    if (units.length === 0) return;
    const runs = runsOf(sheet, new Set(units));
    const common = commonAround(runs);
    const anchor = anchorOf(runs, at);
    const marker = `@component ${component};`;
    for (const each of runs) {
      const here = each.start === anchor.start;
      edits.push(
        here
          ? { start: each.start, end: each.end, text: marker, order }
          : { ...wholeLines(source, each), text: '', order },
      );
    }
    if (!runs.some(({ start }) => start === anchor.start)) {
      const eol = /[\n\r]/.test(source) ? '\n' : '';
      edits.push({
        start: anchor.start,
        end: anchor.start,
        text: `${marker}${eol}${leadAt(source, anchor.start) ?? ''}`,
        order,
      });
    }
    styles.set(component, movedUrls(styleText(source, runs, common.length), sheet.path, path));
  });
  edits.push(...emptied(sheet, shares));
  edits.sort((a, b) => a.start - b.start || a.end - b.end || a.order - b.order);
  let text = '';
  let at = 0;
  for (const edit of edits) {
    // what stands in a part that goes as a whole goes with it
    if (edit.end <= at && edit.text === '' && edit.start < at) continue;
    text += source.slice(at, Math.max(at, edit.start)) + edit.text;
    at = Math.max(at, edit.end);
  }
  return { text: text + source.slice(at), styles };
}

/** A range with the rest of its lines, when nothing else stands on them, and with one of two blank lines around it. */
function wholeLines(source: string, { start, end }: { start: number; end: number }): { start: number; end: number } {
  const lead = leadAt(source, start);
  const trail = /^[ \t]*(?:\r\n|\n|\r|$)/.exec(source.slice(end, end + 200));
  if (lead === null || trail === null) {
    // on a line with others, one of two spaces around it is enough
    const space = /[\s{}]/.test(source[start - 1] ?? ' ') ? /^[ \t]*/.exec(source.slice(end, end + 200))![0].length : 0;
    return { start, end: end + space };
  }
  const from = start - lead.length;
  let to = end + trail[0].length;
  const blankAbove = /(?:^|\n|\r)[ \t]*(?:\r\n|\n|\r)$/.test(source.slice(Math.max(0, from - 200), from)) || from === 0;
  const blankBelow = /^[ \t]*(?:\r\n|\n|\r)/.exec(source.slice(to, to + 200));
  if (blankAbove && blankBelow !== null) to += blankBelow[0].length;
  return { start: from, end: to };
}

/** At-rules that hold nothing any more. */
function emptied(sheet: Sheet, shares: Share[]): Edit[] {
  const gone = new Set(shares.flatMap(({ units }) => units.map(({ node }) => node)));
  const edits: Edit[] = [];
  const markers = shares
    .filter(({ units }) => units.length > 0)
    .map(({ units, anchor }) => anchorOf(runsOf(sheet, new Set(units)), anchor).start);
  const visit = (node: Rule): boolean => {
    if (gone.has(node)) return true;
    if (!isGrouping(node.name) || node.children === null || node.children.length === 0) return false;
    const all = node.children.map((child) => child.kind === 'rule' && visit(child)).every((each) => each);
    if (!all) return false;
    let at = node.bodyStart;
    const between = node.children.map((child) => {
      const gap = sheet.source.slice(at, startOf(sheet, child as Rule));
      at = endOf(sheet, child as Rule);
      return gap;
    });
    const comments = [...between, sheet.source.slice(at, node.bodyEnd)].some((gap) => gap.includes('/*'));
    const marked = markers.some((start) => start > node.start && start < node.end);
    if (comments || marked) return false;
    edits.push({ ...wholeLines(sheet.source, node), text: '', order: -1 });
    return true;
  };
  sheet.nodes.forEach(visit);
  return edits;
}

/** The runs as one text, each in the at-rules that are not around the marker. */
function styleText(source: string, runs: Run[], common: number): string {
  const parts: { around: Rule[]; text: string }[] = [];
  for (const { around, start, end } of runs) {
    const own = around.slice(common);
    const text = reindent(source.slice(start, end).trim(), leadAt(source, start) ?? '', '').trim();
    const last = parts.at(-1);
    const alike = own.length === last?.around.length && own.every((node, i) => node === last.around[i]);
    if (last !== undefined && alike) last.text += `\n${text}`;
    else parts.push({ around: own, text });
  }
  return parts
    .map(({ around, text }) =>
      around.reduceRight(
        (inner, { name, prelude }) => `@${name!} ${prelude} {\n  ${reindent(inner, '', '  ')}\n}`,
        text,
      ),
    )
    .join('\n');
}
