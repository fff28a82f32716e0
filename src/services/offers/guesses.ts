import { RateLimiterMemory } from 'rate-limiter-flexible';
import { MINUTE, SECOND } from '@/core/shared/instant';

/** So many codes that are none may be asked for from one address of the internet. */
const MOST = 30;
const WITHIN = 10 * MINUTE;

/** Codes that were guessed, by who asked. Kept in the process: somebody who asks many processes has as many tries. */
const wrong = new RateLimiterMemory({ points: MOST, duration: WITHIN / SECOND });

export type Guessed<T> = T | null | 'too-many';

/**
 * Looks something up by its code, unless too many codes that were none came from the address: with a million vouchers out
 * somebody who tries a hundred a second would have one within hours.
 */
export async function unlessGuessed<T>(address: string, look: () => Promise<T | null>): Promise<Guessed<T>> {
  const before = await wrong.get(address);
  if (before && before.consumedPoints >= MOST) return 'too-many';
  const found = await look();
  if (found === null) await wrong.consume(address).catch(() => undefined);
  return found;
}
