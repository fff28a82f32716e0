import type { QueueName } from '@/core/work/queues';
import { ok, type Result } from '@/core/shared/result';
import { cancelOne } from '@/db/delivery/due-texts';
import { endSearch } from '@/db/people/duplicates';
import { announce } from '@/db/delivery/texts';
import { tidyTroubles, troubleOf, troubles, untroubled, type TroubleRow } from '@/db/kit/trouble';
import { acrossWorkspaces, type Crossing, type Scope } from '@/db/kit/scope';
import type { Receipt } from '@/gateways/carrier';
import { writeAudit } from './kit/audit';
import { stopBatch } from './batches/batches';
import type { Context } from './kit/context';
import { giveUpImport } from './imports/imports';
import { moveBroadcast, stopBroadcast } from './sends/move-broadcast';
import { storeAnswers } from './delivery/store-answers';
import { forgetTrouble, type Queue } from './kit/trouble';
import { settleUnread } from './inbox/unread-texts';
import { notFound, type Refusal } from './kit/validation';

/** Receipts that could not be stored: the carrier knows that we have them, so they are kept with their problem. */
export const RECEIPT_QUEUE: Queue = {
  name: 'receipt',
  due: (crossing, _, at) => receiptsToTry(crossing, at),
  work: async (ctx, { id }) => {
    const detail = await acrossWorkspaces(ctx.orm, (crossing) => detailOf(crossing, id));
    if (detail) await storeAnswers(ctx, [], [detail]);
    return detail !== null;
  },
};

const receiptsToTry = async (crossing: Crossing, at: Date) =>
  (
    await crossing.rows<{ row_id: string; workspace_id: string | null }>(
      `select row_id, workspace_id from trouble t where queue = 'receipt' and detail is not null and ${untroubled('receipt')('t.row_id')} limit 100`,
      { at },
    )
  ).map(({ row_id: id, workspace_id: workspaceId }) => ({ id, workspaceId }));

const detailOf = async (crossing: Crossing, id: string): Promise<Receipt | null> =>
  (
    await crossing.rows<{ detail: Receipt }>(
      `select detail from trouble where queue = 'receipt' and row_id = :id`,
      { id },
    )
  )[0]?.detail ?? null;

type GiveUp = (ctx: Context, scope: Scope, id: string, actor: string) => Promise<Result<null, Refusal>>;

const stopSend: GiveUp = async (ctx, scope, id) => {
  await stopBroadcast(ctx, scope, id);
  return ok(null);
};

/** What becomes of a row that is given up. */
const GIVE_UPS: Record<QueueName, GiveUp> = {
  'broadcast-begin': async (ctx, scope, id) => {
    await moveBroadcast(scope, id, 'call-back', new Date(ctx.now()));
    return ok(null);
  },
  'broadcast-prepare': stopSend,
  'broadcast-finish': stopSend,
  batch: async (ctx, scope, id, actor) => {
    const stopped = await stopBatch(ctx, scope, id, { name: actor, accountId: null });
    return stopped.ok ? ok(null) : stopped;
  },
  import: giveUpImport,
  'duplicate-search': async (ctx, scope) => {
    await endSearch(scope, new Date(ctx.now()));
    return ok(null);
  },
  'unread-text': (ctx, scope, id, actor) => settleUnread(ctx, scope, id, 'stays', actor),
  text: async (ctx, scope, id) => {
    await cancelOne(scope, id, new Date(ctx.now()));
    return ok(null);
  },
  // It is kept in its trouble alone, which goes.
  receipt: () => Promise.resolve(ok(null)),
};

/** What could not be worked on in a workspace, oldest first. */
export const readTroubles = (scope: Scope): Promise<TroubleRow[]> => troubles(scope);

/** What could not be worked on about one thing. */
export const readTroublesOf = async (scope: Scope, id: string): Promise<TroubleRow[]> =>
  (await troubles(scope)).filter((row) => row.row_id === id);

/** It is tried again now. */
export async function tryAgain(
  ctx: Context,
  scope: Scope,
  queue: QueueName,
  id: string,
  actor: string,
): Promise<Result<null, Refusal>> {
  const row = await troubleOf(scope, queue, id);
  if (!row) return notFound('problem');
  const now = new Date(ctx.now());
  // A receipt is kept in its trouble and nowhere else.
  if (queue === 'receipt')
    await scope.run(
      `update trouble set aside_at = null, next_try_at = :now where workspace_id = :workspace and queue = :queue and row_id = :id`,
      { queue, id, now },
    );
  else await forgetTrouble(scope, queue, id);
  if (queue === 'text')
    await scope.run(
      `update text set not_before = :now where workspace_id = :workspace and id = :id and not_before is not null`,
      { id, now },
    );
  await writeAudit(ctx, scope, actor, 'trouble.tried-again', id, { queue });
  await announce(scope, true);
  return ok(null);
}

/** It is given up: what that means is the queue's to say (`QUEUE_WORDS`). */
export async function giveUp(
  ctx: Context,
  scope: Scope,
  queue: QueueName,
  id: string,
  actor: string,
): Promise<Result<null, Refusal>> {
  const row = await troubleOf(scope, queue, id);
  if (!row) return notFound('problem');
  const given = await GIVE_UPS[queue](ctx, scope, id, actor);
  if (!given.ok) return given;
  await forgetTrouble(scope, queue, id);
  await writeAudit(ctx, scope, actor, 'trouble.given-up', id, { queue });
  await announce(scope, false);
  return ok(null);
}

/** Problems of rows that do not wait any more, whoever moved them, are none any more. */
export const forgetSettledTroubles = (ctx: Context): Promise<number> =>
  acrossWorkspaces(ctx.orm, tidyTroubles);
