/** What is told of how pages are drawn. */
import { type Pictured, pictureLines, PICTURES } from '../operations/drawn.js';
import { count, dim, green, number, red, yellow } from '../terminal/style.js';
import { print } from './printing.js';

/** Prints what differs, and how much was compared. */
export function printPictured(pictured: Pictured): void {
  const { widths, pages, pictures, styled, different, restyled, isSame } = pictured;
  for (const line of pictureLines(pictured)) print(line);
  const tell = (differing: unknown[], text: string) => {
    const colour = differing.length === 0 ? green : isSame ? yellow : red;
    print(`${colour('Drawn:')} ${text}`);
  };
  if (pictures > 0) {
    const of = `${count(pictures, 'picture')} of ${count(pages, 'page')} at ${widths.join(' and ')} wide`;
    const at = `${count(different.length, 'picture')} differ${different.length === 1 ? 's' : ''}`;
    tell(different, `${of}: ${different.length === 0 ? 'no pixel differs' : at}.`);
    if (different.length > 0) print(dim(`${PICTURES} has each before, after, and with the difference marked.`));
  }
  if (styled > 0)
    tell(
      restyled,
      `${number(styled)} elements and pseudo-elements: ${restyled.length === 0 ? 'all compute to the same styles' : 'not all compute to the same styles'}.`,
    );
}
