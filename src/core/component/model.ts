/** What a component is: its interface and its compiled template. */
import { PROP_TYPES, type Prop, type PropType } from '../page/prop.js';
import type { Element } from '../page/tree.js';
import type { Part } from './parts.js';
import type { Staying } from './staying.js';

export { PROP_TYPES, type Prop, type PropType };

export interface Component {
  name: string;
  about: string | null;
  /** the component file, relative to the project's root */
  path: string;
  source: string;
  /** interface without the fields of lists, in file order */
  props: Prop[];
  /** those that a use gives, without the fields of lists, by their names in expressions, in file order */
  ownProps: ReadonlyMap<string, Prop>;
  /** the `template` element */
  template: Element;
  /** range of the markup within `source`, white space around it left out */
  start: number;
  end: number;
  /** indentation that the template's lines start with in the file */
  base: string;
  /** range of the content of its `style` element within `source`, null without one */
  style: { start: number; end: number } | null;
  parts: Part[];
  /** names of the slots that its template has, '' for the default one */
  slots: ReadonlySet<string>;
}

/** What pages are expanded with besides components. */
export interface Surroundings {
  /** the data files that lists may be kept in, by path relative to the root */
  readonly data?: ReadonlyMap<string, string>;
  /** most UTF-16 units that a page may become; a use and a list item count as 128 at least */
  readonly maxPageSize?: number;
}

/** All components of a project by name. */
export interface Registry extends ReadonlyMap<string, Component>, Surroundings {
  /** components that are none of these, and whose uses are left as they are */
  readonly staying?: Staying;
}
