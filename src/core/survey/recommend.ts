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
import { Problem } from '../errors.js';
import type { Occurrence } from '../fragments/occurrence.js';
import { placeAt } from '../page/parse.js';
import type { Choice } from './choose.js';
import type { Generalised } from './survey.js';
import type { Finding, FindingProp, Offer, Thresholds } from './types.js';
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
): { findings: Finding[]; dropped: Choice[] } {
  const names = namesOf(choices, taken);
  let parts = choices.map((choice): Part => {
    const { general } = choice;
    return { name: names.get(choice)!, choice, occurrences: general.occurrences, general, props: [] };
  });
  const dropped: Choice[] = [];
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
        if (process.env.DBG) console.error('DROP', part.name, part.occurrences.length, 'kept', kept.length, 'in', holder?.at === 'nowhere' ? holder.holder.name + ': ' + holder.why : '');
        dropped.push({ ...part.choice, chosen: false, inTheWay: holder?.at === 'nowhere' ? holder.holder.part.choice : null });
        return [];
      }
      return [{ ...part, occurrences: general.occurrences, general }];
    });
    if (!changed) break;
    composed = composeAll(parts, options);
  }
  return { findings: parts.map((part) => recommendedFinding(part, composed, parts)), dropped };
}

/** What is not recommended, made when someone asks for it. @param taken names that are none to be given; its own is added */
export function otherFinding(
  choice: Choice,
  occurrences: Occurrence[],
  taken: Set<string>,
  options: Generalising,
): Offer {
  const name = nameComponent(occurrences, taken);
  taken.add(name);
  const reason = choice.inTheWay === null ? 'worth too little' : 'another one is better in its places';
  const make = (): Finding => {
    const general = generalise(occurrences, options);
    if (general !== null) return { ...findingFor(name, giveNames(general)), reason, terms: choice.terms };
    const { page, element } = occurrences[0]!;
    throw new Problem(`the places of ${name} are not alike: no one template can be written for them`, {
      place: placeAt(page, element.start),
      hint: `point at fewer of them: estrade show --select`,
    });
  };
  return { name, kind: kindOf(occurrences), reason, occurrences, finding: make };
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
