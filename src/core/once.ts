/** A function that works its answer out when it is first asked for it. */
export function once<T>(work: () => T): () => T {
  let done: { answer: T } | null = null;
  return () => (done ??= { answer: work() }).answer;
}
