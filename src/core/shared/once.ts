/**
 * What is costly to make and not always wanted: made when it is first asked for, and the same from then on. A failure is not kept.
 */
export function once<T>(make: () => T): () => T {
  let made: { value: T } | null = null;
  return () => (made ??= { value: make() }).value;
}
