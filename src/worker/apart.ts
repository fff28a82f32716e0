/** Resolves so long after an instant of `performance.now()`; at once where that is over. Milliseconds. */
export async function apart(since: number, ms: number): Promise<void> {
  const early = since + ms - performance.now();
  if (early > 0) await new Promise((resolve) => setTimeout(resolve, early));
}
