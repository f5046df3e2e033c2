/** A function that works its answer out when it is first asked for it. */
export function once<T>(work: () => T): () => T {
  let done: { answer: T } | null = null;
  return () => (done ??= { answer: work() }).answer;
}

/** A function that works out each answer when it is first asked for it, and keeps it as long as the function is held. */
export function onceEach<Key, Answer>(work: (key: Key) => Answer): (key: Key) => Answer {
  const known = new Map<Key, Answer>();
  return (key) => {
    if (!known.has(key)) known.set(key, work(key));
    return known.get(key) as Answer;
  };
}
