/** The one thing in which a fragment differs from what a component could give back. */
import type { Component } from '../component/model.js';

interface Common {
  /** in whose template it differs: the component itself, or one within */
  component: Component;
  /** the stretch of the template that says otherwise; empty where the template has nothing */
  start: number;
  end: number;
  /** what the fragment says, as its source spells it; null for nothing */
  found: string | null;
}

export type Difference = Common &
  (
    | { kind: 'text' }
    /** another value, or none */
    | { kind: 'attribute'; name: string }
    /** an attribute that the template does not have */
    | { kind: 'more-attribute'; name: string }
    /** an element, a text or a comment that the template does not have, and where it stands in its page */
    | { kind: 'more'; at: number }
    /** one that the fragment has not */
    | { kind: 'missing' }
    /** a value that is none of a prop's choices */
    | { kind: 'choice'; name: string }
    /** a component within would be given another value of a prop */
    | { kind: 'given'; name: string }
  );
