/** Changes to a source, by ranges of it. */

export interface Edit {
  start: number;
  end: number;
  text: string;
}

/** The source with the edits made; of edits within each other the outermost. All else stays to the byte. */
export function withEdits(source: string, edits: Edit[]): string {
  let text = '';
  let at = 0;
  for (const edit of [...edits].sort((a, b) => a.start - b.start || b.end - a.end)) {
    if (edit.start < at) continue;
    text += source.slice(at, edit.start) + edit.text;
    at = edit.end;
  }
  return text + source.slice(at);
}
