/** What `review` shows of a finding: what it is, three places, its file and a use, its numbers, and what is decided. */
import { placeText } from '../core/errors.js';
import { placeAt } from '../core/page/parse.js';
import type { Finding } from '../core/survey/types.js';
import type { Surveyed } from '../operations/survey.js';
import { savedText } from '../terminal/saved.js';
import { bold, count, dim, green, terminalWidth, yellow } from '../terminal/style.js';
import type { Decision } from '../workspace/draft.js';
import { dedent, indent } from './show.js';

export interface Review {
  /** the survey without the draft */
  plain: Surveyed;
  /** one a finding, in its order */
  decisions: Decision[];
  /** numbers of the findings that are decided */
  decided: Set<number>;
  /** findings as they are decided */
  shown: Finding[];
}

/** So many places are shown, and so many lines of a file and of a use. */
const PLACES = 3;

const USE_LINES = 4;

/** Lines that the rest of the screen takes. */
const OTHER_LINES = 24;

/** Numbers of the findings that are not decided and begin alike: with the same tag and first class word. */
export function alikeIn({ decisions, decided }: Review, at: number): number[] {
  const beginning = (key: string) => key.split(' ')[0]!.split('.').slice(0, 2).join('.');
  const own = decisions[at]!.key;
  if (own.startsWith('uses of ')) return [];
  return decisions.flatMap(({ key }, i) =>
    i !== at && !decided.has(i) && beginning(key) === beginning(own) ? [i] : [],
  );
}

export function reviewText(state: Review, at: number): string {
  const { plain, decisions, decided, shown } = state;
  const finding = shown[at]!;
  const { kind, occurrences, saved, component, props, slots } = finding;
  const on = new Set(occurrences.map(({ page }) => page)).size;
  const all = plain.findings.length;
  const decision = decisions[at]!;
  const verdict = !decided.has(at) ? dim('not decided') : decision.take ? green('to take') : yellow('to leave');
  const places = occurrences
    .slice(0, PLACES)
    .map(({ page, element }) => `  ${placeText(placeAt(page, element.start))}`);
  const more = occurrences.length - places.length;
  const takes = `${count(props.length, 'prop')}, ${count(slots.length, 'slot')}`;
  const lines = [
    `${dim(`${at + 1} of ${all}`)}  ${bold(finding.name)}  ${verdict}`,
    `${kind}, ${count(occurrences.length, 'place')} on ${count(on, 'page')}, ${takes}; ${finding.recommended ? green('recommended') : (finding.reason ?? '')}; ${savedText(saved)}`,
    ...places,
    ...(more > 0 ? [dim(`  … and ${more} more`)] : []),
    '',
    dim(component === null ? 'The component file:' : `More uses of ${component.path}:`),
  ];
  if (component === null) lines.push(shortened(finding.file.trimEnd(), Math.max(8, process.stdout.rows - OTHER_LINES)));
  lines.push('', dim('A use:'), shortened(dedent(finding.uses[0]!), USE_LINES));
  return lines.join('\n');
}

function shortened(text: string, most: number): string {
  const lines = text.split('\n').map((line) => {
    const width = terminalWidth() - 2;
    return line.length > width ? `${line.slice(0, width - 1)}…` : line;
  });
  const shown =
    lines.length <= most ? lines : [...lines.slice(0, most - 1), dim(`… ${lines.length - most + 1} more lines`)];
  return indent(shown.join('\n'));
}
