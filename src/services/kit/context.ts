import { randomBytes } from 'node:crypto';
import type { MikroORM } from '@mikro-orm/postgresql';
import { makeId } from '@/core/shared/ids';
import type { Millis } from '@/core/shared/instant';

/** What every use case gets from outside: the database, the clock, ids and chance. */
export interface Context {
  orm: MikroORM;
  now(): Millis;
  id(prefix: string): string;
  /** In [0, 1). */
  chance(): number;
}

export function makeContext(orm: MikroORM, now: () => Millis): Context {
  let last = 0;
  // Ids of one process rise: two made in the same millisecond count as one apart.
  const rising = () => (last = Math.max(now(), last + 1));
  return { orm, now, id: (prefix) => makeId(prefix, rising(), drawBytes()), chance: Math.random };
}

/** Chance for an id, drawn from the system for many ids at once: an import makes hundreds of thousands. */
const DRAWN = 11;
const POOL = DRAWN * 512;
let pool: Buffer = Buffer.alloc(0);

function drawBytes(): Buffer {
  if (pool.length < DRAWN) pool = randomBytes(POOL);
  const drawn = pool.subarray(0, DRAWN);
  pool = pool.subarray(DRAWN);
  return drawn;
}
