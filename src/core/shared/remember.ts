/**
 * The same work with its last answers at hand, for texts that come again and again: the copies of one message hold the same
 * words. `most` of them are kept. What is given out is shared: `T` is something nobody changes.
 */
export function remember<T>(most: number, work: (text: string) => T): (text: string) => T {
  const known = new Map<string, T>();
  return (text) => {
    if (known.has(text)) return known.get(text)!;
    const answer = work(text);
    if (known.size >= most) known.clear();
    known.set(text, answer);
    return answer;
  };
}
