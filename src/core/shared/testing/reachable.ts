/** States that a table of moves leads to from a start, by any events. */
export function reachable<S extends string>(
  start: S,
  table: Record<S, Partial<Record<string, S>>>,
): ReadonlySet<S> {
  const seen = new Set<S>([start]);
  for (const state of seen) for (const next of Object.values(table[state]) as S[]) seen.add(next);
  return seen;
}
