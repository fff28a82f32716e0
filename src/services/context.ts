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

export const makeContext = (orm: MikroORM, now: () => Millis): Context => ({
  orm,
  now,
  id: (prefix) => makeId(prefix, now(), randomBytes(11)),
  chance: Math.random,
});
