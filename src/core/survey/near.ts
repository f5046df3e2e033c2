/** What is told of fragments that would be uses of a component but for one difference. */
import { addTo } from '../groups.js';
import type { Difference } from '../match/difference.js';
import type { NearUse } from '../match/known.js';
import type { Component } from '../component/model.js';
import type { Place } from '../errors.js';
import { placeAt } from '../page/parse.js';
import type { Remark } from './types.js';

/** Fragments that differ from one component in the same place of a template. */
export interface NearGroup {
  component: Component;
  /** the difference of the first of them */
  difference: Difference;
  places: Place[];
  /** the component can be widened by it: its own template says otherwise, not that of one within */
  isOwn: boolean;
}

export function nearGroups(near: NearUse[]): NearGroup[] {
  const groups = new Map<string, NearUse[]>();
  for (const each of near) {
    const { kind, start, end, component } = each.difference;
    addTo(groups, [each.component.name, component.name, kind, start, end].join(' '), each);
  }
  return [...groups.values()].map((group): NearGroup => {
    const [{ component, difference }] = group as [NearUse];
    const places = group.map(({ occurrence: { page, element } }) => placeAt(page, element.start));
    return { component, difference, places, isOwn: difference.component === component };
  });
}

/** A remark for each group. */
export function nearRemarks(near: NearUse[]): Remark[] {
  return nearGroups(near).map(({ component, difference, places, isOwn }): Remark => {
    const where = isOwn ? '' : `, in ${difference.component.name}`;
    const message = `one more use of ${component.name} but for one thing${where}: ${differenceText(difference)}`;
    return { kind: 'near-use', message, places };
  });
}

/** `class is "notice notice--storm", not "notice notice--calm"`. */
export function differenceText(difference: Difference): string {
  const { component, start, end, found } = difference;
  const own = component.source.slice(start, end);
  switch (difference.kind) {
    case 'text':
      return `the text "${shortened(found!)}", not "${shortened(own)}"`;
    case 'attribute': {
      const value = /^[^=]*=\s*["']?([^]*?)["']?$/.exec(own)?.[1] ?? '';
      if (found === null) return `no ${difference.name}="${shortened(value)}"`;
      return `${difference.name}="${shortened(found)}", not "${shortened(value)}"`;
    }
    case 'more-attribute':
      return `${difference.name}="${shortened(found!)}" besides`;
    case 'more':
      return `${shortened(found!)} besides`;
    case 'missing':
      return `no ${shortened(own)}`;
    case 'choice':
      return `"${shortened(found!)}" is no choice of ${difference.name}`;
    case 'given':
      return `${difference.name}${found === '' || found === null ? '' : `="${shortened(found)}"`} on ${shortened(own)}`;
  }
}

const MOST = 48;

function shortened(text: string): string {
  const line = text.replace(/\s+/g, ' ').trim();
  return line.length <= MOST ? line : `${line.slice(0, MOST - 1)}…`;
}
