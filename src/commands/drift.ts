/** How drift is told: page × difference, what most pages have beside what the odd ones have. */
import { placeText } from '../core/errors.js';
import { type Page, placeAt } from '../core/page/parse.js';
import { driftIn, driftText, strangersTo } from '../core/survey/drift.js';
import { linesOf } from '../core/survey/regions.js';
import type { Finding } from '../core/survey/types.js';
import type { Vocabulary } from '../core/words/vocabulary.js';
import type { DriftRow } from '../report/model.js';
import { count, number, terminalWidth } from '../terminal/style.js';
import { cutApart, oneLine, table } from '../terminal/table.js';
import { plain } from './plain.js';
import { firstOf } from './printing.js';

const LONGEST = 32;
/** So many differences are printed. */
const MOST_ROWS = 12;

/** Where pages drifted apart, or stand apart altogether. */
export function driftRows(
  findings: Finding[],
  { pages, vocabulary }: { pages: Page[]; vocabulary: Vocabulary },
): DriftRow[] {
  return findings.flatMap((finding) => {
    const { name, occurrences } = finding;
    const drifted = driftIn(finding).flatMap((drift) =>
      drift.places.map(({ value, place }): DriftRow => {
        const [here, usual] = [driftText(value, drift), driftText(drift.usual, drift)];
        return { finding: name, place, prop: drift.prop, here, usual, count: drift.count };
      }),
    );
    const apart = strangersTo(finding, pages, vocabulary).map(({ page, element }): DriftRow => ({
      finding: name,
      place: placeAt(page, element.start),
      prop: '',
      here: `${count(linesOf(page, element), 'line')}, left as they are`,
      usual: 'one component',
      count: occurrences.length,
    }));
    return [...drifted, ...apart];
  });
}

/** The same as a table, with the first rows where there are many; null where no page did. */
export function driftTable(findings: Finding[], site: { pages: Page[]; vocabulary: Vocabulary }): string | null {
  const rows = driftRows(findings, site).map(({ finding, place, prop, here, usual, count: pages }) => [
    `${place.path}:${place.line}`,
    finding,
    prop === '' ? '(all of it)' : prop,
    ...cutApart(oneLine(here), oneLine(usual), LONGEST),
    number(pages),
  ]);
  if (rows.length === 0) return null;
  const titles = ['place', 'finding', 'prop', 'here', 'most have'].map((title, i) => ({ title, fixed: i === 0 }));
  const { shown: first, more } = firstOf(rows, MOST_ROWS, 'difference');
  const told = table([...titles, { title: 'pages', align: 'right', fixed: true }], first, terminalWidth());
  return [told, ...more].join('\n');
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
