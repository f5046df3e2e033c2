/** What is told of a built site besides its pages. */
import { count, number, terminalWidth } from '../terminal/style.js';
import { table } from '../terminal/table.js';
import { isVerbose } from '../terminal/voice.js';
import type { Output } from '../workspace/output.js';
import type { LeftOut } from '../workspace/site-files.js';
import { FEW_NAMED, hint, print } from './printing.js';

/** What was written into a folder: `12 files written, 3 as they should be, 1 old one removed.` */
export function writtenText({ written, unchanged, removed }: Output): string {
  const parts = [
    `${count(written, 'file')} written`,
    ...(unchanged > 0 ? [`${number(unchanged)} as they should be already`] : []),
    ...(removed.length > 0 ? [`${count(removed.length, 'old one')} removed`] : []),
  ];
  return `${parts.join(', ')}.`;
}

/** Counts what is left out of a site, or lists it. */
export function tellLeftOut(left: LeftOut[]): void {
  if (left.length === 0) return;
  const paths = left.map(({ path }) => path).join(', ');
  const more = left.length <= FEW_NAMED ? `, ${paths}; --verbose says why` : '; --verbose lists them and why';
  hint(`${count(left.length, 'file')} left out${isVerbose() ? ':' : more}`);
  if (!isVerbose()) return;
  const columns = [{ title: 'left out', fixed: true }, { title: 'why' }];
  print(
    table(
      columns,
      left.map(({ path, why }) => [path, why]),
      terminalWidth(),
    ),
  );
}
