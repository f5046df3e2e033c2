/**
 * Occurrences of equal source in one folder are one sample: what was solved for the samples is spread over all of them,
 * without looking at any of them again.
 */
import type { Occurrence } from '../fragments/occurrence.js';
import { type Child, type Element, walk } from '../page/tree.js';
import type { ElementPattern, Hole, ListPattern, Pattern } from './pattern.js';
import { addTo } from '../groups.js';

export interface Samples {
  samples: Occurrence[];
  /** number of the sample that each occurrence equals */
  of: number[];
}

/** The first occurrence of each kind. What stands in templates is each its own, for it depends on what is around. */
export function samplesOf(occurrences: Occurrence[]): Samples {
  const samples: Occurrence[] = [];
  const numbers = new Map<string, number>();
  const of = occurrences.map((occurrence) => {
    const { page, element, end, folder } = occurrence;
    const own = page.component === undefined && folder !== null ? folder : page.path;
    const key = `${own}\u0000${page.source.slice(element.start, end)}`;
    let number = page.component === undefined ? numbers.get(key) : undefined;
    if (number === undefined) {
      number = samples.push(occurrence) - 1;
      numbers.set(key, number);
    }
    return number;
  });
  return { samples, of };
}

/** How what stands at one place of a pattern is found at another occurrence. */
interface Step {
  occurrence: Occurrence;
  /** which of the pattern's occurrences it equals */
  from: number;
  nodeOf: <T extends Child>(node: T) => T;
  /** how much further on its source stands */
  shift: number;
}

/** The pattern of all occurrences, from that of their samples. */
export function spread(root: ElementPattern, occurrences: Occurrence[], { samples, of }: Samples): ElementPattern {
  if (samples.length === occurrences.length) return root;
  const order = new Map<number, Map<Child, number>>();
  const numbersIn = (sample: number) => {
    let numbers = order.get(sample);
    if (numbers === undefined) {
      numbers = new Map(nodesIn(samples[sample]!.element).map((node, i) => [node, i]));
      order.set(sample, numbers);
    }
    return numbers;
  };
  const steps = occurrences.map((occurrence, i): Step => {
    const { element } = occurrence;
    const from = of[i]!;
    const sample = samples[from]!.element;
    if (sample === element) return { occurrence, from, nodeOf: (node) => node, shift: 0 };
    const nodes = nodesIn(element);
    const numbers = numbersIn(from);
    const shift = element.start - sample.start;
    return { occurrence, from, nodeOf: (node) => nodes[numbers.get(node)!] as typeof node, shift };
  });
  return spreadOne(root, steps) as ElementPattern;
}

function nodesIn(element: Element): Child[] {
  const nodes: Child[] = [];
  walk(element, (node) => {
    nodes.push(node as Child);
  });
  return nodes;
}

function spreadOne(pattern: Pattern, steps: Step[]): Pattern {
  const nodes = steps.map(({ from, nodeOf }) => {
    const node: Child | null = pattern.nodes[from] ?? null;
    return node === null ? null : nodeOf(node);
  });
  const moved = (range: [number, number] | null, shift: number): [number, number] | null =>
    range === null ? null : [range[0] + shift, range[1] + shift];
  let copy: Pattern;
  switch (pattern.kind) {
    case 'element':
      copy = { ...pattern, nodes: nodes as (Element | null)[], children: [] };
      copy.children = pattern.children.map((child) => spreadOne(child, steps));
      break;
    case 'slot':
      copy = { ...pattern, nodes, ranges: steps.map(({ from, shift }) => moved(pattern.ranges[from]!, shift)) };
      copy.fallback = pattern.fallback.map((each) => spreadOne(each, steps));
      break;
    case 'list':
      copy = spreadList(pattern, nodes, steps);
      break;
    default:
      copy = { ...pattern, nodes } as Pattern;
  }
  copy.holes = pattern.holes.map((hole): Hole => {
    return { ...hole, pattern: copy, values: steps.map(({ from }) => hole.values[from]!) };
  });
  return copy;
}

function spreadList(list: ListPattern, nodes: (Child | null)[], steps: Step[]): ListPattern {
  const itemsOf = new Map<number, number[]>();
  list.owners.forEach((owner, item) => addTo(itemsOf, owner, item));
  const inner: Step[] = [];
  const items: Occurrence[] = [];
  const owners: number[] = [];
  steps.forEach(({ occurrence, from, nodeOf, shift }, i) => {
    const { page, folder } = occurrence;
    for (const item of itemsOf.get(from) ?? []) {
      const { element, end } = list.items[item]!;
      const place = { page, element: nodeOf(element), end: end + shift, folder };
      inner.push({ occurrence: place, from: item, nodeOf, shift });
      items.push(place);
      owners.push(i);
    }
  });
  const ends = steps.map(({ from, shift }) => {
    const end = list.ends[from] ?? null;
    return end === null || end < 0 ? end : end + shift;
  });
  return { ...list, nodes, root: spreadOne(list.root, inner) as ElementPattern, items, owners, ends };
}
