/** How drift is told: page × difference, what most pages have beside what the odd ones have. */
import { placeText } from '../core/errors.js';
import { type Page, placeAt } from '../core/page/parse.js';
import { driftIn, driftText, strangersTo } from '../core/survey/drift.js';
import { linesOf } from '../core/survey/regions.js';
import type { Finding } from '../core/survey/types.js';
import type { Vocabulary } from '../core/words/vocabulary.js';
import { count, number, terminalWidth } from '../terminal/style.js';
import { cut, oneLine, table } from '../terminal/table.js';
import { plain } from './plain.js';

const LONGEST = 32;

/** Where pages drifted apart, or stand apart altogether; null where none do. */
export function driftTable(
  findings: Finding[],
  { pages, vocabulary }: { pages: Page[]; vocabulary: Vocabulary },
): string | null {
  const shown = (text: string) => cut(oneLine(text), LONGEST);
  const rows = findings.flatMap((finding) => {
    const { name, occurrences } = finding;
    const line = ({ page, element }: Finding['occurrences'][number]) =>
      `${page.path}:${placeAt(page, element.start).line}`;
    const drifted = driftIn(finding).flatMap((drift) =>
      drift.places.map(({ value, place }) => {
        const [here, most] = [driftText(value, drift), driftText(drift.usual, drift)].map(shown);
        return [`${place.path}:${place.line}`, name, drift.prop, here!, most!, number(drift.count)];
      }),
    );
    const apart = strangersTo(finding, pages, vocabulary).map((each) => {
      const here = `${count(linesOf(each.page, each.element), 'line')}, left as they are`;
      return [line(each), name, '(all of it)', here, 'one component', number(occurrences.length)];
    });
    return [...drifted, ...apart];
  });
  if (rows.length === 0) return null;
  const titles = ['place', 'finding', 'prop', 'here', 'most have'].map((title, i) => ({ title, fixed: i === 0 }));
  return table([...titles, { title: 'pages', align: 'right', fixed: true }], rows, terminalWidth());
}

/** The places that the table of drift tells. */
export function driftPlaces(finding: Finding): string[] {
  return driftIn(finding).flatMap(({ places }) => places.map(({ place }) => placeText(place)));
}

export function driftJson(finding: Finding) {
  return driftIn(finding).map(({ prop, usual, count: of, places }) => ({
    prop,
    usual: plain(usual),
    count: of,
    places: places.map(({ value, place: { path, line, column } }) => ({
      page: path,
      line,
      column,
      value: plain(value),
    })),
  }));
}
