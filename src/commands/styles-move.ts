/** What `styles --move` and `--back` tell. */
import type { StylesMoved, StylesOptions } from '../operations/styles-move.js';
import { count, green } from '../terminal/style.js';
import { movedJson, tellMoved } from './moved.js';
import { hint, print, printJson } from './printing.js';

export function printMoved({ name, plan, pages, returned }: StylesMoved, options: StylesOptions): void {
  if (options.json === true) {
    printJson({ format: 1, ...movedJson(plan), back: returned });
    return;
  }
  if (options.move === true) tellMoved(plan);
  for (const { path, exact } of returned)
    print(
      exact
        ? `The styles of ${name} are back in ${path}, as they were.`
        : `The styles of ${name} are back in ${path}, where its marker stood: they, or what is around them, were changed since, or the journal does not know how they were moved.`,
    );
  print(`${green('Proven from disk:')} the same declarations win on ${count(pages, 'page')}.`);
  hint('Next: estrade check; estrade undo takes this back');
}
