/** What `lift --unify` does before anything is lifted: pages that drifted say what most say. */
import { expandPage } from '../core/component/expand.js';
import { suggestion } from '../core/component/problems.js';
import { Problem } from '../core/errors.js';
import { driftAt, type Unified, unifiedTogether, unify } from '../core/lift/unify.js';
import { driftIn } from '../core/survey/drift.js';
import type { Finding } from '../core/survey/types.js';
import { moreAccepted } from '../workspace/accepted.js';
import type { PlannedFile } from '../workspace/transaction.js';
import { pick } from './pick.js';
import { type Surveyed, surveyLoaded } from './survey.js';
import type { ThresholdOptions } from './thresholds.js';

export interface Unifying {
  /** the survey of the pages as they are then */
  surveyed: Surveyed;
  changes: Unified[];
  /** what the pages that change still say otherwise, for it was not asked for */
  otherwise: Unified[];
}

/** The survey of the pages as they are once drift is unified; for nothing else of them may change. @throws Problem */
export function unified(
  surveyed: Surveyed,
  names: string[],
  wanted: string[],
  options: ThresholdOptions & { recommended?: boolean },
): Unifying {
  const { project } = surveyed;
  const recommended = options.recommended === true ? surveyed.findings.filter((each) => each.recommended) : [];
  const named = names.map((name) => pick(surveyed, name));
  const asked = [...recommended, ...named.filter((each) => !recommended.includes(each))];
  const all = asked.map((finding) => ({ finding, drifts: driftIn(finding) }));
  const known = [...new Set(all.flatMap(({ drifts }) => drifts.map(({ prop }) => prop)))];
  const wrong = wanted.find((prop) => prop !== 'all' && !known.includes(prop));
  if (known.length === 0 || wrong !== undefined)
    throw new Problem(known.length === 0 ? 'nothing drifted here' : `--unify: nothing drifted in a prop "${wrong!}"`, {
      hint:
        known.length === 0 ? 'estrade survey tells what drifted' : suggestion(wrong!, known, 'the props that drifted'),
    });
  const together = all.map(({ finding, drifts }) => ({ finding, ...unifiedTogether(drifts, wanted) }));
  const chosen = together.map(({ finding, chosen: drifts }) => ({ finding, drifts }));
  const otherwise = together.flatMap(({ left }) =>
    left.flatMap((drift) => drift.places.map(({ index }) => driftAt(index, drift))),
  );
  const made = unify(chosen, project.componentFiles, project.registry, project.config.components);
  const pages = surveyed.pages.map((page) => made.pages.get(page.path) ?? page);
  const again = surveyLoaded(project, { ...surveyed, pages }, options, surveyed.draft?.file ?? null);
  // a name may come from what was unified
  for (const { finding } of chosen) {
    const there = ({ occurrences: [some] }: Finding) =>
      `${some!.page.path} ${some!.element.tag} ${some!.element.start}`;
    const twin = again.findings.find(({ name }) => name === finding.name);
    if (twin === undefined) {
      const same = again.findings.find((each) => there(each) === there(finding));
      if (same !== undefined) same.name = finding.name;
    }
  }
  return { surveyed: again, changes: made.changes, otherwise };
}

/** The file that keeps what is unified, for whoever compares the pages with a release from before. */
export function acceptedFile(
  { project, pages }: Surveyed,
  changes: Unified[],
  origins: ReadonlyMap<string, string>,
): Promise<PlannedFile> {
  const changed = pages.filter(({ path }) => changes.some((change) => change.path === path));
  return moreAccepted(
    project.root,
    changed.map((page) => ({
      path: page.path,
      before: expandPage(page, project.registry).text,
      after: origins.get(page.path)!,
      changes: changes.filter(({ path }) => path === page.path),
    })),
  );
}
