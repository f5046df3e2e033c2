/** Compounds of a selector, and what they ask of an element and of those around it. */

/** What a selector asks of the element itself, as far as that may keep another from matching the same one. */
export interface Subject {
  /** in lower case; null for any */
  tag: string | null;
  id: string | null;
  /** names that it must have: `.class`, `#id`, `tag` */
  names: string[];
  /** names that it must not have */
  denied: string[];
  /** attributes of which it must have a value, in lower case */
  values: [name: string, value: string][];
  /** what it asks of its `class` and `id` beside names */
  tests: AttributeTest[];
}

/** What an attribute selector asks of the value of an attribute. */
export interface AttributeTest {
  name: string;
  /** `=`, `^=` and so on; null where it has only to be there */
  matcher: string | null;
  value: string;
}

/** True where a value is what is asked for. @param own undefined where there is no such attribute */
export function meets({ matcher, value }: AttributeTest, own: string | undefined): boolean {
  if (own === undefined) return false;
  switch (matcher) {
    case '=':
      return own === value;
    case '^=':
      return value !== '' && own.startsWith(value);
    case '$=':
      return value !== '' && own.endsWith(value);
    case '*=':
      return value !== '' && own.includes(value);
    default:
      return true;
  }
}

export interface Compound {
  combinator: string;
  text: string;
  /** names that an element must have */
  names: string[];
  /** names that it must not have */
  denied: string[];
  /** attributes of which it must have a value */
  values: [name: string, value: string][];
  /** what it asks of its `class` and `id` beside names */
  tests: AttributeTest[];
  keys: string[] | null;
  /** whether it depends on where its element stands, or on where others do */
  place: 'none' | 'own' | 'any';
  /** its names are all that it asks for, as far as a tree that stands still decides it */
  isPlain: boolean;
}

/** The classes and ids of all compounds but those that only stand beside another one. */
export function namesAbove(compounds: readonly Compound[]): string[] {
  const isBeside = (i: number) => /[+~]/.test(compounds[i + 1]?.combinator ?? '');
  const names = compounds.flatMap((each, i) => (isBeside(i) ? [] : each.names));
  return [...new Set(names)].filter((name) => /^[.#]/.test(name));
}

/** How far above the element stands what the leftmost part looks at that depends on places. */
export function levelsOf(compounds: readonly Compound[]): number {
  if (compounds.some(({ place }) => place === 'any')) return Infinity;
  const first = compounds.findIndex(({ place, combinator }) => place === 'own' || combinator.trim() !== '');
  const behind = first < 0 ? [] : compounds.slice(first + 1);
  if (behind.some(({ combinator }) => combinator === ' ')) return Infinity;
  return behind.filter(({ combinator }) => combinator === '>').length;
}

/** What is around the element that is all that a selector asks for besides its own names; null where it asks for more. */
export function plainOf(compounds: readonly Compound[]): { within: string | null } | null {
  const [first, second, ...more] = compounds;
  if (more.length > 0 || compounds.some(({ isPlain }) => !isPlain)) return null;
  if (second === undefined) return { within: null };
  const [name, ...others] = first!.names;
  const isWithin = second.combinator === ' ' && others.length === 0 && /^[.#]/.test(name ?? '');
  return isWithin ? { within: name! } : null;
}

export function subjectOf({ names, denied, values, tests }: Compound): Subject {
  const id = names.find((name) => name.startsWith('#')) ?? null;
  return { tag: names.find((name) => /^[^.#]/.test(name)) ?? null, id, names, denied, values, tests };
}
