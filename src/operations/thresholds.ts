/** The thresholds of a survey: of the options, else of the configuration. */
import type { Thresholds } from '../core/survey/types.js';
import type { Project } from '../workspace/project.js';

export type ThresholdOptions = Partial<Thresholds>;

/** The configured thresholds, those of the command line before them. */
export function thresholdsOf(project: Project, options: ThresholdOptions): Thresholds {
  const given = Object.entries(options).filter(([key]) => key in project.config.survey);
  return { ...project.config.survey, ...Object.fromEntries(given) };
}
