/** How moved styles are told, in a terminal and as JSON. */
import { placeText } from '../core/errors.js';
import { sheetPlace } from '../core/style/places.js';
import type { StylesPlan } from '../core/style/plan.js';
import type { Unit } from '../core/style/sheet.js';
import { declarationText } from '../terminal/declaration.js';
import { count, dim, yellow } from '../terminal/style.js';
import { cut, oneLine } from '../terminal/table.js';
import { printFirst, tell } from './printing.js';

type MovedStyles = Pick<StylesPlan, 'moved' | 'staying'>;

/** Tells what moved, and why own rules stay: one line a reason. */
export function tellMoved({ moved, staying }: MovedStyles): void {
  const rules = [...moved.values()].flat().length;
  tell(
    rules === 0
      ? 'Styles: no rule moved, stylesheets are as they were.'
      : `Styles: ${count(rules, 'rule')} moved into ${count(moved.size, 'component')}.`,
  );
  const told = staying.map(({ component, unit, why, competes }) =>
    [
      `${yellow('stays')}  ${placeText(sheetPlace(unit.sheet, unit.node.start))}: ${cut(oneLine(unit.name), 60)} (${component}): ${why}`,
      ...(competes ?? []).map(({ declaration, rule }) =>
        dim(`       ${declarationText(declaration)}, ${placeText(sheetPlace(rule.sheet, declaration.start))}`),
      ),
    ].join('\n'),
  );
  printFirst(told, SHOWN, 'rule');
}

const SHOWN = 8;

/** For machines: what moved and what stays. */
export function movedJson({ moved, staying }: MovedStyles) {
  const place = (unit: Unit) => sheetPlace(unit.sheet, unit.node.start);
  return {
    moved: [...moved].map(([component, units]) => ({
      component,
      rules: units.map((unit) => ({ selector: unit.name, ...place(unit) })),
    })),
    staying: staying.map(({ component, unit, why, competes }) => ({
      component,
      selector: unit.name,
      ...place(unit),
      why,
      competes: (competes ?? []).map(({ declaration, rule }) => ({
        declaration: declarationText(declaration),
        ...sheetPlace(rule.sheet, declaration.start),
      })),
    })),
  };
}
