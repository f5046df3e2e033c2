/** How pages use class words: where each stands, beside and inside of which, and what stands in it. */
import { addTo } from '../groups.js';
import { attrOf, classWords, type Element, type Root, VOID } from '../page/tree.js';

/** What pages say of a word. */
export interface Usage {
  places: number;
  tags: Set<string>;
  /** places where it leads the class list */
  leads: number;
  /** different lists of other words beside it, as far as they are counted */
  company: Set<string>;
  /** how often a shorter word that it starts with stands around it, or beside it */
  below: Map<string, number>;
  beside: Map<string, number>;
  /** by words derived from it, how many of its places they stand in */
  derived: Map<string, number>;
  /** what stands in it, two levels deep, as far as it differs */
  contents: Set<string>;
  /** places where nothing stands in it, though it could */
  empty: number;
}

const COMPANY = 12;
/** A class list of more words than anybody writes says nothing of what its words have to do with each other. */
const MOST_WORDS = 64;

/** Words with which others of the same start are built: `card` for `card-body`, `boat` for `boat__name`. */
export function stemsOf(word: string): string[] {
  const stems: string[] = [];
  for (let at = 1; at < word.length - 1; at++) {
    const char = word[at];
    if ((char === '-' || char === '_') && word[at - 1] !== char) stems.push(word.slice(0, at));
  }
  return stems;
}

/** What an element is to those around it. */
interface Outline {
  /** its tag and first word */
  label: string;
  /** the labels of its children */
  children: string;
}

/** What an element is to those around it: its tag and first word, or its tag where that word says what an icon shows. */
function labelOf(element: Element, words: string[]): string {
  return isEmpty(element) ? element.tag : `${element.tag}.${words[0] ?? ''}`;
}

/** True where nothing stands in an element in which something could. */
function isEmpty({ tag, children }: Element): boolean {
  return children.length === 0 && !VOID.has(tag);
}

/** Gathers usage over all pages in one pass. */
export class UsageReader {
  readonly usage = new Map<string, Usage>();
  /** every class list that people may have written, with its tag */
  readonly lists = new Map<string, string[]>();
  /** words that are all that an element carries, where elements of its tag beside it carry none */
  readonly amongBare = new Set<string>();
  /** class words around the element that is being read, with the words derived from them, an element each */
  private readonly around = new Map<string, Set<string>[]>();
  private readonly stems = new Map<string, string[]>();
  private readonly words = new Map<string, string[]>();

  read(node: Element | Root): Outline {
    const words = node.kind === 'element' ? this.wordsOf(node) : [];
    const derived = words.length === 0 ? [] : this.enter(node as Element, words);
    let children = '';
    let contents = '';
    this.noteAmongBare(node);
    for (const child of node.children) {
      if (child.kind !== 'element') continue;
      const inner = this.read(child);
      children += ` ${inner.label}`;
      if (words.length > 0) contents += ` ${inner.label}(${inner.children})`;
    }
    words.forEach((word, i) => {
      this.around.get(word)!.pop();
      const usage = this.usage.get(word)!;
      usage.contents.add(contents);
      for (const inner of derived[i]!) add(usage.derived, inner);
    });
    return { label: node.kind === 'element' ? labelOf(node, words) : '', children };
  }

  private noteAmongBare({ children }: Element | Root): void {
    const elements = children.filter((child) => child.kind === 'element');
    const bare = new Set(elements.filter((child) => attrOf(child, 'class') === undefined).map(({ tag }) => tag));
    for (const child of bare.size === 0 ? [] : elements) {
      const words = bare.has(child.tag) ? this.wordsOf(child) : [];
      if (words.length === 1) this.amongBare.add(words[0]!);
    }
  }

  /** Notes an element with its words. @returns for each word what will hold the words derived from it */
  private enter(element: Element, words: string[]): Set<string>[] {
    const isTelling = words.length <= MOST_WORDS;
    if (isTelling) this.lists.set(listKey(element.tag, words), words);
    return words.map((word, i) => {
      const usage = this.usageOf(word);
      usage.places++;
      usage.tags.add(element.tag);
      if (i === 0) usage.leads++;
      if (isEmpty(element)) usage.empty++;
      if (isTelling && usage.company.size < COMPANY)
        usage.company.add(words.filter((other) => other !== word).join(' '));
      for (const stem of this.stemsOf(word)) {
        if (isTelling && words.includes(stem)) add(usage.beside, stem);
        const holder = this.around.get(stem)?.at(-1);
        if (holder === undefined) continue;
        add(usage.below, stem);
        holder.add(word);
      }
      const inside = new Set<string>();
      addTo(this.around, word, inside);
      return inside;
    });
  }

  private wordsOf(element: Element): string[] {
    const list = attrOf(element, 'class');
    if (list === undefined) return [];
    let words = this.words.get(list);
    if (words === undefined) this.words.set(list, (words = classWords(element)));
    return words;
  }

  private stemsOf(word: string): string[] {
    let stems = this.stems.get(word);
    if (stems === undefined) this.stems.set(word, (stems = stemsOf(word)));
    return stems;
  }

  private usageOf(word: string): Usage {
    let usage = this.usage.get(word);
    if (usage === undefined) {
      usage = {
        places: 0,
        tags: new Set(),
        leads: 0,
        company: new Set(),
        below: new Map(),
        beside: new Map(),
        derived: new Map(),
        contents: new Set(),
        empty: 0,
      };
      this.usage.set(word, usage);
    }
    return usage;
  }
}

export function listKey(tag: string, words: string[]): string {
  return `${tag} ${words.join(' ')}`;
}

/** Counts one more of a key. */
export function add(counts: Map<string, number>, key: string): void {
  counts.set(key, (counts.get(key) ?? 0) + 1);
}
