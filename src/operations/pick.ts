/** The finding that a name on the command line means. */
import { nearestName } from '../core/component/problems.js';
import { placeText, Problem, shownValue } from '../core/errors.js';
import { placeAt } from '../core/page/parse.js';
import { expandAll } from '../core/style/plan.js';
import type { Finding } from '../core/survey/types.js';
import { type Surveyed, surveyLoaded } from './survey.js';

/** So many names are told where none is near. */
const FEW = 5;

/** The finding, or what is only offered, of that name. @throws Problem that says what it is now, or names the nearest ones */
export function pick(surveyed: Surveyed, name: string): Finding {
  const { registry } = surveyed.project;
  const found = named(surveyed, name);
  if (found !== undefined) return found;
  const component = registry.get(name);
  if (component !== undefined)
    throw new Problem(
      `${name} is a component already, in ${component.path}, and no other place is one more use of it`,
      {
        hint: surveyed.near.some((each) => each.component === component)
          ? `some nearly are, but for one thing: estrade survey tells which, estrade lift --extend ${name} widens it`
          : `edit that file; estrade styles ${name} tells its rules, estrade check whether all its uses are right`,
      },
    );
  const names = [...surveyed.findings, ...surveyed.others(), ...surveyed.regions()].map((each) => each.name);
  const nearest = nearestName(name, [...names, ...registry.keys()]);
  const near = [
    ...new Set([
      ...(nearest === null ? [] : [nearest]),
      ...names.filter((each) => each.includes(name) || name.includes(each)),
    ]),
  ];
  refuseLifted(surveyed, name);
  const few = names.slice(0, FEW).join(', ');
  const all = few === '' ? 'the survey finds nothing here' : `it has ${few}, …: estrade survey lists them`;
  throw new Problem(`the survey has no finding "${shownValue(name)}"`, {
    hint: near.length > 0 ? `did you mean ${near.slice(0, FEW).join(', ')}?` : all,
  });
}

function named({ findings, others, regions }: Surveyed, name: string): Finding | undefined {
  return (
    findings.find((finding) => finding.name === name) ??
    [...others(), ...regions()].find((each) => each.name === name)?.finding()
  );
}

/** @throws Problem for what the survey would find without the components that are there, and is in one of them now */
function refuseLifted(surveyed: Surveyed, name: string): void {
  const { project, pages } = surveyed;
  if (project.registry.size === 0) return;
  const expanded = expandAll(pages, project.registry);
  const plain = { ...surveyed, pages: expanded.map(({ page }) => page), templates: [] };
  const finding = named(surveyLoaded({ ...project, registry: new Map(), componentFiles: [] }, plain, {}, null), name);
  for (const { page, element } of finding?.occurrences ?? []) {
    const { extents } = expanded.find((each) => each.page === page)!;
    const isIn = ({ start, end }: { start: number; end: number }) => start <= element.start && element.start < end;
    // what is poured in is not made by the component
    const holder = extents.findLast((each) => isIn(each) && !each.poured.some(isIn));
    if (holder === undefined) continue;
    const { path } = project.registry.get(holder.component)!;
    throw new Problem(`what was ${name} is made by ${holder.component} now: edit ${path}`, {
      hint: `as in ${placeText(placeAt(page, element.start))} once expanded; estrade outline ${path} has its parts and their names`,
    });
  }
}
