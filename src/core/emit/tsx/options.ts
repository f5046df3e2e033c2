/** What a team decides about its modules. */

import type { FileCase } from '../../component/file-names.js';

/** A module of the team's own that says how each module is written; its path is relative to the project's root. */
export interface Starter {
  path: string;
  source: string;
}

export interface JsxOptions {
  /** package of the automatic JSX runtime, written as a pragma; null where the compiler is told */
  jsxImport: string | null;
  /** `className` and `htmlFor`, or `class` and `for` */
  attributes: 'dom' | 'html';
  /** type of what a slot takes, and the package that it comes from; null: worked out from the runtime */
  slotType: { name: string; from: string } | null;
  fileCase: FileCase;
  /** follows the name of a component's files, before the extension: `.component` */
  suffix: string;
  /** a folder a component, or all in one */
  layout: 'flat' | 'folders';
  /** whether to write index modules */
  index: boolean;
  /** null: modules are written as they come */
  starter: Starter | null;
}

export const DEFAULT_JSX: JsxOptions = {
  jsxImport: null,
  attributes: 'dom',
  slotType: null,
  fileCase: 'pascal',
  suffix: '',
  layout: 'flat',
  index: true,
  starter: null,
};

/** The types of content that well-known runtimes have. */
const SLOT_TYPES: Record<string, string> = { react: 'ReactNode', preact: 'ComponentChildren' };

/** The imported type of slots; null when none is known, and the type is made from the runtime's own elements. */
export function slotTypeOf({ slotType, jsxImport }: JsxOptions): { name: string; from: string } | null {
  if (slotType !== null) return slotType;
  const known = jsxImport === null ? undefined : SLOT_TYPES[jsxImport];
  return known === undefined ? null : { name: known, from: jsxImport! };
}
