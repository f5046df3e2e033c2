/** What is wrong with components and uses, as commands and the preview tell it. */
import type { Registry } from '../core/component/model.js';
import { usedComponent } from '../core/component/use.js';
import { nearestName, templateProblems, type UseProblem } from '../core/component/problems.js';
import { type Place, placeText, shownValue } from '../core/errors.js';
import { type Page, parsePage, placeAt } from '../core/page/parse.js';
import { type Element, elementsOf } from '../core/page/tree.js';
import { journaledOriginals, type Originals } from './originals.js';
import type { Project } from './project.js';

export interface CheckProblem extends Place {
  kind: string;
  message: string;
  /** a warning is told and passes */
  severity: 'error' | 'warning';
}

export function asError({ kind, message, place }: { kind: string; message: string; place: Place }): CheckProblem {
  return { kind, message, severity: 'error', ...place };
}

/** Each problem once, wherever it was met again. */
export function eachOnce(problems: CheckProblem[]): CheckProblem[] {
  return [...new Map(problems.map((problem) => [`${placeText(problem)} ${problem.message}`, problem])).values()];
}

/**
 * Tags that look like uses and are none. The user's own elements and templates are not ours to judge: those that a page had
 * before its first lift; in one that was never lifted, what no component is called like is a warning at most.
 */
export function unknownUses(
  page: Page,
  registry: Registry,
  originals: Pick<Originals, 'of' | 'components'>,
): CheckProblem[] {
  // a template says what it uses, another tag may be a component's by its hyphen
  const nameOf = (element: Element) =>
    usedComponent(element, (name) => element.tag === 'template' || name.includes('-'));
  const unknown = elementsOf(page.root).flatMap((element) => {
    const name = nameOf(element);
    return name === null || registry.has(name) ? [] : [{ element, name }];
  });
  if (unknown.length === 0) return [];
  const found = originals.of(page.path);
  const original = found !== null && 'text' in found ? found.text : null;
  const before = original === null ? [] : elementsOf(parsePage(page.path, original).root);
  const own = new Set(before.flatMap((element) => nameOf(element) ?? []));
  return unknown.flatMap(({ element, name }) => {
    if (own.has(name)) return [];
    const near = nearestName(name, registry.keys());
    const isSure = near !== null || originals.components.has(name);
    if (!isSure && element.tag !== 'template') return [];
    const hint = near === null ? 'its file is not there' : `did you mean ${near}?`;
    return [
      {
        kind: 'unknown-component',
        message: `there is no component ${shownValue(name)}: ${hint}`,
        // a template of a page that was never lifted may be the page's own
        severity: isSure || original !== null ? 'error' : 'warning',
        ...placeAt(page, element.start),
      },
    ];
  });
}

/** Gathers all that is wrong with the components of a project, and with uses as page after page is expanded. */
export function wrongUses(project: Project): {
  /** @param problems what expanding the page told */
  add: (page: Page, problems: UseProblem[]) => void;
  errors: () => CheckProblem[];
} {
  const { registry } = project;
  const originals = journaledOriginals(project);
  const found: CheckProblem[] = [];
  return {
    add: (page, problems) => found.push(...problems.map(asError), ...unknownUses(page, registry, originals)),
    errors: () =>
      eachOnce([...templateProblems(registry).map(asError), ...found]).filter(({ severity }) => severity === 'error'),
  };
}
