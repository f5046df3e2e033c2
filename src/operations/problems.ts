/** Builds are refused for what is wrong, and names that are none are told with the near ones. */
import type { Component } from '../core/component/model.js';
import { suggestion } from '../core/component/problems.js';
import { placeText, Problem, shownValue } from '../core/errors.js';
import { count } from '../terminal/style.js';
import type { Project } from '../workspace/project.js';
import type { CheckProblem } from '../workspace/wrong-uses.js';

/** So many problems are told with a refusal. */
const MOST_TOLD = 20;

/** @throws Problem (exit 1) that names what is wrong, when anything is */
export function refuseWrong(problems: CheckProblem[], hint: string): void {
  if (problems.length === 0) return;
  const told = problems.slice(0, MOST_TOLD).map((each) => `${placeText(each)}: ${each.message}`);
  const more = problems.length - told.length;
  throw new Problem(`${count(problems.length, 'problem')} in components and uses; nothing was written`, {
    exit: 1,
    details: [...told, ...(more > 0 ? [`and ${count(more, 'more problem')}: estrade check tells them`] : [])],
    hint,
  });
}

/** The component of that name. @throws Problem (exit 2) that names the near one */
export function componentNamed({ registry }: Pick<Project, 'registry'>, name: string): Component {
  const component = registry.get(name);
  if (component !== undefined) return component;
  throw new Problem(`there is no component ${shownValue(name)}`, {
    hint:
      registry.size === 0
        ? 'lift one first: estrade lift --recommended'
        : suggestion(name, registry.keys(), 'the components'),
  });
}
