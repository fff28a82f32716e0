import type { Millis } from './instant';

/** Crockford base 32: no letters that are mistaken for digits. */
const ALPHABET = '0123456789abcdefghjkmnpqrstvwxyz';

/**
 * An id such as `txt_01kaq3v9d8x4m2p7n5r6`: nine characters of time, so that rows made together lie
 * together in an index and keyset paging follows creation, then eleven random ones (55 bits).
 * `random` gives eleven bytes; only the low five bits of each are used.
 */
export function makeId(prefix: string, at: Millis, random: Uint8Array): string {
  let time = '';
  for (let rest = at, i = 0; i < 9; i++, rest = Math.floor(rest / 32)) time = ALPHABET[rest % 32] + time;
  let tail = '';
  for (let i = 0; i < 11; i++) tail += ALPHABET[(random[i] ?? 0) & 31];
  return `${prefix}_${time}${tail}`;
}
