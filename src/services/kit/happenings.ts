import type { Happening, HappeningKind } from '@/core/happening/kinds';
import {
  happeningBySeq,
  happeningsAfter,
  lockCursor,
  moveCursor,
  settledUpTo,
  stuckHappenings,
  whereBehind,
} from '@/db/kit/happenings';
import { acrossWorkspaces, reading, type Crossing, type Scope } from '@/db/kit/scope';
import { group } from 'd3-array';
import type { Context } from './context';
import { forgetTrouble, noteTroubleIn, Unworkable } from './trouble';

/** Somebody who follows what happens. Its name is stored with how far it is, and never changes. */
export interface Consumer {
  name: string;
  /** Kinds it follows now, in this workspace; the others are passed over unread. */
  follows(scope: Scope): Promise<readonly HappeningKind[]>;
  /**
   * Takes happenings, in the order in which they happened. What it writes commits with how far it is: each happening is
   * taken exactly once. It throws when it cannot take one.
   */
  take(ctx: Context, scope: Scope, happenings: readonly Happening[]): Promise<void>;
}

const SLICE = 2_000;

/** Up to which number happenings can be taken by somebody, and in which workspaces that is still to be done. */
export interface Lag {
  upTo: number;
  workspaces: readonly string[];
}

/** Who has something to take, and where. */
export async function whoIsBehind(
  ctx: Context,
  consumers: readonly Consumer[],
): Promise<ReadonlyMap<Consumer, Lag>> {
  const ask = reading(ctx.orm);
  // The limit is asked first: what is read after it is complete up to there.
  const upTo = await settledUpTo(ask);
  const names = consumers.map(({ name }) => name);
  const behind = group(await whereBehind(ask, names, upTo), ({ consumer }) => consumer);
  return new Map(
    consumers
      .filter(({ name }) => behind.has(name))
      .map((one) => [one, { upTo, workspaces: behind.get(one.name)!.map((row) => row.workspace_id) }]),
  );
}

/** One slice of what happened in each workspace. Gives how far it came; 0: there is no more. */
export async function follow(ctx: Context, consumer: Consumer): Promise<number> {
  const lag = (await whoIsBehind(ctx, [consumer])).get(consumer);
  return lag ? (await followLag(ctx, consumer, lag)).passed : 0;
}

/**
 * All that happened, until there is no more. False: there was nothing.
 * @param known where there is something to take, as it was asked just now
 */
export async function followAll(ctx: Context, consumer: Consumer, known?: Lag): Promise<boolean> {
  const ask = async () => (await whoIsBehind(ctx, [consumer])).get(consumer);
  let any = false;
  for (let lag = known ?? (await ask()); lag;) {
    const { passed, more } = await followLag(ctx, consumer, lag);
    any ||= passed > 0;
    lag = more ? await ask() : undefined;
  }
  return any;
}

interface Passed {
  /** How far it came, as happenings are numbered. */
  passed: number;
  /** There were more than one slice takes. */
  more: boolean;
}

async function followLag(ctx: Context, consumer: Consumer, { upTo, workspaces }: Lag): Promise<Passed> {
  const all: Passed = { passed: 0, more: false };
  for (const workspaceId of workspaces) {
    const one = await acrossWorkspaces(ctx.orm, (crossing) =>
      followSlice(ctx, crossing, workspaceId, consumer, upTo),
    );
    all.passed += one.passed;
    all.more ||= one.more;
  }
  return all;
}

async function followSlice(
  ctx: Context,
  crossing: Crossing,
  workspaceId: string,
  consumer: Consumer,
  upTo: number,
): Promise<Passed> {
  const scope = crossing.within(workspaceId);
  const after = await lockCursor(scope, consumer.name);
  // Another process may have come further since it was asked: nobody goes back.
  if (after === null || after >= upTo) return { passed: 0, more: false };
  const kinds = await consumer.follows(scope);
  const mine = await happeningsAfter(scope, kinds, {
    after,
    upTo,
    most: SLICE,
    takenAt: new Date(ctx.now()),
  });
  if (mine.length > 0) {
    const stuck = new Set((await stuckHappenings(scope, consumer.name)).map((row) => row.person_id));
    const together = stuck.size === 0 && (await scope.attempt(() => consumer.take(ctx, scope, mine))).ok;
    if (!together) await oneByOne(ctx, crossing, scope, consumer, mine, stuck);
  }
  const more = mine.length === SLICE;
  const there = more ? mine.at(-1)!.seq : upTo;
  await moveCursor(scope, consumer.name, there);
  return { passed: there - after, more };
}

/** Each by itself: one that cannot be taken is kept with its problem, and with it what happened to that person after it. */
async function oneByOne(
  ctx: Context,
  crossing: Crossing,
  scope: Scope,
  consumer: Consumer,
  happenings: readonly Happening[],
  stuck: Set<string>,
): Promise<void> {
  for (const happening of happenings) {
    const { personId, seq } = happening;
    const due = { id: `${consumer.name} ${seq}`, workspaceId: scope.workspaceId };
    if (stuck.has(personId)) {
      await noteTroubleIn(crossing, ctx, 'happening', due, new Behind());
      continue;
    }
    const taken = await scope.attempt(() => consumer.take(ctx, scope, [happening]));
    if (taken.ok) continue;
    stuck.add(personId);
    await noteTroubleIn(crossing, ctx, 'happening', due, taken.error);
  }
}

/** It waits for an earlier one of the same person. */
class Behind extends Error {
  constructor() {
    super('Something that happened to this person before could not be passed on yet');
  }
}

/** Takes one that was stuck. False: there is an earlier one of the same person, or it is being worked on. */
export async function takeStuck(
  ctx: Context,
  consumers: readonly Consumer[],
  workspaceId: string,
  id: string,
): Promise<boolean> {
  const [name = '', seq = ''] = id.split(' ');
  const consumer = consumers.find((one) => one.name === name);
  if (!consumer) throw new Unworkable(`Nothing called ${name} follows what happens any more.`);
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const scope = crossing.within(workspaceId);
    if ((await lockCursor(scope, name)) === null) return false;
    const happening = await happeningBySeq(scope, Number(seq), new Date(ctx.now()));
    // Null: the person was erased, and what happened to them is gone.
    if (happening && (await earlierStuck(scope, name, happening))) return false;
    if (happening) await consumer.take(ctx, scope, [happening]);
    await forgetTrouble(scope, 'happening', id);
    return true;
  });
}

const earlierStuck = async (scope: Scope, consumer: string, { personId, seq }: Happening): Promise<boolean> =>
  (await stuckHappenings(scope, consumer)).some((row) => row.person_id === personId && row.seq < seq);
