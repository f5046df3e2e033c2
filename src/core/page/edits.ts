/** Changes to a source, by ranges of it. */

export interface Edit {
  start: number;
  end: number;
  text: string;
}

/** A stretch of a source, and what becomes of its text between edits, where that is not taken over as it is. */
export interface Stretch {
  start: number;
  end: number;
  /** @param next the character that follows in the source */
  between: (text: string, next: string | undefined) => string;
}

/** The source, or a stretch of it, with the edits made; of edits within each other the outermost. */
export function withEdits(source: string, edits: readonly Edit[], stretch: Partial<Stretch> = {}): string {
  const { start = 0, end = source.length, between = (each: string) => each } = stretch;
  let text = '';
  let at = start;
  for (const edit of [...edits].sort((a, b) => a.start - b.start || b.end - a.end)) {
    if (edit.start < at) continue;
    text += between(source.slice(at, edit.start), source[edit.start]) + edit.text;
    at = edit.end;
  }
  return text + between(source.slice(at, end), source[end]);
}
