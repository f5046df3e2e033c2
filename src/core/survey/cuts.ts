/** Other ways to cut what a finding covers: the frame alone, the item alone, a list of items, what stands in it or around it. */
import { frameOf, generalise, type Generalising, listedOf } from '../template/generalise.js';
import type { General } from '../template/pattern.js';
import { nameComponent } from './component-names.js';
import type { Occurrence } from '../fragments/occurrence.js';
import type { Element } from '../page/tree.js';
import { findingFor } from './findings.js';
import type { Cut, Finding } from './types.js';

/** How many of the findings inside and around are told. */
const NEIGHBOURS = 3;

/** The ways to cut, the finding itself first. A known component is cut already. */
export function cutsOf(finding: Finding, findings: Finding[], options: Generalising): Cut[] {
  const { general, occurrences } = finding;
  if (general === null) return [];
  const taken = new Set(findings.map(({ name }) => name));
  const count = occurrences.length;
  const alone = ({ name }: Finding, by: General) => findingFor(name, by, options.keeping);
  const cuts: Cut[] = [
    {
      what: general.slots.length > 0 ? 'the frame, its insides poured in' : 'the whole, its values as props',
      finding,
      alone: alone(finding, general),
      places: 1,
    },
  ];
  const add = (what: string, made: General | null, places: number, name?: string) => {
    if (made === null) return;
    const called = name ?? nameComponent(made.occurrences, taken, options.vocabulary);
    if (called === undefined) return;
    taken.add(called);
    const cut = findingFor(called, made, options.keeping);
    cuts.push({ what, finding: cut, alone: cut, places });
  };
  const frame = frameOf(occurrences, options);
  if (frame !== null && (frame.props.length < general.props.length || general.slots.length === 0))
    add('the frame, what varies poured in', frame, 1, finding.name);
  for (const { list } of general.props)
    if (list !== undefined && list.items.occurrences.length > 1)
      add('the item alone', generalise(list.items.occurrences, options), 1 + count);
  if (finding.kind === 'series') add('one component that takes a list', seriesAsList(occurrences, options), 1);
  for (const other of findings) {
    if (other === finding || cuts.length > NEIGHBOURS + 2) continue;
    if (other.general === null) continue;
    const around = { finding: other, alone: alone(other, other.general) };
    if (isInside(other, finding)) cuts.push({ what: 'what stands inside alone', ...around, places: 1 + count });
    else if (isInside(finding, other)) cuts.push({ what: 'what stands around it', ...around, places: 1 });
  }
  return cuts;
}

/** A series as one component that takes a list; null where other things stand among the items. */
function seriesAsList(occurrences: Occurrence[], options: Generalising): General | null {
  const parents = parentsOf(occurrences);
  const items = parents && generalise(occurrences, options);
  return items && listedOf(parents, items, options);
}

/** The elements that hold nothing but the occurrences; null where others stand among them. */
function parentsOf(occurrences: Occurrence[]): Occurrence[] | null {
  const items = new Set(occurrences.map(({ element }) => element));
  const parents = new Map<Element, Occurrence>();
  for (const { page, element, folder } of occurrences) {
    const { parent } = element;
    if (parent?.kind !== 'element' || parent.closeStart < 0) return null;
    const alone = parent.children.every((child) =>
      child.kind === 'element' ? items.has(child) : child.kind === 'text' && child.value.trim() === '',
    );
    if (!alone) return null;
    parents.set(parent, { page, element: parent, end: parent.end, folder });
  }
  return [...parents.values()];
}

/** True when each place of `inner` stands in one of `outer`. */
function isInside(inner: Finding, outer: Finding): boolean {
  const roots = new Set(outer.occurrences.map(({ element }) => element));
  return inner.occurrences.every(({ element }) => {
    let at = element.parent;
    while (at?.kind === 'element' && !roots.has(at)) at = at.parent;
    return at?.kind === 'element';
  });
}
