/** What `lift --extend` does before anything is lifted: a component is widened for what is nearly a use of it. */
import { suggestion } from '../core/component/problems.js';
import { readComponents, templatesOf } from '../core/component/read.js';
import { placeText, Problem, shownValue } from '../core/errors.js';
import { extendComponent } from '../core/lift/extend.js';
import type { NearUse } from '../core/match/known.js';
import { placeAt } from '../core/page/parse.js';
import { elementsOf } from '../core/page/tree.js';
import { differenceText } from '../core/survey/near.js';
import type { Finding } from '../core/survey/types.js';
import { encode } from '../workspace/encoding.js';
import { surveyedPages } from '../workspace/project.js';
import type { PlannedFile } from '../workspace/transaction.js';
import { refuseOtherPages } from './changing.js';
import { type Surveyed, surveyLoaded } from './survey.js';
import type { ThresholdOptions } from './thresholds.js';

export interface Extending {
  /** the survey with the component as it is then */
  surveyed: Surveyed;
  /** all that it gives back then */
  finding: Finding;
  /** what uses may say from now on: `flag "wide"` */
  added: string[];
  /** the component file */
  file: PlannedFile;
  /** `page:line:column: what it says otherwise`, of what it still does not give back */
  rest: string[];
}

/**
 * Widens a component for all fragments that would be uses of it but for one thing; its uses stay as they are to the byte.
 * @throws Problem (exit 1) where there are none, or no template can say what differs
 */
export function extended(surveyed: Surveyed, name: string, options: ThresholdOptions): Extending {
  const { project, pages, near, files } = surveyed;
  const { registry, componentFiles, data, config } = project;
  const component = registry.get(name);
  if (component === undefined)
    throw new Problem(`--extend: there is no component ${shownValue(name)}`, {
      hint: suggestion(name, registry.keys(), 'the components'),
    });
  const mine = near.filter((each) => each.component.name === name && each.difference.component.name === name);
  if (mine.length === 0)
    throw new Problem(`nothing would be a use of ${name} but for one thing`, {
      exit: 1,
      hint: 'estrade survey tells what would be',
    });
  const elements = surveyedPages(surveyed).flatMap(({ root }) => elementsOf(root));
  const extension = extendComponent(component, mine, { sources: componentFiles, registry, elements });
  if (extension === null)
    throw new Problem(`no template of ${name} can say what differs`, {
      exit: 1,
      details: mine.map(nearText),
      hint: 'nothing was written',
    });
  const original = componentFiles.find(({ path }) => path === component.path)!.file;
  const changed = componentFiles.map((each) =>
    each.path === component.path ? { ...each, source: extension.file.source } : each,
  );
  const after = readComponents(changed, { data, maxPageSize: config.maxPageSize });
  refuseOtherPages(pages, registry, after);
  const again = surveyLoaded(
    { ...project, componentFiles: changed, registry: after },
    { ...surveyed, templates: templatesOf(after) },
    options,
    null,
  );
  const finding = again.findings.find((each) => each.component?.name === name);
  if (finding === undefined) throw new Error(`${name} gives nothing back after all`);
  const bytes = encode(extension.file.source, original);
  return {
    surveyed: { ...again, files },
    finding,
    added: extension.added,
    file: { path: component.path, before: original.bytes, after: bytes, origin: null },
    rest: extension.rest.map(nearText),
  };
}

function nearText({ occurrence: { page, element }, difference }: NearUse): string {
  return `${placeText(placeAt(page, element.start))}: ${differenceText(difference)}`;
}
