/** A seeded stream of numbers in [0, 1). */
export function stream(seed: number): () => number {
  return () => (seed = (seed * 1_664_525 + 1_013_904_223) >>> 0) / 2 ** 32;
}
