/** What a component's interface says of one prop. */
import type { Spelled } from './spelling.js';

export const PROP_TYPES = ['text', 'number', 'url', 'choice', 'flag', 'handler', 'list'] as const;

export type PropType = (typeof PROP_TYPES)[number];

export interface Prop {
  /** kebab-case, as in markup */
  name: string;
  type: PropType;
  optional: boolean;
  default: Spelled | null;
  choices: string[];
  about: string | null;
}
