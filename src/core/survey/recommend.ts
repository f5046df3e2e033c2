/**
 * From what was chosen to findings: names, components composed with each other, what they save. What would have to stand
 * in a template that does not use it is left out here, by the code that the lift asks too.
 */
import { nameComponent } from '../template/component-names.js';
import { composeAll } from '../template/compose.js';
import { type General, generalise, type Generalising, giveNames } from '../template/generalise.js';
import { componentFile } from '../template/write.js';
import type { Element } from '../page/tree.js';
import { findingFor, gainsOf, kindOf, savedBy, templatePlaces, usesOf } from './findings.js';
import { spotsOf } from './nesting.js';
import type { Generalised } from './survey.js';
import type { Finding, FindingProp, Thresholds } from './types.js';
import type { Term } from './worth.js';

/** A chosen group on its way to a finding. */
interface Part {
  name: string;
  choice: Generalised;
  occurrences: General['occurrences'];
  general: General;
  props: FindingProp[];
}

/** Best first. @param taken names that are none to be given */
export function recommend(
  choices: Generalised[],
  taken: ReadonlySet<string>,
  options: Generalising,
  thresholds: Thresholds,
): Finding[] {
  const names = namesOf(choices, taken);
  let parts = choices
    .filter(({ chosen }) => chosen)
    .map((choice): Part => {
      const { general } = choice;
      return { name: names.get(choice)!, choice, occurrences: general.occurrences, general, props: [] };
    });
  const dropped = new Map<Generalised, string>();
  let composed = composeAll(parts, options);
  // each round leaves places out, so this ends
  for (;;) {
    const nested = parts.map((part) => {
      const general = composed.get(part)!;
      const { slots, uses = new Map() } = general;
      const nodes = [...uses.keys()].flatMap((pattern) => pattern.nodes);
      const covered = new Set(nodes.filter((node): node is Element => node?.kind === 'element'));
      return { part, name: part.name, occurrences: part.occurrences, slots, covered };
    });
    const spots = spotsOf(nested);
    let changed = false;
    parts = nested.flatMap(({ part }, i): Part[] => {
      const mine = spots.get(nested[i]!)!;
      const kept = part.occurrences.filter((_, at) => mine[at]!.at !== 'nowhere');
      if (kept.length === part.occurrences.length) return [part];
      changed = true;
      const holder = mine.find((spot) => spot.at === 'nowhere');
      const general = kept.length < thresholds.minOccurrences ? null : generalise(kept, options);
      if (general === null) {
        dropped.set(part.choice, `stands inside ${holder?.at === 'nowhere' ? holder.holder.name : 'another'}`);
        return [];
      }
      return [{ ...part, occurrences: general.occurrences, general }];
    });
    if (!changed) break;
    composed = composeAll(parts, options);
  }
  const recommended = parts.map((part) => recommendedFinding(part, composed, parts));
  const others = choices
    .filter((choice) => !parts.some((part) => part.choice === choice))
    .map((choice): Finding => {
      const by = choice.inTheWay === null ? null : names.get(choice.inTheWay as Generalised);
      const reason = dropped.get(choice) ?? (by ? `${by} is better in its places` : 'worth too little');
      const finding = findingFor(names.get(choice)!, giveNames(choice.general));
      return { ...finding, reason, terms: choice.terms };
    });
  return [...recommended, ...others];
}

function recommendedFinding(part: Part, composed: ReadonlyMap<Part, General>, parts: Part[]): Finding {
  const { name, choice } = part;
  const general = composed.get(part)!;
  const { occurrences, props, slots } = general;
  const file = componentFile(name, general);
  const uses = usesOf(name, general);
  const gains = gainsOf(general, uses);
  const inTemplates = templatePlaces(
    name,
    parts.filter((other) => other !== part).map((other) => composed.get(other)!),
  );
  void inTemplates;
  const saved = savedBy(gains, file);
  const terms: Term[] = choice.terms;
  return {
    name,
    kind: slots.length > 0 ? 'frame' : kindOf(occurrences),
    recommended: true,
    reason: null,
    blocked: null,
    occurrences,
    props,
    saved,
    file,
    uses,
    general: part.general,
    component: null,
    terms,
  };
}

/** Names for all, the chosen ones first. */
function namesOf(choices: Generalised[], taken: ReadonlySet<string>): Map<Generalised, string> {
  const names = new Map<Generalised, string>();
  const used = new Set(taken);
  for (const choice of choices) {
    const name = nameComponent(choice.general.occurrences, used);
    used.add(name);
    names.set(choice, name);
  }
  return names;
}
