/** Results as a log for editors and continuous integration: Static Analysis Results Interchange Format, version 2.1.0 (OASIS). */
import { pathToFileURL } from 'node:url';
import type { Place } from '../core/errors.js';

export interface Rule {
  id: string;
  /** what it finds, as a sentence */
  text: string;
}

export interface Result {
  /** id of its rule */
  rule: string;
  level: 'error' | 'warning' | 'note';
  message: string;
  /** null for what has none */
  place: Place | null;
}

/** Name of the folder that paths are relative to. */
const BASE = 'PROJECT';

/**
 * @param root absolute path of the project
 * @param rules those that results may have; only those that have one are written
 * @returns the log; columns count UTF-16 units from 1
 */
export function sarifLog({
  version,
  root,
  rules,
  results,
}: {
  version: string;
  root: string;
  rules: readonly Rule[];
  results: readonly Result[];
}): object {
  const used = rules.filter(({ id }) => results.some(({ rule }) => rule === id));
  const numbers = new Map(used.map(({ id }, i) => [id, i]));
  return {
    $schema: 'https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json',
    version: '2.1.0',
    runs: [
      {
        tool: {
          driver: {
            name: 'Estrade',
            version,
            rules: used.map(({ id, text }) => ({ id, shortDescription: { text } })),
          },
        },
        originalUriBaseIds: { [BASE]: { uri: `${pathToFileURL(root).href.replace(/\/$/, '')}/` } },
        columnKind: 'utf16CodeUnits',
        results: results.map(({ rule, level, message, place }) => ({
          ruleId: rule,
          ruleIndex: numbers.get(rule)!,
          level,
          message: { text: message },
          ...(place === null ? {} : { locations: [{ physicalLocation: locationOf(place) }] }),
        })),
      },
    ],
  };
}

function locationOf({ path, line, column }: Place) {
  return {
    artifactLocation: { uri: path.split('/').map(encodeURIComponent).join('/'), uriBaseId: BASE },
    region: { startLine: line, startColumn: column },
  };
}
