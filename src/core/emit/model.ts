/**
 * What a target is given, and what it gives back: components and pages as trees, with all that the format of component
 * files leaves to expanding already worked out (indentation, character references, lines that blocks have to themselves).
 * Built-in targets and those of the user's own take the same. docs/targets.md tells it for those who write one.
 */
import type { PropType } from '../component/model.js';
import type { Extent } from '../component/expand.js';
import type { Expression } from '../component/expression.js';
import type { Place } from '../errors.js';
import type { Page } from '../page/parse.js';
import type { SheetReader } from '../style/cascade.js';

/** How an element stands among its neighbours, as far as white space is concerned. */
export interface Manner {
  /** to its neighbours: a block, part of a line, or neither for sure */
  outside: 'block' | 'inline' | 'moved';
  /** lines begin and end at its edges; or its children are items, each with lines of its own */
  inside: 'lines' | 'items' | 'other';
  /** white space shows */
  shows: boolean;
  /** what `::before` and `::after` put there stands in a line with the text */
  starts: boolean;
  ends: boolean;
}

export interface Kind {
  id: string;
  /** what its `style` attribute says that bears on lines */
  style: string;
  words: ReadonlySet<string>;
  manner: Manner;
}

/** Kinds of elements of all pages, by tag. */
export type SpaceRules = ReadonlyMap<string, Map<string, Kind>>;

/** A stretch of an attribute's value: text, an expression, or a URL that is relative to the site's root. */
export type Piece = string | { kind: 'value'; expression: Expression } | { kind: 'url'; pieces: Piece[] };

export interface EmitAttr {
  /** as the HTML parser gives it, `xlink:href` among them; kebab-case for props of a use */
  name: string;
  /** one piece that is a value: the attribute is left out when that is null or false, and empty when true */
  pieces: Piece[];
  at: Place;
}

export interface ElementNode {
  kind: 'element';
  tag: string;
  /** `html`, `svg` or `math` */
  space: 'html' | 'svg' | 'math';
  attrs: EmitAttr[];
  children: EmitNode[];
  at: Place;
}

export interface UseNode {
  kind: 'use';
  component: string;
  /** values given to props, but for lists that stand as data */
  values: EmitAttr[];
  /** lists as records, by the prop's name; fields are named in kebab-case */
  lists: ListData[];
  /** markup that is poured in; '' is the default slot */
  slots: { name: string; children: EmitNode[] }[];
  /** true where it stands as a `template`, since an unknown tag could not stand there */
  template: boolean;
  /** its stretch of the page's source, and where its start tag ends; null in templates */
  range: (Range & { openEnd: number }) | null;
  at: Place;
}

/** A list that stands as data in a use, in its own `script` or, with a `src`, in a data file. */
export interface ListData {
  name: string;
  records: Json[];
  /** the stretch of the page's source that the `script` of a data file takes; else null */
  file: Range | null;
  at: Place;
}

/** UTF-16 offsets. */
export interface Range {
  start: number;
  end: number;
}

export type EmitNode =
  | ElementNode
  | UseNode
  /** `exact`: all its white space shows (set by `tidySite`) */
  | { kind: 'text'; value: string; exact?: true; at: Place }
  | { kind: 'comment'; value: string; at: Place }
  /** the value of an expression, as text */
  | { kind: 'value'; expression: Expression; at: Place }
  | { kind: 'when'; test: Expression; negated: boolean; children: EmitNode[]; at: Place }
  | { kind: 'each'; item: string; of: Expression; children: EmitNode[]; at: Place }
  /** where what is poured in goes; the children stand there when nothing is */
  | { kind: 'slot'; name: string; children: EmitNode[]; at: Place };

export type Json = string | number | boolean | null | Json[] | { [key: string]: Json };

export interface EmitProp {
  /** kebab-case */
  name: string;
  type: PropType;
  optional: boolean;
  default: string | null;
  choices: string[];
  about: string | null;
  /** of a list */
  fields: EmitProp[];
}

export interface EmitComponent {
  /** kebab-case */
  name: string;
  about: string | null;
  /** the component file, relative to the project's root */
  path: string;
  /** below the components' folder, '' for that folder itself */
  folder: string;
  props: EmitProp[];
  /** '' is the default slot */
  slots: string[];
  nodes: EmitNode[];
  /** the text of its `style`, null without one */
  styles: string | null;
  /** components that its template uses, sorted */
  uses: string[];
}

export interface EmitPage {
  /** relative to the project's root */
  path: string;
  /** the page as it stands in the project */
  source: string;
  /** the page as `expand` gives it, and as it is parsed */
  expanded: string;
  document: Page;
  /** the folder that its URLs are relative to, '' for the root; null when its `base` element leads elsewhere */
  folder: string | null;
  /** the `body` element without its content; undefined for a page of frames */
  bodyTag: ElementNode | undefined;
  /** the content of `body` that is the page's own module, without the scripts at its end */
  body: EmitNode[];
  /** the stretch of `source` that `body` takes; null where it has none to itself */
  range: Range | null;
  /** where components stand in `expanded`, what is poured in and what is in their templates included */
  extents: Extent[];
  /** components that the body uses, sorted */
  uses: string[];
  /** components that stand elsewhere: in the head, or among the scripts at the end */
  elsewhere: string[];
  /** `expanded` without `body`: what stands before and after it */
  shell: { before: string; after: string };
  /** why `body` has no components in it though the page has: where it would be something else with them; else null */
  flat: Flat | null;
}

export interface Flat {
  place: Place | null;
  what: string;
  /** false where `body` is read as something else, however it is written: elements nest in it as no closed tags can say */
  isWritable: boolean;
}

export interface EmitSite {
  components: EmitComponent[];
  pages: EmitPage[];
  /** other files of the site, stylesheets among them */
  files: string[];
  /** text of the stylesheets by path, as pages have them: with the styles of components filled in */
  sheets: ReadonlyMap<string, string>;
  /** gives each of them as it is read */
  read: SheetReader;
  /** which elements and white space the stylesheets treat unlike a browser's own styles do */
  space: SpaceRules;
  /** from the output folder to the project's root, '' or with a slash at its end */
  toRoot: string;
}

/**
 * Text to write, formatted first when it asks for that; or made of the texts of others that are emitted, as they are written;
 * or a file of the site to copy as `expand` would write it. Text is UTF-8, or in the encoding of the page that `like` names.
 */
export type EmittedFile = EmittedText | JoinedFile | { path: string; copy: string };

interface EmittedText {
  path: string;
  text: string;
  format?: boolean;
  like?: string;
}

interface JoinedFile {
  path: string;
  /** paths of emitted texts */
  from: string[];
  join: (texts: string[]) => string;
}

/** What a target tells the user: what could not be said, or was decided for them. */
export interface EmitRemark {
  kind: 'unsayable' | 'decided';
  message: string;
  place: Place | null;
}

export interface Emitted {
  files: EmittedFile[];
  remarks: EmitRemark[];
}

/** A target: from the site to files, whose paths are relative to the output folder, with `/`. */
export type Target = (site: EmitSite, options: Readonly<Record<string, unknown>>) => Emitted | Promise<Emitted>;
