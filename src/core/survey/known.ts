/** Which fragments of a site components that are there give back; what is poured into these is looked through again. */
import type { Registry } from '../component/model.js';
import { usedComponent } from '../component/use.js';
import { isSure, Lift } from '../fragments/profile.js';
import type { Site } from '../fragments/site.js';
import { RUN } from '../fragments/occurrence.js';
import { addTo } from '../groups.js';
import { type KnownUse, type NearUse, Recogniser } from '../match/known.js';
import type { Page } from '../page/parse.js';
import type { Element } from '../page/tree.js';
import { WORTH } from './worth.js';

export interface KnownUses {
  /** the uses of each component, in the order of the pages */
  uses: KnownUse[][];
  /** elements that these stand for: not those that are poured in */
  covered: ReadonlySet<Element>;
}

/** A site beside components that are there. */
export interface Recognising {
  site: Site;
  registry: Registry;
  /** what the relative URLs of each page resolve against, null where that is unknown */
  folders: (string | null)[];
  /** elements that the developer leaves alone */
  left: ReadonlySet<Element>;
}

/**
 * What components that are there have to do with a site: their uses, and what would be one but for one difference. Running
 * text is left as it is. Linear in the elements, times the components that begin alike.
 */
export function recognise(recognising: Recognising): KnownUses & { near: NearUse[] } {
  const { site, registry } = recognising;
  if (registry.size === 0) return { uses: [], covered: new Set(), near: [] };
  const recogniser = new Recogniser(registry, site.elements);
  const known = knownUses(recognising, recogniser);
  return { ...known, near: nearUses(recognising, recogniser, known.covered) };
}

function knownUses({ site, registry, folders, left }: Recognising, recogniser: Recogniser): KnownUses {
  const byName = new Map<string, KnownUse[]>();
  const covered = new Set<Element>();
  site.profiles.forEach((profile, number) => {
    const { page, elements, lift, size } = profile;
    const first = site.first[number]!;
    const folder = folders[number]!;
    const leastSaving = leastSavingOn(page, elements, registry);
    // ends of the fragments that are being gone through, with what is poured into them
    const open: { end: number; slots: [start: number, end: number][] }[] = [];
    elements.forEach((element, i) => {
      while (open.length > 0 && open.at(-1)!.end <= i) open.pop();
      const inside = open.at(-1);
      if (inside !== undefined && !inside.slots.some(([from, to]) => from <= element.start && element.end <= to)) {
        covered.add(element);
        return;
      }
      if (left.has(element) || lift[i]! > Lift.unsure || site.prose[first + i] !== 0) return;
      const use = recogniser.useAt({ page, element, folder }, leastSaving);
      if (use === null || !isSure(profile, i)) return;
      addTo(byName, use.component.name, use);
      covered.add(element);
      const root = use.occurrence.element;
      const last = root.tag === RUN ? (root.children.at(-1) as Element) : root;
      const end = last.at + size[last.at]!;
      open.push({ end, slots: use.slots.map(({ ranges }) => ranges[0]!) });
    });
  });
  return { uses: [...byName.values()], covered };
}

/** What a use must save: where components are used already, a lift has passed over what is still there. */
function leastSavingOn(page: Page, elements: Element[], registry: Registry): number {
  if (page.component !== undefined) return WORTH.passedOver;
  return elements.some((element) => usedComponent(element, (name) => registry.has(name)) !== null) ? 1 : -Infinity;
}

/**
 * Fragments that would be uses but for one difference, those that stand in others left out.
 * @param covered elements that uses stand for
 */
function nearUses(
  { site, folders, left }: Recognising,
  recogniser: Recogniser,
  covered: ReadonlySet<Element>,
): NearUse[] {
  const found: NearUse[] = [];
  site.profiles.forEach(({ page, elements, lift, size }, number) => {
    const first = site.first[number]!;
    if (page.component !== undefined) return;
    for (let i = 0; i < elements.length; i++) {
      if (covered.has(elements[i]!) || left.has(elements[i]!) || lift[i] !== Lift.yes || site.prose[first + i] !== 0)
        continue;
      const near = recogniser.nearUseAt({ page, element: elements[i]!, folder: folders[number]! });
      if (near === null) continue;
      found.push(near);
      i += size[i]! - 1;
    }
  });
  return found;
}
