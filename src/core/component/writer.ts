/** Collects output and knows how the line that is being written is indented. */
export class Writer {
  private readonly chunks: string[] = [];
  private head = '';
  private inHead = true;
  private written = 0;

  write(text: string): void {
    if (text === '') return;
    this.chunks.push(text);
    this.written += text.length;
    const at = Math.max(text.lastIndexOf('\n'), text.lastIndexOf('\r'));
    if (at >= 0) {
      this.head = '';
      this.inHead = true;
    }
    if (!this.inHead) return;
    const rest = text.slice(at + 1);
    const space = /^[ \t]*/.exec(rest)![0];
    this.head += space;
    this.inHead = space.length === rest.length;
  }

  /** White space at the start of the current line. */
  get indent(): string {
    return this.head;
  }

  /** UTF-16 units written so far. */
  get length(): number {
    return this.written;
  }

  /** All that was written. */
  text(): string {
    return this.chunks.join('');
  }
}
