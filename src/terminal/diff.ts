/** Unified diffs that `git apply` accepts: of bytes, for a patch carries each file in its own encoding. */
import { structuredPatch } from 'diff';

export interface FileChange {
  path: string;
  /** null when the file is new */
  before: Buffer | null;
  /** null when the file goes */
  after: Buffer | null;
}

/** The patch of one file, as it is written to stdout. */
export function unifiedDiff({ path, before, after }: FileChange): Buffer {
  const [from, to] = [quotePath(`a/${path}`), quotePath(`b/${path}`)];
  const { hunks } = structuredPatch(path, path, lines(before), lines(after), '', '', { context: 3 });
  const head = [`diff --git ${from} ${to}`];
  if (before === null) head.push('new file mode 100644');
  if (after === null) head.push('deleted file mode 100644');
  // a name with a space ends in a tab there, so that no one takes what follows for part of it
  const ended = (name: string) => (name.includes(' ') ? `${name}\t` : name);
  head.push(`--- ${before === null ? '/dev/null' : ended(from)}`, `+++ ${after === null ? '/dev/null' : ended(to)}`);
  const told = hunks.flatMap(({ oldStart, oldLines, newStart, newLines, lines: body }) => [
    `@@ -${start(oldStart, oldLines)} +${start(newStart, newLines)} @@`,
    ...body,
  ]);
  return Buffer.concat([Buffer.from(`${head.join('\n')}\n`), Buffer.from(`${told.join('\n')}\n`, 'latin1')]);
}

/** A file as lines are told apart in a patch, by the byte of the line feed, each byte a character. */
function lines(bytes: Buffer | null): string {
  return bytes?.toString('latin1') ?? '';
}

/** A range of no lines is told by the line before it. */
function start(line: number, count: number): string {
  return `${count === 0 ? line - 1 : line},${count}`;
}

/** As git quotes names with unusual characters. */
function quotePath(path: string): string {
  if (/^[\w./ @+-]+$/.test(path)) return path;
  const bytes = [...Buffer.from(path)].map((byte) => {
    const char = String.fromCharCode(byte);
    if (byte > 126 || byte < 32) return `\\${byte.toString(8).padStart(3, '0')}`;
    return char === '"' || char === '\\' ? `\\${char}` : char;
  });
  return `"${bytes.join('')}"`;
}
