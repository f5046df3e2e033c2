/** Surveying a project: its pages read, and what the draft decides of the findings. */
import { survey } from '../core/survey/survey.js';
import type { Survey } from '../core/survey/types.js';
import { progress } from '../terminal/progress.js';
import { type Draft, readDraft } from '../workspace/draft.js';
import { type LoadedPages, loadPages, openProject, type Project, surveyedPages } from '../workspace/project.js';
import { decide, type Decided } from './decided.js';
import { tellNotices } from './notices.js';
import { type ThresholdOptions, thresholdsOf } from './thresholds.js';

/** Opens the project, reads the pages and surveys them. */
export async function surveyProject(cwd: string, paths: string[], options: ThresholdOptions): Promise<Surveyed> {
  const project = await openProject(cwd);
  tellNotices(project);
  const reading = progress('reading', 'pages');
  const loaded = await loadPages(project, cwd, paths, reading.tick);
  reading.end();
  return surveyLoaded(project, loaded, options, await readDraft(project.root));
}

/**
 * Surveys pages that have been read.
 * @param file the draft, whose names and decisions the findings get; null for findings as they are
 */
export function surveyLoaded(
  project: Project,
  loaded: LoadedPages,
  options: ThresholdOptions,
  file: Draft | null,
): Surveyed {
  const surveying = progress('surveying', 'pages');
  const plain = survey(surveyedPages(loaded), project.registry, {
    onProgress: surveying.tick,
    thresholds: thresholdsOf(project, options),
    stylesheets: loaded.stylesheets,
    words: new Map(Object.entries(project.config.words)),
    leave: project.config.leave,
    take: project.config.take,
    componentFolder: project.config.components,
    keeping: { folder: project.config.data, limit: project.config.inlineList, files: new Map(project.data) },
  });
  surveying.end();
  const draft = file === null ? null : decide(plain, file, { ...loaded, project }, options);
  const found = draft?.survey ?? plain;
  const unreadable = loaded.unreadable.map(({ path, why }) => ({
    kind: 'unreadable' as const,
    message: `${path}: ${why}`,
    places: [{ path, line: 1, column: 1 }],
  }));
  return {
    ...loaded,
    project,
    ...found,
    draft,
    remarks: [...unreadable, ...found.remarks],
  };
}

export interface Surveyed extends Survey, LoadedPages {
  project: Project;
  /** the draft, and what it decides here; null without one */
  draft: Decided | null;
}
