/**
 * What stands apart though it stands once: by what it is (landmarks, forms, figures, sections with a heading), by its
 * name, or by its length. What only lays out is passed through.
 */
import type { Generalising } from '../template/generalise.js';
import { nameComponent } from './component-names.js';
import { isTelling } from '../words/names.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { type Page, placeAt } from '../page/parse.js';
import { attrOf, classWords, type Element, elementsOf, type Parent } from '../page/tree.js';
import { isSure, type Profile } from '../fragments/profile.js';
import { findingFor } from './findings.js';
import { asItIs, patternOf } from './single.js';
import type { Finding, Offer, Thresholds } from './types.js';

export type Sizes = Pick<Thresholds, 'minLines' | 'largeLines'>;

/** Elements and roles that stand apart by what they are (HTML standard, "sections"; WAI-ARIA, "landmark roles"). */
const APART = new Set('header footer nav main aside article form dialog figure fieldset search table'.split(' '));
const ROLES = new Set(
  'banner complementary contentinfo form main navigation region search dialog alertdialog tablist toolbar menu menubar feed'.split(
    ' ',
  ),
);
/** What may hold a part of a page that says nothing of itself. */
const PARTS = new Set('section div ul ol dl'.split(' '));

/** How many lines an element takes. */
export function linesOf(page: Page, { start, end }: Element): number {
  return placeAt(page, Math.max(start, end - 1)).line - placeAt(page, start).line + 1;
}

/** True for what is a region by itself. */
export function standsApart(page: Page, element: Element, { minLines, largeLines }: Sizes): boolean {
  const { tag } = element;
  if (element.start < 0 || tag === 'html' || tag === 'head' || tag === 'body') return false;
  if (APART.has(tag) || ROLES.has(attrOf(element, 'role') ?? '')) return true;
  const lines = linesOf(page, element);
  if (lines < minLines || !PARTS.has(tag)) return false;
  if (isNamed(element) || (tag === 'section' && hasHeading(element))) return true;
  return lines >= largeLines && isOneOfSeveral(page, element, minLines);
}

/** True where what is around it holds other things of some length too. */
function isOneOfSeveral(page: Page, { parent }: Element, minLines: number): boolean {
  const siblings = parent?.children.filter((child) => child.kind === 'element' && child.start >= 0) ?? [];
  return siblings.filter((each) => linesOf(page, each as Element) >= minLines).length > 1;
}

function hasHeading(element: Element): boolean {
  const label = attrOf(element, 'aria-label') ?? attrOf(element, 'aria-labelledby');
  return label !== undefined || elementsOf(element).some(({ tag }) => /^h[1-6]$/.test(tag));
}

/** A class word or an id that says what it is, not how it is laid out. */
function isNamed(element: Element): boolean {
  const id = attrOf(element, 'id') ?? '';
  return classWords(element).some(isTelling) || (id !== '' && isTelling(id));
}

/**
 * One finding a region, in the order of the pages, but for what was found elsewhere too; what stands in a recommended
 * finding is cut when that has been lifted.
 * @param taken names that are none to be given; those that are given are added
 */
export function regionFindings(
  profiles: Profile[],
  findings: Finding[],
  isUse: (element: Element) => boolean,
  sizes: Sizes,
  taken: Set<string>,
  at: (element: Element, page: number) => Occurrence,
  generalising: Generalising,
): Offer[] {
  const settled = new Set<Element>();
  const found = new Set<Element>();
  for (const finding of findings) {
    const { recommended } = finding;
    if (!recommended) for (const { element } of finding.occurrences) found.add(element);
    else
      for (const { element } of finding.occurrences)
        for (const each of element.at < 0 ? element.children : [element])
          if (each.kind === 'element') settled.add(each);
  }
  return profiles.flatMap((profile, page) => {
    const regions: Offer[] = [];
    const visit = (parent: Parent): void => {
      for (const child of parent.children) {
        if (child.kind !== 'element' || settled.has(child)) continue;
        const apart = !isUse(child) && !found.has(child) && standsApart(profile.page, child, sizes);
        const region = apart && isSure(profile, child.at) ? at(child, page) : null;
        const isPossible = region !== null && isWritable(region, generalising);
        const name = isPossible ? nameComponent([region], taken, generalising.vocabulary) : undefined;
        if (isPossible && name !== undefined) {
          taken.add(name);
          regions.push({
            name,
            kind: 'region',
            reason: 'stands once',
            occurrences: [region],
            finding: () => findingFor(name, asItIs(region, generalising)),
          });
        }
        visit(child);
      }
    };
    visit(profile.page.root);
    return regions;
  });
}

/** False where braces in it would mean something that no template can say. */
function isWritable(occurrence: Occurrence, generalising: Generalising): boolean {
  const { page, element } = occurrence;
  return !page.source.slice(element.start, element.end).includes('{{') || patternOf(occurrence, generalising) !== null;
}
