import { randomBytes } from 'node:crypto';
import type { MikroORM } from '@mikro-orm/postgresql';
import { makeId } from '@/core/shared/ids';
import type { Millis } from '@/core/shared/instant';
import type { Scope } from '@/db/kit/scope';

/** What every use case gets from outside: the database, the clock, ids and chance. */
export interface Context {
  orm: MikroORM;
  now(): Millis;
  id(prefix: string): string;
  /** In [0, 1). */
  chance(): number;
  /** So many bytes that nobody can guess. */
  bytes(count: number): Uint8Array;
  /** Every room, for what all of them have to do about a person. */
  rooms: readonly PersonHooks[];
}

/** Somebody was merged into somebody else, or is being taken apart again. */
export interface MergeOf {
  keptId: string;
  goneId: string;
  at: Date;
}

/** Something of a room that belongs to a teammate, and goes to another when they leave the workspace. */
export interface Owned {
  /** Of one, of several: `person`, `people`. */
  words: [one: string, several: string];
  /** SQL that counts it as `n`: of `:workspace`, of the account `:from`. */
  count: string;
  /** SQL that gives it to `:to`, who may be nobody (null), or to `:heir`, who is always somebody. */
  move: string;
}

/** What a room does when two people become one, or somebody is erased, and when a teammate leaves. */
export interface PersonHooks {
  name: string;
  /** Moves what the room keeps of the one that goes. What it gives is remembered, and comes back with `unmerge`. */
  merge?(scope: Scope, of: MergeOf): Promise<unknown>;
  /** Gives back what `merge` moved. `numberOfGone`: the number the one that comes back had. */
  unmerge?(scope: Scope, of: MergeOf, remembered: unknown, numberOfGone: string): Promise<unknown>;
  /** SQL that empties whatever says who they were: see `db/kit/erasure.ts`. */
  erasures?: readonly string[];
  /** The same for what no SQL reads into; before `erasures`. */
  erase?(scope: Scope, people: readonly string[]): Promise<void>;
  owned?: readonly Owned[];
}

/** A context of one process. `services/context.ts` makes it with all rooms. */
export function contextOf(orm: MikroORM, now: () => Millis, rooms: readonly PersonHooks[]): Context {
  let last = 0;
  // Ids of one process rise: two made in the same millisecond count as one apart.
  const rising = () => (last = Math.max(now(), last + 1));
  return {
    ...{ orm, now, rooms, chance: Math.random, bytes: randomBytes },
    id: (prefix) => makeId(prefix, rising(), drawBytes()),
  };
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
