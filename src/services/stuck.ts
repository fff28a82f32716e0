import type { QueueName } from '@/core/work/queues';
import { ok, type Result } from '@/core/shared/result';
import { announce } from '@/db/delivery/texts';
import { tidyTroubles, troubleAgainNow, troubleOf, troubles, type TroubleRow } from '@/db/kit/trouble';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import { writeAudit } from './kit/audit';
import type { Context } from './kit/context';
import { forgetTrouble, type WaysOut } from './kit/trouble';
import { notFound, type Refusal } from './kit/validation';
import { HAPPENING_QUEUE } from './follow';
import { ROOMS } from './rooms';

/** Every kind of row that can be stuck, with the ways out of it. */
export const WAYS_OUT: ReadonlyMap<QueueName, WaysOut> = new Map(
  [HAPPENING_QUEUE, ...ROOMS.flatMap(({ queues = [], waysOut = [] }) => [...queues, ...waysOut])].map(
    (way) => [way.name, way],
  ),
);

const STUCK_ROWS = new Map([...WAYS_OUT].map(([name, { rows }]) => [name, rows]));

/** What could not be worked on in a workspace, oldest first; about one thing where its id is given. */
export const readTroubles = (scope: Scope, id: string | null = null): Promise<TroubleRow[]> =>
  troubles(scope, STUCK_ROWS, id);

/** It is tried again now. */
export const tryAgain = (
  ctx: Context,
  scope: Scope,
  queue: QueueName,
  id: string,
  actor: string,
): Promise<Result<null, Refusal>> =>
  actOn(ctx, scope, queue, id, { actor, action: 'trouble.tried-again', due: true }, async (way) => {
    const now = new Date(ctx.now());
    await way.tryAgain?.(scope, id, now);
    await (way.keepsTrouble ? troubleAgainNow(scope, queue, id, now) : forgetTrouble(scope, queue, id));
    return ok(null);
  });

/** It is given up: what that means is the queue's to say (`QUEUE_WORDS`). */
export const giveUp = (
  ctx: Context,
  scope: Scope,
  queue: QueueName,
  id: string,
  actor: string,
): Promise<Result<null, Refusal>> =>
  actOn(ctx, scope, queue, id, { actor, action: 'trouble.given-up', due: false }, async (way) => {
    const given = await way.giveUp(ctx, scope, id, actor);
    if (given.ok) await forgetTrouble(scope, queue, id);
    return given;
  });

async function actOn(
  ctx: Context,
  scope: Scope,
  queue: QueueName,
  id: string,
  { actor, action, due }: { actor: string; action: string; due: boolean },
  work: (way: WaysOut) => Promise<Result<unknown, Refusal>>,
): Promise<Result<null, Refusal>> {
  const way = WAYS_OUT.get(queue);
  if (!way || !(await troubleOf(scope, queue, id))) return notFound('problem');
  const done = await work(way);
  if (!done.ok) return done;
  await writeAudit(ctx, scope, actor, action, id, { queue });
  await announce(scope, due);
  return ok(null);
}

/** Problems of rows that do not wait any more, whoever moved them, are none any more. */
export const forgetSettledTroubles = (ctx: Context): Promise<number> =>
  acrossWorkspaces(ctx.orm, (crossing) => tidyTroubles(crossing, STUCK_ROWS));
