/** What is told of fragments that would be uses of a component but for one difference. */
import { addTo } from '../groups.js';
import type { Difference } from '../match/difference.js';
import type { NearUse } from '../match/known.js';
import { placeAt } from '../page/parse.js';
import type { Remark } from './types.js';

/** A remark for each component and place in its template where fragments differ. */
export function nearRemarks(near: NearUse[]): Remark[] {
  const groups = new Map<string, NearUse[]>();
  for (const each of near) {
    const { kind, start, end, component } = each.difference;
    addTo(groups, [each.component.name, component.name, kind, start, end].join(' '), each);
  }
  return [...groups.values()].map((group): Remark => {
    const [{ component, difference }] = group as [NearUse];
    const isOwn = difference.component === component;
    const hint = isOwn ? ` (estrade lift --extend ${component.name})` : '';
    const where = isOwn ? '' : `, in ${difference.component.name}`;
    const more = group.length > 1 ? `, or the like` : '';
    return {
      kind: 'near-use',
      message: `one more use of ${component.name} but for one thing${where}: ${differenceText(difference)}${more}${hint}`,
      places: group.map(({ occurrence: { page, element } }) => placeAt(page, element.start)),
    };
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
      return `${difference.name}${found === '' || found === null ? '' : `="${shortened(found)}"`} in ${shortened(own)}`;
  }
}

const MOST = 48;

function shortened(text: string): string {
  const line = text.replace(/\s+/g, ' ').trim();
  return line.length <= MOST ? line : `${line.slice(0, MOST - 1)}…`;
}
