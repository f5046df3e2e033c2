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

/** No prop is named like an attribute that any element may carry (HTML standard, "global attributes"; `role`), or that the format uses. */
export const GLOBAL_ATTRIBUTES = new Set(
  'accesskey autocapitalize autocorrect autofocus class contenteditable dir draggable enterkeyhint exportparts hidden id inert inputmode is itemid itemprop itemref itemscope itemtype lang nonce part popover role slot spellcheck style tabindex title translate writingsuggestions use when unless each of'.split(
    ' ',
  ),
);

/** Stand-ins for words that a prop cannot be called. */
export const INSTEAD: ReadonlyMap<string, string> = new Map(
  Object.entries({
    title: 'heading',
    class: 'variant',
    style: 'look',
    body: 'content',
    display: 'display-style',
    hidden: 'concealed',
    lang: 'language',
    dir: 'direction',
    of: 'part-of',
    part: 'section',
    use: 'usage',
    when: 'moment',
    each: 'every',
    role: 'duty',
    slot: 'place',
  }),
);
