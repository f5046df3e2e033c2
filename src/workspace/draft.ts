/** The draft: what the developer decides about findings, in a file that they may edit; comments in it stay. */
import { existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { ValidationError } from 'joi';
import { type Place, Problem } from '../core/errors.js';
import { parseJson } from './json.js';

export const DRAFT = 'estrade.draft.json';

/** What is decided about one finding. */
export interface Decision {
  /** what it is recognised by: see `survey/keys` */
  key: string;
  /** what the survey calls it */
  finding: string;
  take: boolean;
  /** what the component is called */
  name: string;
  /** props and slots, by the survey's names, and what they are called instead */
  props: Record<string, string>;
  slots: Record<string, string>;
  /** selectors of what is poured in */
  pour: string[];
  /** props that keep their first value */
  fixed: string[];
  /** which way to cut it: see `estrade show` */
  cut: number;
}

export interface Draft {
  decisions: (Decision & { place: Place })[];
  /** the file as it is */
  source: string;
}

/** The draft of a project; null where there is none. @throws Problem with the place in the file */
export async function readDraft(root: string): Promise<Draft | null> {
  const file = join(root, DRAFT);
  if (!existsSync(file)) return null;
  const source = readFileSync(file, 'utf8');
  const { value, tree, placeOf } = await parseJson(DRAFT, source, 'the draft');
  const [{ default: Joi }, { findNodeAtLocation }] = await Promise.all([import('joi'), import('jsonc-parser')]);
  const names = Joi.object().pattern(Joi.string().allow(''), Joi.string()).default({});
  const decision = Joi.object({
    key: Joi.string().required(),
    finding: Joi.string().required(),
    take: Joi.boolean().strict().required(),
    name: Joi.string().required(),
    props: names,
    slots: names,
    pour: Joi.array().items(Joi.string()).default([]),
    fixed: Joi.array().items(Joi.string()).default([]),
    cut: Joi.number().integer().strict().min(1).default(1),
  });
  const schema = Joi.object({
    $schema: Joi.string(),
    format: Joi.valid(1).required(),
    findings: Joi.array().items(decision).required(),
  });
  const checked = schema.validate(value) as { value: { findings: Decision[] }; error?: ValidationError };
  const [detail] = checked.error?.details ?? [];
  if (detail !== undefined) {
    const isUnknown = detail.type === 'object.unknown';
    const node = findNodeAtLocation(tree, detail.path);
    const offset = (isUnknown ? node?.parent?.offset : node?.offset) ?? tree.offset;
    throw new Problem(detail.message.replace(/^"value"/, 'the draft'), {
      place: placeOf(offset),
      hint: `schema/draft.schema.json tells what may stand here; estrade draft adds what is missing`,
    });
  }
  const decisions = checked.value.findings.map((each, i) => ({
    ...each,
    place: placeOf(findNodeAtLocation(tree, ['findings', i])!.offset),
  }));
  return { decisions, source };
}

/** What a decision is told with, in comments. */
export interface Told {
  decision: Decision;
  comments: string[];
}

/** The draft with decisions added at its end; a new one where there is none. All that is there stays as it is. */
export async function withAdded(source: string | null, added: Told[]): Promise<string> {
  const entries = added.map(({ decision, comments }) =>
    [...comments.map((line) => `    // ${line}`), entryText(decision)].join('\n'),
  );
  if (source === null) return `${HEAD}${entries.join(',\n')}\n  ]\n}\n`;
  if (entries.length === 0) return source;
  const { findNodeAtLocation } = await import('jsonc-parser');
  const { tree } = await parseJson(DRAFT, source, 'the draft');
  const list = findNodeAtLocation(tree, ['findings'])!;
  const last = list.children?.at(-1);
  const at = last === undefined ? list.offset + 1 : last.offset + last.length;
  return `${source.slice(0, at)}${last === undefined ? '' : ','}\n${entries.join(',\n')}${source.slice(at)}`;
}

/** The draft with a decision changed, the rest of the file as it is. @param index which of its decisions */
export async function withChanged(source: string, index: number, decision: Decision): Promise<string> {
  const { applyEdits, modify } = await import('jsonc-parser');
  const formattingOptions = { insertSpaces: true, tabSize: 2 };
  let text = source;
  for (const [name, value] of Object.entries(decision)) {
    if (name === 'place') continue;
    text = applyEdits(text, modify(text, ['findings', index, name], value, { formattingOptions }));
  }
  return text;
}

const HEAD = `// What becomes of the findings: "take" lifts one, under "name", with "props" and "slots" under other names (on the right),
// "pour" for what goes into slots by a CSS selector, "fixed" for props that keep their first value, and "cut" for another
// way to cut it (estrade show lists them). estrade draft adds what is new; estrade lift does what stands here.
{
  "format": 1,
  "findings": [
`;

function entryText({ key, finding, take, name, props, slots, pour, fixed, cut }: Decision): string {
  const line = (field: string, value: unknown) => `      ${JSON.stringify(field)}: ${spaced(value)}`;
  const lines = Object.entries({ key, finding, take, name, props, slots, pour, fixed, cut }).map(([field, value]) =>
    line(field, value),
  );
  return `    {\n${lines.join(',\n')}\n    }`;
}

/** JSON in one line, with spaces where people expect them. */
function spaced(value: unknown): string {
  if (typeof value !== 'object' || value === null) return JSON.stringify(value);
  if (Array.isArray(value)) return `[${value.map(spaced).join(', ')}]`;
  const fields = Object.entries(value).map(([name, each]) => `${JSON.stringify(name)}: ${spaced(each)}`);
  return fields.length === 0 ? '{}' : `{ ${fields.join(', ')} }`;
}
