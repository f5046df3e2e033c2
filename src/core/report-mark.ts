/** What a report begins with: it is known by that as no page of the site it is about. */
export const REPORT_BEGINNING = '<!DOCTYPE html>\n<!-- A report, written by estrade report; no page of the site. -->\n';

/** Whether the text of a file is a report. */
export function isReport(text: string): boolean {
  return text.startsWith(REPORT_BEGINNING);
}
