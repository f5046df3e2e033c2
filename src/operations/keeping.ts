/** Keeps in the draft what was decided by options, so that the next survey has it. */
import { keysOf } from '../core/survey/keys.js';
import type { Finding } from '../core/survey/types.js';
import { writeRegular } from '../workspace/disk.js';
import { type Decision, DRAFT, readDraft, type Told, withAdded, withChanged } from '../workspace/draft.js';
import { decisionFor, decisionsFor } from './decided.js';
import { namesOf, type PointingOptions, wishesOf } from './pointing.js';
import type { Surveyed } from './survey.js';

/** Writes what the options say of the findings that were named, as they were found; nothing where they say nothing. */
export async function keepDecisions(
  surveyed: Surveyed,
  named: Finding[],
  options: PointingOptions & { cut?: string },
): Promise<void> {
  const fresh = named.filter(({ component }) => component === null);
  const names = namesOf(fresh, options.name ?? []);
  const { props, slots, fixed } = wishesOf(options, null);
  const isOne = props.size + slots.length + fixed.length > 0 || options.cut !== undefined;
  const { root, registry } = surveyed.project;
  for (const finding of fresh) {
    if (!isOne && !names.has(finding.name)) continue;
    const draft = await readDraft(root);
    const key = keyOf(finding, surveyed);
    const index = draft?.decisions.findIndex((each) => each.key === key && !registry.has(each.name)) ?? -1;
    const before = index < 0 ? decisionFor(finding, key) : draft!.decisions[index]!;
    const decision: Decision = {
      ...before,
      take: true,
      name: names.get(finding.name) ?? before.name,
      props: { ...before.props, ...Object.fromEntries(props) },
      pour: slots,
      fixed,
      cut: Number(options.cut ?? before.cut),
    };
    if (index < 0 && JSON.stringify(decision) === JSON.stringify({ ...before, take: true })) continue;
    const text =
      index < 0
        ? await withAdded(draft?.source ?? null, [
            { decision, comments: decisionsFor([finding], new Map([[finding, key]]))[0]!.comments },
          ])
        : await withChanged(draft!.source, index, decision);
    writeRegular(root, DRAFT, Buffer.from(text), '');
  }
}

/** Writes decisions about findings, those that the draft has in their place and the others at its end. */
export async function keepAll(root: string, findings: Finding[], decisions: Decision[]): Promise<void> {
  const draft = await readDraft(root);
  const keys = keysOf(findings);
  let text = draft?.source ?? null;
  const added: Told[] = [];
  for (const decision of decisions) {
    const index = draft?.decisions.findIndex(({ key }) => key === decision.key) ?? -1;
    if (index >= 0) text = await withChanged(text!, index, decision);
    else {
      const finding = findings.find((each) => keys.get(each) === decision.key)!;
      added.push({ decision, comments: decisionsFor([finding], keys)[0]!.comments });
    }
  }
  if (decisions.length > 0) writeRegular(root, DRAFT, Buffer.from(await withAdded(text, added)), '');
}

/** Follows a rename in the draft: decisions that led to the component have its new name, or that of a prop or slot. */
export async function renameInDraft(
  root: string,
  { component, kind, name }: { component: string; kind: 'component' | 'prop' | 'slot'; name: string },
  to: string,
): Promise<void> {
  const draft = await readDraft(root);
  const index = draft?.decisions.findIndex((each) => each.name === component) ?? -1;
  if (draft === null || index < 0) return;
  const decision = draft.decisions[index]!;
  const renamed = (names: Record<string, string>) =>
    Object.fromEntries(Object.entries(names).map(([from, now]) => [from, now === name ? to : now]));
  const changed = {
    component: { ...decision, name: to },
    prop: { ...decision, props: renamed(decision.props) },
    slot: { ...decision, slots: renamed(decision.slots) },
  }[kind];
  writeRegular(root, DRAFT, Buffer.from(await withChanged(draft.source, index, changed)), '');
}

/** What a finding, or what is only offered, is recognised by. */
function keyOf(finding: Finding, { findings, others, regions, draft }: Surveyed): string {
  const isSame = (each: { occurrences: Finding['occurrences'] }) =>
    each.occurrences[0]!.element === finding.occurrences[0]!.element;
  const known = [...(draft?.keys ?? keysOf(findings))].find(([each]) => isSame(each));
  if (known !== undefined) return known[1];
  return [...keysOf([...others(), ...regions()])].find(([each]) => isSame(each))?.[1] ?? finding.name;
}
