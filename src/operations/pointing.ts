/** Pointing at what is to be lifted: by line, by a range of lines, or with a selector; shared by `lift` and `show`. */
import { relative, resolve } from 'node:path';
import { nearestName, suggestion } from '../core/component/problems.js';
import { Problem } from '../core/errors.js';
import type { Occurrence } from '../core/fragments/occurrence.js';
import type { Page } from '../core/page/parse.js';
import { elementsOf } from '../core/page/tree.js';
import { takenNames } from '../core/survey/component-names.js';
import { cutsOf } from '../core/survey/cuts.js';
import { elementAt, lookAlikes, runOnLines, selected } from '../core/survey/point.js';
import { pointedFinding, wishedFinding } from '../core/survey/pointed.js';
import { generalisingOf, siteOf } from '../core/survey/survey.js';
import type { Finding } from '../core/survey/types.js';
import type { Pointed, Wishes } from '../core/survey/wishes.js';
import type { Generalising } from '../core/template/generalise.js';
import type { Vocabulary } from '../core/words/vocabulary.js';
import { toPosix } from '../workspace/files.js';
import { type LoadedPages, loadPages, openProject, type Project, surveyedPages } from '../workspace/project.js';
import { tellNotices } from './notices.js';
import type { Surveyed } from './survey.js';
import { type ThresholdOptions, thresholdsOf } from './thresholds.js';

export interface PointingOptions {
  at?: string;
  lines?: string;
  select?: string;
  outer?: number;
  name?: string[];
  props?: string[];
  slot?: string[];
  fixed?: string[];
  alike?: boolean;
}

export interface PointedAt extends Pointed {
  surveyed: Surveyed;
  /** other places that look like the one that was pointed at, not taken */
  alike: Occurrence[];
  /** the options, as they were given */
  again: string;
}

/** What the options point at; null where they do not. @throws Problem (exit 2) */
export async function pointAt(
  cwd: string,
  names: string[],
  options: PointingOptions & ThresholdOptions,
): Promise<PointedAt | null> {
  const ways = (['at', 'lines', 'select'] as const).filter((way) => options[way] !== undefined);
  const [way] = ways;
  if (way === undefined) {
    const needs = (['outer', 'alike', 'name', 'props', 'slot', 'fixed'] as const).find(
      (each) => options[each] !== undefined,
    );
    if (needs === undefined || (names.length > 0 && needs !== 'outer' && needs !== 'alike')) return null;
    throw new Problem(`--${needs} goes with --at, --lines or --select`, { hint: 'point at something first' });
  }
  if (ways.length > 1 || names.length > 0)
    throw new Problem(
      ways.length > 1
        ? `--${ways.join(' and --')} point at different things`
        : `--${way} goes without names and without --recommended`,
      {
        hint: 'take one of them',
      },
    );
  if (options.outer !== undefined && way !== 'at') throw new Problem('--outer goes with --at');
  if (options.alike === true && way === 'select')
    throw new Problem('--alike goes with --at or --lines', { hint: 'a selector takes all that it matches anyway' });
  const project = await openProject(cwd);
  tellNotices(project);
  const loaded = await loadPages(project, cwd, []);
  const pages = surveyedPages(loaded);
  const given = options[way]!;
  const pointed =
    way === 'select'
      ? selected(pages, given)
      : [
          way === 'at'
            ? atPlace(pages, project.root, cwd, given, options.outer ?? 0)
            : onLines(pages, project.root, cwd, given),
        ];
  const site = siteOf(pages, { stylesheets: loaded.stylesheets, words: new Map(Object.entries(project.config.words)) });
  const others = way === 'select' ? [] : lookAlikes(pointed[0]!, site);
  const taken = namesTaken(project, loaded);
  const generalising = generalisingFor(project, site.vocabulary, options);
  const [name = null, ...more] = options.name ?? [];
  if (more.length > 0) throw new Problem('--name gives several names to one component', { hint: 'take one of them' });
  const wishes = wishesOf(options, name);
  const made = pointedFinding(
    options.alike === true ? inOrder([...pointed, ...others], pages) : pointed,
    wishes,
    generalising,
    taken,
  );
  const surveyed: Surveyed = {
    project,
    ...loaded,
    findings: [made.finding],
    otherCount: 0,
    others: () => [],
    regions: () => [],
    remarks: [],
    near: [],
    draft: null,
    vocabulary: site.vocabulary,
    cutsOf: (finding) => cutsOf(finding, [made.finding], generalising),
  };
  return { ...made, surveyed, alike: options.alike === true ? [] : others, again: toldOptions(options) };
}

function inOrder(occurrences: Occurrence[], pages: Page[]): Occurrence[] {
  const number = new Map(pages.map((page, i) => [page, i]));
  return occurrences.sort((a, b) => number.get(a.page)! - number.get(b.page)! || a.element.start - b.element.start);
}

/** What generalises places of the project, by its configuration and the options. */
export function generalisingFor(project: Project, vocabulary: Vocabulary, options: ThresholdOptions): Generalising {
  return generalisingOf(vocabulary, project.registry, {
    componentFolder: project.config.components,
    maxProps: thresholdsOf(project, options).maxProps,
  });
}

/** Names that a component cannot have. */
export function namesTaken({ registry }: Project, loaded: Pick<LoadedPages, 'pages' | 'templates'>): Set<string> {
  return takenNames(
    registry,
    surveyedPages(loaded).map(({ root }) => elementsOf(root)),
  );
}

/** What is wished for by options, but for the name. */
export function wishesOf({ props = [], slot = [], fixed = [] }: PointingOptions, name: string | null): Wishes {
  return { name, props: renamed(props), slots: slot, fixed };
}

/**
 * Findings as the options wish for them.
 * @returns them, and places that a fixed prop leaves out
 * @throws Problem (exit 2) where a wish cannot be met, or it is not clear whose it is
 */
export function wishedFindings(
  { project, pages, templates, vocabulary }: Surveyed,
  findings: Finding[],
  options: PointingOptions & ThresholdOptions,
): { findings: Finding[]; leftOut: Occurrence[] } {
  const names = namesOf(findings, options.name ?? []);
  const { props, slots, fixed } = wishesOf(options, null);
  const isOne = props.size + slots.length + fixed.length > 0;
  if (!isOne && names.size === 0) return { findings, leftOut: [] };
  if (isOne && findings.length > 1)
    throw new Problem('--props, --slot and --fixed go with one finding', {
      hint: 'lift the others in a command of their own',
    });
  const generalising = generalisingFor(project, vocabulary, options);
  const taken = namesTaken(project, { pages, templates });
  const wished = findings.map((finding) => {
    const name = names.get(finding.name) ?? null;
    if (name === null && !isOne) return { finding, leftOut: [] };
    const others = findings.filter((each) => each !== finding).map((each) => names.get(each.name) ?? each.name);
    return wishedFinding(finding, { name, props, slots, fixed }, generalising, new Set([...taken, ...others]));
  });
  return { findings: wished.map(({ finding }) => finding), leftOut: wished.flatMap(({ leftOut }) => leftOut) };
}

/** New names by the names of findings. @throws Problem (exit 2) */
export function namesOf(findings: Finding[], given: string[]): Map<string, string> {
  const [only] = findings;
  return new Map(
    given.map((each) => {
      const [from = '', to, ...more] = each.split('=');
      if (to === undefined && findings.length === 1 && given.length === 1) return [only!.name, each];
      if (!to || more.length > 0)
        throw new Problem(`--name ${each}: whose name is that?`, {
          hint: 'of several findings write --name finding=name',
        });
      if (!findings.some(({ name }) => name === from))
        throw new Problem(`--name ${each}: ${from} is not among what is lifted`, {
          hint: suggestion(
            from,
            findings.map(({ name }) => name),
            'the findings',
          ),
        });
      return [from, to];
    }),
  );
}

function renamed(props: string[]): Map<string, string> {
  return new Map(
    props.map((each) => {
      const [from, to = from, ...more] = each.split('=');
      if (!from || !to || more.length > 0)
        throw new Problem(`--props: "${each}" renames nothing`, { hint: 'write old=new, or the name alone' });
      return [from, to];
    }),
  );
}

/** The page at a path. @throws Problem (exit 2) that names the nearest ones */
export function pageAt(pages: Page[], root: string, cwd: string, path: string): Page {
  const wanted = toPosix(relative(root, resolve(cwd, path)));
  const found = pages.find((page) => page.path === wanted);
  if (found !== undefined) return found;
  const name = wanted.split('/').pop();
  const paths = pages.map((page) => page.path);
  const namesakes = paths.filter((each) => each.split('/').pop() === name);
  const near = namesakes.length > 0 ? namesakes : [nearestName(wanted, paths) ?? []].flat();
  throw new Problem(`there is no page "${path}"`, {
    hint: near.length > 0 ? `did you mean ${near.slice(0, 3).join(', ')}?` : 'paths are relative to the current folder',
  });
}

function atPlace(pages: Page[], root: string, cwd: string, given: string, outer: number): Occurrence {
  const [, path, line, column] = /^(.+?):(\d+)(?::(\d+))?$/.exec(given) ?? [];
  if (path === undefined)
    throw new Problem(`"${given}" is no place`, { hint: 'write --at page.html:34 or --at page.html:34:7' });
  return elementAt(pageAt(pages, root, cwd, path), Number(line), column === undefined ? null : Number(column), outer);
}

function onLines(pages: Page[], root: string, cwd: string, given: string): Occurrence {
  const [, path, from, to] = /^(.+?):(\d+)-(\d+)$/.exec(given) ?? [];
  if (path === undefined)
    throw new Problem(`"${given}" is no range of lines`, { hint: 'write --lines page.html:34-60' });
  return runOnLines(pageAt(pages, root, cwd, path), Number(from), Number(to));
}

/** The options as they are typed again. */
export function toldOptions({ at, lines, select, outer, alike, name, props, slot, fixed }: PointingOptions): string {
  const given = { at, lines, select, outer, name: name?.join(','), props: props?.join(','), fixed: fixed?.join(',') };
  const quoted = (value: string) => (/^[\w./:=,-]+$/.test(value) ? value : `"${value.replace(/["\\$`]/g, '\\$&')}"`);
  return [
    ...Object.entries(given).flatMap(([option, value]) =>
      value === undefined ? [] : [`--${option}`, quoted(String(value))],
    ),
    ...(slot ?? []).flatMap((each) => ['--slot', quoted(each)]),
    ...(alike === true ? ['--alike'] : []),
  ].join(' ');
}
