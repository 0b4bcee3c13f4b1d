/** So many answers are kept; when there are more, it begins anew. */
const MOST = 5000;

/**
 * A pure function of text that remembers what it answered: in a long sheet the same days, figures and names come again
 * and again.
 */
export function remembering<T>(work: (text: string) => T): (text: string) => T {
  const known = new Map<string, T>();
  return (text) => {
    const before = known.get(text);
    if (before !== undefined) return before;
    const answer = work(text);
    if (known.size >= MOST) known.clear();
    known.set(text, answer);
    return answer;
  };
}
