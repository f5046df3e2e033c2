/** What most of several say. */

/** So many must agree, and so much of all. */
export const MAJORITY = 3;
const SHARE = 0.75;

/** The text that most are, the first of equals, and how many; null where they do not agree so much. */
export function majorityOf(texts: string[]): { text: string; count: number } | null {
  const counts = new Map<string, number>();
  for (const text of texts) counts.set(text, (counts.get(text) ?? 0) + 1);
  const [most] = [...counts].sort((a, b) => b[1] - a[1]);
  if (most === undefined || most[1] < MAJORITY || most[1] < texts.length * SHARE) return null;
  return { text: most[0], count: most[1] };
}
