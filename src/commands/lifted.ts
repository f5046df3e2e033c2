/** How a lift is told: as a patch, in a terminal, as JSON. */
import { placeText } from '../core/errors.js';
import type { LiftPlan } from '../core/lift/plan.js';
import type { Unified } from '../core/lift/unify.js';
import { lineCount } from '../core/page/parse.js';
import { alikeLeft, type Lifted } from '../operations/lift.js';
import { count, green, number, terminalWidth, yellow } from '../terminal/style.js';
import { oneLine, table } from '../terminal/table.js';
import { isVerbose } from '../terminal/voice.js';
import { ACCEPTED } from '../workspace/accepted.js';
import { isIgnored } from '../workspace/git.js';
import { JOURNAL } from '../workspace/journal.js';
import { movedJson, tellMoved } from './moved.js';
import { printPictured } from './picture-lines.js';
import { hint, print, printFirst, tell } from './printing.js';
import { samenessText } from './sameness.js';

/** Prints what was written, and how it is proven. */
export function printLift(lifted: Lifted): void {
  const { findings, plan, unified: changes, otherwise, encodings, moving, extended, pictured } = lifted;
  const rows = findings.flatMap((finding) => {
    const uses = plan.uses.get(finding.name) ?? 0;
    const path =
      finding.component?.path ?? plan.components.find((each) => each.path.endsWith(`/${finding.name}.html`))?.path;
    // one without uses in pages stands in the templates of others
    return path === undefined || (uses === 0 && finding.component !== null)
      ? []
      : [[finding.name, uses === 0 ? 'in others' : number(uses), path]];
  });
  const shown = isVerbose() ? rows : rows.slice(0, MOST_COMPONENTS);
  tell(
    table(
      [{ title: 'component' }, { title: 'uses', align: 'right', fixed: true }, { title: 'file' }],
      shown,
      terminalWidth(),
    ),
  );
  if (shown.length < rows.length)
    hint(`… and ${count(rows.length - shown.length, 'more component')}: estrade roster lists all`);
  const { before, after } = lines(plan);
  const rewritten = [count(plan.pages.length, 'page'), count(plan.templates.length, 'component')].filter(
    (told) => !told.startsWith('0 '),
  );
  tell(`\n${rewritten.join(' and ')} rewritten: ${number(before)} lines became ${number(after)}, components included.`);
  if (plan.data.length > 0) tell(`Lists too long for a page: ${plan.data.map(({ path }) => path).join(', ')}.`);
  const same = samenessText([...plan.pages, ...plan.proven].map((page) => page.same));
  tell(`${green('Proven from disk:')} ${same}${changes.length > 0 ? ', and for what was unified' : ''}.`);
  if (pictured !== null) printPictured(pictured);
  if (extended !== null) {
    print(
      `${green('widened')}  ${extended.finding.name}: ${extended.added.join('; ')}; its uses so far are as they were`,
    );
    for (const each of extended.rest) print(yellow(`left as it was: ${each}`));
  }
  for (const each of changes) print(`${yellow('unified')}  ${unifiedText(each)}`);
  for (const { prop, was, now, ...place } of otherwise)
    print(yellow(`${placeText(place)}: ${prop} is still "${oneLine(was)}" where most have "${oneLine(now)}"`));
  if (otherwise.length > 0) hint(`--unify ${propsOf([...changes, ...otherwise])} takes that too, after estrade undo.`);
  if (changes.length > 0) hint(`${ACCEPTED} keeps what was unified, for check --against: commit it with the pages.`);
  printFirst(
    alikeLeft(plan.leftOut).map((each) => yellow(`left as it was: ${each}`)),
    MOST_LEFT,
    'reason',
  );
  for (const { path, encoding, alone } of encodings)
    print(
      yellow(`${path} is in ${encoding}, which only the journal tells now: by itself it would be read as ${alone}`),
    );
  if (moving !== null) tellMoved(moving.plan);
}

/** So many components are printed. */
const MOST_COMPONENTS = 30;

/** So many reasons are printed why something was left. */
const MOST_LEFT = 10;

function propsOf(changes: Unified[]): string {
  return [...new Set(changes.map(({ prop }) => prop))].join(',');
}

/** What the folder is that the first lift leaves, and how git is told to leave it out. */
export async function tellJournal(root: string): Promise<void> {
  const about = `${JOURNAL}/ keeps what undo and check need; it belongs to this machine`;
  const ignored = await isIgnored(root, `${JOURNAL}/entries`);
  if (ignored === true) hint(`${about}.`);
  else if (ignored === null) hint(`${about}, and is not to be committed.`);
  else tell(`${about}. Leave it out of git: echo ${JOURNAL}/ >> .gitignore`);
}

/** `page:line:column: prop "was" became "now"`. */
export function unifiedText({ prop, was, now, ...place }: Unified): string {
  return `${placeText(place)}: ${prop} "${oneLine(was)}" became "${oneLine(now)}"`;
}

function lines(plan: LiftPlan): { before: number; after: number } {
  const sum = (sources: string[]) => sources.reduce((total, source) => total + lineCount({ source }), 0);
  return {
    before: sum([...plan.pages, ...plan.templates].map(({ before }) => before)),
    after: sum([
      ...[...plan.pages, ...plan.templates].map(({ after }) => after),
      ...plan.components.map(({ source }) => source),
      ...plan.data.map(({ text }) => text),
    ]),
  };
}

export function liftJson({
  findings,
  plan,
  written,
  unified: changes,
  otherwise,
  encodings,
  moving,
  extended,
  pictured,
}: Lifted) {
  return {
    format: 1,
    written,
    components: findings
      .filter(
        ({ name }) =>
          (plan.uses.get(name) ?? 0) > 0 || plan.components.some(({ path }) => path.endsWith(`/${name}.html`)),
      )
      .map((finding) => ({
        name: finding.name,
        path: plan.registry.get(finding.name)!.path,
        new: finding.component === null,
        uses: plan.uses.get(finding.name) ?? 0,
      })),
    data: plan.data.map(({ path }) => path),
    pages: plan.pages.map(({ path, uses, same }) => ({ path, uses, same })),
    templates: plan.templates.map(({ path, uses }) => ({ path, uses })),
    proven: plan.proven,
    lines: lines(plan),
    leftOut: plan.leftOut,
    unified: changes,
    otherwise,
    encodings,
    extended: extended && { component: extended.finding.name, added: extended.added, rest: extended.rest },
    styles: moving === null ? null : movedJson(moving.plan),
    ...(pictured === null ? {} : { pictured }),
  };
}
