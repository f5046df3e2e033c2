/** The draft and the survey: findings as the draft decides about them, and decisions for what the survey found. */
import { placeText, Problem } from '../core/errors.js';
import { placeAt } from '../core/page/parse.js';
import { composedFindings } from '../core/survey/findings.js';
import { findingFor, keysOf } from '../core/survey/keys.js';
import { wishedFinding } from '../core/survey/pointed.js';
import type { Finding, Offer, Survey } from '../core/survey/types.js';
import { savedLinesText } from '../terminal/saved.js';
import { count } from '../terminal/style.js';
import { cut, oneLine } from '../terminal/table.js';
import type { Decision, Draft, Told } from '../workspace/draft.js';
import type { LoadedPages, Project } from '../workspace/project.js';
import { generalisingFor, namesTaken } from './pointing.js';
import type { ThresholdOptions } from './thresholds.js';

/** A survey as the draft has it. */
export interface Decided {
  /** the draft itself */
  file: Draft;
  survey: Survey;
  /** findings that are to be lifted, by the draft */
  taken: Finding[];
  /** decisions about nothing that is there any more, but for what is a component already */
  gone: Decision[];
  /** findings that the draft says nothing of, with what they are recognised by */
  open: Finding[];
  keys: ReadonlyMap<Finding, string>;
}

/** Why a finding is not recommended that the draft leaves. */
const LEFT = 'the draft leaves it';

/**
 * Findings under the names that the draft gives them, cut and filled as it says; what it leaves is not recommended.
 * @throws Problem with the place in the draft where it cannot be done
 */
export function decide(
  survey: Survey,
  draft: Draft,
  { project, ...loaded }: LoadedPages & { project: Project },
  options: ThresholdOptions,
): Decided {
  const { registry } = project;
  const keys = keysOf(survey.findings);
  const made = new Map<Finding, { finding: Finding; decision: Decision }>();
  const gone: Draft['decisions'] = [];
  const added: Finding[] = [];
  const generalising = generalisingFor(project, survey.vocabulary, options);
  const taken = namesTaken(project, loaded);
  const decided = (decision: Draft['decisions'][number], finding: Finding) => {
    const others = [...made.values()].map((each) => each.finding.name);
    return atPlaceOf(decision, () =>
      finding.component === null
        ? asDecided(survey, finding, decision, (cutOut, wishes) =>
            wishedFinding(cutOut, wishes, generalising, new Set([...taken, ...others])),
          )
        : finding,
    );
  };
  let offers: Map<Offer, string> | null = null;
  for (const decision of draft.decisions) {
    const finding = findingFor(decision, keys);
    // what was lifted is done, though something else may be like it
    if (registry.has(decision.name) && (finding?.component ?? null) === null) continue;
    if (finding !== undefined && !made.has(finding)) {
      made.set(finding, { finding: decided(decision, finding), decision });
      continue;
    }
    offers ??= keysOf([...survey.others(), ...survey.regions()]);
    const offer = findingFor(decision, offers);
    if (offer === undefined) gone.push(decision);
    else if (decision.take)
      added.push({
        ...decided(
          decision,
          atPlaceOf(decision, () => offer.finding()),
        ),
        recommended: true,
        reason: null,
      });
  }
  const findings = survey.findings.map((finding) => {
    const known = made.get(finding);
    if (known === undefined) return finding;
    const { take } = known.decision;
    return { ...known.finding, recommended: take, reason: take ? null : LEFT };
  });
  // what was renamed is shown in the templates that it stands in
  const taking = findings.filter(({ recommended }) => recommended);
  const composed = new Map(
    composedFindings(taking, generalising, generalising.keeping).map((each, i) => [taking[i]!, each]),
  );
  const shown = made.size === 0 ? findings : findings.map((finding) => composed.get(finding) ?? finding);
  const isTaken = (_: Finding, i: number) => made.get(survey.findings[i]!)?.decision.take === true;
  return {
    file: draft,
    survey: { ...survey, findings: [...shown, ...added] },
    taken: [...shown.filter(isTaken), ...added],
    gone,
    open: survey.findings.filter((finding) => !made.has(finding)),
    keys,
  };
}

type Wishing = (finding: Finding, wishes: Parameters<typeof wishedFinding>[1]) => { finding: Finding };

function asDecided(
  { cutsOf }: Survey,
  finding: Finding,
  { name, props, slots, pour, fixed, cut: number, finding: own }: Decision,
  wish: Wishing,
): Finding {
  const cuts = number === 1 ? [] : cutsOf(finding);
  const cutOut = number === 1 ? finding : cuts[number - 1]?.finding;
  if (cutOut === undefined)
    throw new Problem(`there is no way ${number} to cut ${own}`, {
      hint: `give a number from 1 to ${cuts.length}: estrade show ${own}`,
    });
  const renamed = new Map(Object.entries(props).filter(([from, to]) => from !== to));
  const names = new Map(Object.entries(slots).filter(([from, to]) => from !== to));
  const unknown = [...names.keys()].find((from) => !cutOut.slots.some((slot) => slot.name === from));
  if (unknown !== undefined)
    throw new Problem(`${own} has no slot "${unknown}"`, {
      hint: `its slots are ${cutOut.slots.map((slot) => `"${slot.name}"`).join(', ')}`,
    });
  const all = cutOut.slots.map((slot) => names.get(slot.name) ?? slot.name);
  const twin = all.find((to, i) => all.indexOf(to) < i);
  if (twin !== undefined)
    throw new Problem(`two slots of ${own} would be called "${twin}"`, { hint: 'give one of them another name' });
  for (const slot of cutOut.general?.slots ?? []) slot.name = names.get(slot.name) ?? slot.name;
  const isAsFound = name === cutOut.name && renamed.size + names.size + pour.length + fixed.length === 0;
  return isAsFound ? cutOut : wish(cutOut, { name, props: renamed, slots: pour, fixed }).finding;
}

/** Says of what goes wrong where the draft asks for it. */
function atPlaceOf<T>({ place }: Draft['decisions'][number], work: () => T): T {
  try {
    return work();
  } catch (error) {
    if (!(error instanceof Problem)) throw error;
    throw new Problem(error.message, { place, hint: error.hint ?? 'mend the draft' });
  }
}

/** Decisions for findings as they are, in the order of the survey, and what `show` says of them in two lines. */
export function decisionsFor(findings: Finding[], keys: ReadonlyMap<Finding, string>): Told[] {
  return findings.map((finding) => ({ decision: decisionFor(finding, keys.get(finding)!), comments: toldOf(finding) }));
}

export function decisionFor(finding: Finding, key: string): Decision {
  const { name, recommended, props, slots, component } = finding;
  const same = (names: string[]) => Object.fromEntries(names.map((each) => [each, each]));
  const own = component === null ? props.map((prop) => prop.name) : [];
  const named = component === null ? slots.map((slot) => slot.name).filter((each) => each !== '') : [];
  const rest = { pour: [], fixed: [], cut: 1 };
  return { key, finding: name, take: recommended, name, props: same(own), slots: same(named), ...rest };
}

const LONGEST = 50;

function toldOf({ kind, occurrences, props, slots, saved, component }: Finding): string[] {
  const on = new Set(occurrences.map(({ page }) => page)).size;
  const what = component === null ? kind : `more uses of ${component.path}`;
  const takes = component === null ? `, ${count(props.length, 'prop')}, ${count(slots.length, 'slot')}` : '';
  const [first] = occurrences;
  const more = occurrences.length > 1 ? ` and ${occurrences.length - 1} more` : '';
  const says = props.flatMap(({ name, values: [value] }) =>
    typeof value === 'object' && value !== null && !Array.isArray(value)
      ? [`${name} "${cut(oneLine(value.value), LONGEST)}"`]
      : [],
  );
  return [
    `${what}: ${count(occurrences.length, 'place')} on ${count(on, 'page')}${takes}; ${savedLinesText(saved.lines)}`,
    `${placeText(placeAt(first!.page, first!.element.start))}${more}${says.length === 0 ? '' : `: ${says.slice(0, 3).join(', ')}`}`,
  ];
}
