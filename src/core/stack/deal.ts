/** Somebody a first text is pressed to by hand. */
export interface Row {
  id: string;
  /** Where they live, as far as their number says; what belongs together stays together. */
  area: string;
}

export interface Holder {
  id: string;
  /** By hand: how many they get. */
  count?: number;
}

/** Evenly; each as many as was said, the rest nobody’s; by area, so that neighbours are one’s own. */
export type How = 'evenly' | 'counts' | 'areas';

/**
 * Deals people to stacks, in the order in which they are given. Each row goes to one stack or to nobody (null), and none
 * is left out while somebody could take it: evenly and by area every row is somebody’s.
 */
export function deal(rows: readonly Row[], holders: readonly Holder[], how: How): Map<string, string | null> {
  if (holders.length === 0) return new Map(rows.map(({ id }) => [id, null]));
  if (how === 'areas') return byArea(rows, holders);
  if (how === 'evenly') return new Map(rows.map(({ id }, i) => [id, holders[i % holders.length]!.id]));
  const dealt = new Map<string, string | null>();
  let at = 0;
  for (const { id, count = 0 } of holders)
    for (const row of rows.slice(at, (at += Math.max(0, count)))) dealt.set(row.id, id);
  for (const { id } of rows.slice(at)) dealt.set(id, null);
  return dealt;
}

/** The largest area first, each to whoever has fewest so far; an area of more than one’s share is cut into shares. */
function byArea(rows: readonly Row[], holders: readonly Holder[]): Map<string, string | null> {
  const share = Math.ceil(rows.length / holders.length);
  const areas = new Map<string, string[]>();
  for (const { id, area } of rows) areas.set(area, [...(areas.get(area) ?? []), id]);
  const pieces = [...areas.values()]
    .flatMap((ids) =>
      Array.from({ length: Math.ceil(ids.length / share) }, (_, i) => ids.slice(i * share, (i + 1) * share)),
    )
    .sort((a, b) => b.length - a.length);
  const held = holders.map(({ id }) => ({ id, rows: 0 }));
  const dealt = new Map<string, string | null>();
  for (const piece of pieces) {
    const least = held.reduce((a, b) => (b.rows < a.rows ? b : a));
    least.rows += piece.length;
    for (const id of piece) dealt.set(id, least.id);
  }
  return dealt;
}
