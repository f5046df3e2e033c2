/** `review`: goes through the findings one by one in the terminal, and keeps what is decided in the draft. */
import type { Command } from 'commander';
import { Problem } from '../core/errors.js';
import { findingFor, keysOf } from '../core/survey/keys.js';
import type { Finding } from '../core/survey/types.js';
import { decisionFor } from '../operations/decided.js';
import { keepAll } from '../operations/keeping.js';
import { tellNotices } from '../operations/notices.js';
import { type Surveyed, surveyLoaded } from '../operations/survey.js';
import type { ThresholdOptions } from '../operations/thresholds.js';
import { count, green } from '../terminal/style.js';
import { findProject } from '../workspace/config.js';
import { type Decision, DRAFT, type Draft, readDraft } from '../workspace/draft.js';
import { locked } from '../workspace/lock.js';
import { loadPages, openProject } from '../workspace/project.js';
import { withThresholds } from './options.js';
import { hint, print, tellUnreadable } from './printing.js';
import { alikeIn, type Review, reviewText } from './reviewed.js';

export function define(program: Command): void {
  withThresholds(program.command('review'))
    .description('go through the findings one by one and decide about each; lifts nothing')
    .addHelpText(
      'after',
      `\nExample:\n  estrade review, then estrade lift\n\nWithout a terminal: estrade draft, and edit ${DRAFT}.`,
    )
    .action(async (options: ThresholdOptions) => {
      if (!process.stdin.isTTY || !process.stdout.isTTY)
        throw new Problem('there is no terminal to ask in', {
          hint: `estrade draft writes the same decisions into ${DRAFT}, to be edited`,
        });
      const cwd = process.cwd();
      await locked((await findProject(cwd)).root, () => review(cwd, options));
    });
}

async function review(cwd: string, options: ThresholdOptions): Promise<void> {
  const project = await openProject(cwd);
  tellNotices(project);
  const loaded = await loadPages(project, project.root, []);
  const known = await readDraft(project.root);
  const survey = (draft: Draft | null) => surveyLoaded(project, loaded, options, draft);
  const plain = survey(null);
  const { findings } = plain;
  if (findings.length === 0) throw new Problem('the survey finds nothing to decide', { exit: 1 });
  const keys = keysOf(findings);
  const before = new Map(known?.decisions.map((decision) => [findingFor(decision, keys), decision]));
  const state: Review = {
    plain,
    decisions: findings.map((finding) => before.get(finding) ?? decisionFor(finding, keys.get(finding)!)),
    decided: new Set(findings.flatMap((finding, i) => (before.has(finding) ? [i] : []))),
    shown: known === null ? findings : survey(known).findings,
  };
  const fresh = new Set<number>();
  const isInterrupted = await ask(state, fresh, survey);
  await keepAll(
    project.root,
    findings,
    [...fresh].map((i) => state.decisions[i]!),
  );
  const taken = state.decisions.filter(({ take }, i) => take && state.decided.has(i)).length;
  const left = findings.length - state.decided.size;
  print(
    `${isInterrupted ? 'Interrupted. ' : ''}${green('Kept')} in ${DRAFT}: ${count(fresh.size, 'decision')}; ${taken} to take${left === 0 ? '' : `, ${left} not decided`}.`,
  );
  if (!isInterrupted) hint('Next: estrade lift --dry-run, estrade lift');
  if (isInterrupted) process.exitCode = 130;
  else if (tellUnreadable(loaded.unreadable)) process.exitCode = 2;
}

/** Plain text before a question: a coloured mark says nothing. */
const THEME = { prefix: '' };

type Answer = 'take' | 'name' | 'props' | 'cut' | 'leave' | 'alike' | 'back' | 'stop';

/**
 * Asks about one finding after the other, from the first that is not decided yet.
 * @param fresh numbers of the findings that are decided here
 * @returns whether it was interrupted
 */
async function ask(state: Review, fresh: Set<number>, survey: (draft: Draft) => Surveyed): Promise<boolean> {
  const { select } = await import('@inquirer/prompts');
  const { decisions, decided } = state;
  const next = decisions.findIndex((_, i) => !decided.has(i));
  let at = next < 0 ? 0 : next;
  let note = '';
  const decide = (i: number, decision: Decision) => {
    decisions[i] = decision;
    decided.add(i);
    fresh.add(i);
  };
  try {
    while (at < decisions.length) {
      const decision = decisions[at]!;
      console.clear();
      print(reviewText(state, at));
      print(note === '' ? '' : `\n${note}\n`);
      note = '';
      const answer = await select<Answer>({
        message: `What becomes of ${decision.name}?`,
        theme: THEME,
        choices: choicesFor(state, at),
        default: decided.has(at) && !decision.take ? 'leave' : 'take',
        loop: false,
        pageSize: 10,
      });
      if (answer === 'stop') return false;
      if (answer === 'back') at = Math.max(0, at - 1);
      else if (answer === 'take' || answer === 'leave') decide(at++, { ...decision, take: answer === 'take' });
      else if (answer === 'alike') {
        for (const i of [at, ...alikeIn(state, at)]) decide(i, { ...decisions[i]!, take: false });
        at++;
      } else {
        const changed = await change(answer, decision, state, at);
        const tried = decisions
          .map((each, i) => (i === at ? changed : each))
          .filter((_, i) => i === at || decided.has(i));
        try {
          const place = { path: DRAFT, line: 1, column: 1 };
          state.shown = survey({ decisions: tried.map((each) => ({ ...each, place })), source: '' }).findings;
          decide(at, changed);
          // names are settled with it; props and cuts are looked at once more
          if (answer === 'name') at++;
        } catch (error) {
          if (!(error instanceof Problem)) throw error;
          note = [error.message, error.hint ?? ''].filter((text) => text !== '').join('\n  ');
        }
      }
    }
    return false;
  } catch (error) {
    if ((error as Error).name === 'ExitPromptError') return true;
    throw error;
  }
}

function choicesFor(state: Review, at: number): { value: Answer; name: string }[] {
  const finding = state.plain.findings[at]!;
  const decision = state.decisions[at]!;
  const isNew = finding.component === null;
  const cuts = isNew ? state.plain.cutsOf(finding).length : 1;
  const alike = alikeIn(state, at).length;
  const choices: [Answer, string, boolean][] = [
    ['take', `take it${isNew ? `, as ${decision.name}` : ''}`, true],
    ['name', 'take it under another name', isNew],
    ['props', 'rename its props', isNew && Object.keys(decision.props).length > 0],
    ['cut', `cut it another way (${count(cuts - 1, 'other')})`, cuts > 1],
    ['leave', 'leave it', true],
    ['alike', `leave all like it (${count(alike, 'more', 'more')})`, alike > 0],
    ['back', 'back', at > 0],
    ['stop', 'stop, and keep what is decided', true],
  ];
  return choices.filter(([, , isOffered]) => isOffered).map(([value, name]) => ({ value, name }));
}

/** The decision as it is wished for. */
async function change(
  answer: 'name' | 'props' | 'cut',
  decision: Decision,
  { plain }: Review,
  at: number,
): Promise<Decision> {
  const { input, select } = await import('@inquirer/prompts');
  const isGiven = (text: string) => text.trim() !== '' || 'a name is needed';
  if (answer === 'name') {
    const name = await input({ message: 'its name:', theme: THEME, default: decision.name, validate: isGiven });
    return { ...decision, take: true, name: name.trim() };
  }
  if (answer === 'props') {
    const from = await select({
      message: 'which prop?',
      theme: THEME,
      choices: Object.entries(decision.props).map(([own, now]) => ({
        value: own,
        name: own === now ? own : `${now} (${own})`,
      })),
    });
    const to = await input({
      message: `what is ${decision.props[from]!} called?`,
      theme: THEME,
      default: decision.props[from]!,
      validate: isGiven,
    });
    return { ...decision, take: true, props: { ...decision.props, [from]: to.trim() } };
  }
  const cuts = plain.cutsOf(plain.findings[at]!);
  const cut = await select({
    message: 'which way?',
    theme: THEME,
    choices: cuts.map(({ what, finding }, i) => ({
      value: i + 1,
      name: `${what}: ${finding.name}, ${count(finding.props.length, 'prop')}`,
    })),
    default: decision.cut,
  });
  const made: Finding = cuts[cut - 1]!.finding;
  return { ...decisionFor(made, decision.key), finding: decision.finding, take: true, cut };
}
