/**
 * A. K. Erlang, “Solution of some Problems in the Theory of Probabilities of Significance in Automatic Telephone Exchanges”
 * (1917): of calls that come by chance, the share that finds every one of so many people busy, where nobody waits.
 */

/**
 * The share of calls that finds nobody free.
 * @param load calls at the same time on average, in Erlang: calls in an hour times hours a call takes
 * @param people at the phones, a whole number
 */
export function shareBusy(load: number, people: number): number {
  if (load <= 0) return 0;
  // B(0) = 1, B(n) = a·B(n-1) / (n + a·B(n-1)): steady where the factorials of the closed form are not.
  let busy = 1;
  for (let n = 1; n <= people; n += 1) busy = (load * busy) / (n + load * busy);
  return busy;
}

/** The greatest load, in Erlang, of which no more than `share` (0 to 1) finds nobody free. None for nobody. */
export function loadFor(people: number, share: number): number {
  if (people <= 0 || share <= 0) return 0;
  let [low, high] = [0, 1];
  while (shareBusy(high, people) < share && high < 1e6) high *= 2;
  for (let i = 0; i < 60; i += 1) {
    const middle = (low + high) / 2;
    if (shareBusy(middle, people) <= share) low = middle;
    else high = middle;
  }
  return low;
}
