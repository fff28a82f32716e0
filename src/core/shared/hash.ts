/** The same number for the same words, on every machine (FNV-1a of 32 bits, stirred). Not for secrets. */
export function hashOf(words: string): number {
  let hash = 0x811c9dc5;
  for (let i = 0; i < words.length; i++) hash = Math.imul(hash ^ words.charCodeAt(i), 0x01000193) >>> 0;
  // The low bits of similar words are alike: they are stirred once more.
  hash = Math.imul(hash ^ (hash >>> 15), 0x85ebca6b) >>> 0;
  return (hash ^ (hash >>> 13)) >>> 0;
}

/** Ids in an order that has nothing to do with when they came, and is always the same. */
export const byLot = (ids: readonly string[]): string[] =>
  ids
    .map((id) => ({ id, lot: hashOf(id) }))
    .sort((a, b) => a.lot - b.lot || (a.id < b.id ? -1 : 1))
    .map(({ id }) => id);
