import type { MikroORM } from '@mikro-orm/postgresql';
import type { Millis } from '@/core/shared/instant';
import { contextOf, type Context } from './kit/context';
import { ROOMS } from './rooms';

export type { Context } from './kit/context';

/** What every use case gets from outside, with every room of the house. */
export const makeContext = (orm: MikroORM, now: () => Millis): Context => contextOf(orm, now, ROOMS);
