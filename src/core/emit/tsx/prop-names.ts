/** What props and slots are called in TypeScript. */
import { camelCase } from 'change-case';
import { camelName } from '../../component/expression.js';
import type { EmitComponent } from '../model.js';
import { FOLDER } from './writer.js';

/** Names that runtimes keep to themselves, or that slots have. */
const KEPT = new Set(['key', 'ref', 'children', FOLDER]);

/** True for these, and for what every object has. */
function isKept(name: string): boolean {
  return KEPT.has(name) || name in Object.prototype;
}

/** A prop's name in TypeScript. */
export function propName(name: string): string {
  const own = camelName(name);
  return isKept(own) ? `${own}Value` : own;
}

/** The name of the prop that a slot is. */
export function slotProp(component: EmitComponent, name: string): string {
  if (name === '') return 'children';
  const own = camelCase(name).replace(/^(?=\d|$)/, 'slot');
  const taken = component.props.some((prop) => propName(prop.name) === own) || isKept(own);
  return taken ? `${own}Slot` : own;
}
