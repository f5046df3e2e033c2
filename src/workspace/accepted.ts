/**
 * What pages say otherwise because it was asked for, in a file that is committed with them: so that the pages can be
 * compared with a release from before, on any machine, and these changes pass and no others.
 */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { diffLines } from 'diff';
import type { ValidationError } from 'joi';
import { Problem } from '../core/errors.js';
import type { Unified } from '../core/lift/unify.js';
import { digest } from './files.js';
import { parseJson } from './json.js';
import type { PlannedFile } from './transaction.js';

export const ACCEPTED = 'estrade.accepted.json';

/** What changed on one page. */
export interface AcceptedPage {
  path: string;
  /** digest of the static page before, as UTF-8 text */
  of: string;
  /** for people: which props, and what they said and say */
  changes: Omit<Unified, 'path'>[];
  /** whole lines, in the order in which they stand; `line` is counted in the page before */
  lines: { line: number; was: string; now: string }[];
}

/** A static page before and after a change that was asked for. */
export interface ChangedPage {
  path: string;
  before: string;
  after: string;
  changes: Unified[];
}

/** The changes that were accepted so far; none where there is no file. @throws Problem with the place in the file */
export async function readAccepted(root: string): Promise<AcceptedPage[]> {
  const file = join(root, ACCEPTED);
  if (!existsSync(file)) return [];
  const { value, tree, placeOf } = await parseJson(
    ACCEPTED,
    readFileSync(file, 'utf8'),
    'the file of accepted changes',
  );
  const { default: Joi } = await import('joi');
  const count = Joi.number().integer().min(1).required();
  const text = Joi.string().allow('').required();
  const schema = Joi.object({
    format: Joi.valid(1).required(),
    pages: Joi.array()
      .items({
        path: Joi.string().required(),
        of: Joi.string().hex().length(64).required(),
        changes: Joi.array()
          .items({ line: count, column: count, prop: Joi.string().required(), was: text, now: text })
          .required(),
        lines: Joi.array().items({ line: count, was: text, now: text }).required(),
      })
      .required(),
  });
  const { error, value: valid } = schema.validate(value) as {
    error?: ValidationError;
    value: { pages: AcceptedPage[] };
  };
  if (error === undefined) return valid.pages;
  const { findNodeAtLocation } = await import('jsonc-parser');
  const { message, path } = error.details[0]!;
  throw new Problem(message, {
    place: placeOf((findNodeAtLocation(tree, path) ?? tree).offset),
    hint: `lift --unify writes this file; take it from your repository again`,
  });
}

/** The file with more changes in it, as it is to be written. */
export async function moreAccepted(root: string, pages: ChangedPage[]): Promise<PlannedFile> {
  const file = join(root, ACCEPTED);
  const made = pages.map(acceptedPage);
  const isKept = ({ path, of }: AcceptedPage) => !made.some((each) => each.path === path && each.of === of);
  const all = { format: 1, pages: [...(await readAccepted(root)).filter(isKept), ...made] };
  return {
    path: ACCEPTED,
    before: existsSync(file) ? readFileSync(file) : null,
    after: Buffer.from(`${JSON.stringify(all, null, 2)}\n`),
    origin: null,
  };
}

/** A change as the file keeps it. */
export function acceptedPage({ path, before, after, changes }: ChangedPage): AcceptedPage {
  const told = changes.map(({ line, column, prop, was, now }) => ({ line, column, prop, was, now }));
  return { path, of: digest(Buffer.from(before)), changes: told, lines: changedLines(before, after) };
}

function changedLines(before: string, after: string): AcceptedPage['lines'] {
  const lines: AcceptedPage['lines'] = [];
  let line = 1;
  let open: AcceptedPage['lines'][number] | null = null;
  for (const { value, added, removed, count } of diffLines(before, after)) {
    if (!added && !removed) open = null;
    else {
      if (open === null) lines.push((open = { line, was: '', now: '' }));
      if (removed) open.was += value;
      else open.now += value;
    }
    if (!added) line += count;
  }
  return lines;
}

/**
 * A static page with the changes that were accepted of it, one after another; as it is where none was.
 * @returns the text, and what of it is otherwise now
 */
export function withAccepted(
  accepted: AcceptedPage[],
  path: string,
  text: string,
): { text: string; unified: Unified[] } {
  const unified: Unified[] = [];
  const left = accepted.filter((each) => each.path === path);
  for (let now = text; ;) {
    const at = left.findIndex(({ of }) => of === digest(Buffer.from(now)));
    const [page] = at < 0 ? [] : left.splice(at, 1);
    if (page === undefined) return { text: now, unified };
    unified.push(...page.changes.map((change) => ({ path, ...change })));
    now = withLines(now, page.lines);
  }
}

function withLines(text: string, changes: AcceptedPage['lines']): string {
  // as the changes were cut into lines: at line feeds, which belong to the line before
  const lines = text.match(/[^\n]*\n|[^\n]+$/g) ?? [];
  let made = '';
  let at = 0;
  for (const { line, was, now } of changes) {
    made += lines.slice(at, line - 1).join('') + now;
    at = line - 1 + (was.match(/[^\n]*\n|[^\n]+$/g) ?? []).length;
  }
  return made + lines.slice(at).join('');
}
