import {
  canUndo,
  lastSlice,
  moveBatch,
  nextSlice,
  sliceOf,
  type BatchAction,
  type Pace,
} from '@/core/batch/batch';
import { parseInstant, SECOND, toIso } from '@/core/shared/instant';
import { assertNever, ok, type Result } from '@/core/shared/result';
import { Label, Stage } from '@/db/people/entities';
import { Program } from '@/db/programs/entities';
import {
  advance,
  batchRow,
  dueBatches,
  failGone,
  freezeCut,
  freezeIds,
  holdThing,
  insertBatch,
  labelSlice,
  lockDueBatch,
  markOutcome,
  setBatchState,
  setSlice,
  sliceIds,
  unlabelSlice,
  unsetSlice,
  type BatchRow,
  type Slice,
} from '@/db/batches/batches';
import { giveRoom } from '@/db/audience/cut';
import { announce, cancelQueued } from '@/db/delivery/texts';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { audienceContext, cutOf, planCondition, readCondition } from '@/services/audience/audience';
import { writeAudit } from '@/services/kit/audit';
import type { Actor } from '@/services/kit/actor';
import type { Context } from '@/services/kit/context';
import { erasePeople } from '@/services/people/erase-person';
import type { BatchInput } from './inputs';
import { leaveByHand } from '@/services/consent/record-consent';
import { asDue, workThrough, type Queue } from '@/services/kit/trouble';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { ownsPeople } from '@/services/access/teammates';
import { Sequence } from '@/db/sequences/entities';
import { enterPeople } from '@/services/sequences/enter';

/** Before anything is done there is a moment to call it back. */
const GRACE = 10 * SECOND;

/** Starts a batch: who is meant is written down now, what is done begins after the grace, or at its time. */
export async function createBatch(
  ctx: Context,
  scope: Scope,
  input: BatchInput,
  actor: Actor,
): Promise<Result<BatchRow, Refusal>> {
  const now = ctx.now();
  const action = await readAction(scope, input);
  if (!action.ok) return action;
  const start = input.at
    ? parseInstant(input.at)!
    : now + (action.value.do === 'keep' ? 0 : (input.grace_seconds ?? GRACE / SECOND) * SECOND);
  if (start < now - 60 * SECOND) return invalid('at', 'at: lies in the past. Leave it out to start now.');
  if ((input.pace_count === undefined) !== (input.pace_seconds === undefined))
    return invalid('pace_count', 'pace_count: a pace needs both how many and how often.');
  const id = ctx.id('bat');
  await insertBatch(scope, {
    id,
    name: input.name.trim(),
    action: action.value,
    paceCount: input.pace_count ?? null,
    paceSeconds: input.pace_seconds ?? null,
    startAt: new Date(start),
    createdBy: actor.accountId,
    at: new Date(now),
  });
  const total = await freeze(ctx, scope, id, input);
  if (!total.ok) return total;
  if (total.value === 0)
    return invalid('people', 'people: nobody is meant. Tick somebody, or take a condition out.');
  if (action.value.do === 'delete' && input.confirm_count !== total.value)
    return invalid(
      'confirm_count',
      `confirm_count: type the number of people, ${total.value}, to delete them for good.`,
    );
  await writeAudit(ctx, scope, actor.name, 'batch.created', id, { ...action.value, people: total.value });
  return ok((await batchRow(scope, id))!);
}

async function freeze(
  ctx: Context,
  scope: Scope,
  id: string,
  input: BatchInput,
): Promise<Result<number, Refusal>> {
  if (input.people) return ok(await freezeIds(scope, id, input.people));
  const condition = readCondition(input.condition);
  if (!condition.ok) return condition;
  const plan = planCondition(condition.value, await audienceContext(scope, ctx.now()));
  if (!plan.ok) return plan;
  await giveRoom(scope);
  return ok(await freezeCut(scope, id, cutOf(plan.value, input.search ?? '')));
}

async function readAction(scope: Scope, { action, id }: BatchInput): Promise<Result<BatchAction, Refusal>> {
  const gone = (what: string) => invalid('id', `id: there is no such ${what} here.`);
  switch (action) {
    case 'add-label':
    case 'take-label':
      return id && (await scope.em.findOne(Label, { id }))
        ? ok({ do: 'label', label: id, on: action === 'add-label' })
        : gone('tag or list');
    case 'stage':
      return !id || (await scope.em.findOne(Stage, { id }))
        ? ok({ do: 'stage', stage: id ?? null })
        : gone('stage');
    case 'owner':
      return !id || (await ownsPeople(scope, id)) ? ok({ do: 'owner', owner: id ?? null }) : gone('teammate');
    case 'opt-out':
      return id && (await scope.em.findOne(Program, { id }))
        ? ok({ do: 'opt-out', program: id })
        : gone('program');
    case 'sequence': {
      const sequence = id ? await scope.em.findOne(Sequence, { id }) : null;
      if (!sequence) return gone('sequence');
      return sequence.state === 'running'
        ? ok({ do: 'begin', sequence: sequence.id })
        : invalid('id', 'id: this sequence does not run. Publish it, or let it go on.');
    }
    case 'keep':
    case 'delete':
      return ok({ do: action });
    default:
      return assertNever(action);
  }
}

export const paceOf = (row: Pick<BatchRow, 'pace_count' | 'pace_seconds'>): Pace | null =>
  row.pace_count === null || row.pace_seconds === null
    ? null
    : { count: row.pace_count, seconds: row.pace_seconds };

/** A batch of this workspace; null: there is none. */
export const batchById = (scope: Scope, id: string): Promise<BatchRow | null> => batchRow(scope, id);

/** When its last people are due, as things stand. */
export const endOf = (row: BatchRow): number =>
  lastSlice(row.next_at.getTime(), row.total - row.cursor, paceOf(row));

export async function stopBatch(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<BatchRow, Refusal>> {
  return move(ctx, scope, id, 'stop', actor, 'state: it is over already.');
}

/** Changes back what it changed, as far as nobody changed it since. */
export async function undoBatch(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<BatchRow, Refusal>> {
  const row = await batchRow(scope, id);
  if (row && !canUndo(row.action))
    return conflict(
      'action',
      'action: this cannot be undone. An opt-out stands, and what is deleted is gone.',
    );
  return move(
    ctx,
    scope,
    id,
    'undo',
    actor,
    'state: only a batch that is over can be undone, and only once.',
  );
}

async function move(
  ctx: Context,
  scope: Scope,
  id: string,
  event: 'stop' | 'undo',
  actor: Actor,
  otherwise: string,
): Promise<Result<BatchRow, Refusal>> {
  const row = await batchRow(scope, id);
  if (!row) return notFound('batch');
  const next = moveBatch(row.state, event);
  if (!next || !(await setBatchState(scope, id, [row.state], next, new Date(ctx.now()))))
    return conflict('state', otherwise);
  await writeAudit(ctx, scope, actor.name, `batch.${event}`, id);
  return ok((await batchRow(scope, id))!);
}

/**
 * Batches whose next slice is due, one of each workspace at a time. What is done and how far it is commit together, so
 * that a worker that dies leaves nothing half done and nothing is done twice.
 */
export const BATCH_QUEUE: Queue = {
  name: 'batch',
  rows: {
    named: `(select name from batch b where b.workspace_id = :workspace and b.id = x.row_id)`,
    waits: `exists (select 1 from batch b where b.id = x.row_id and b.state in ('waiting', 'running', 'undoing'))`,
  },
  everyMs: 300,
  untilDone: true,
  giveUp: (ctx, scope, id, actor) => stopBatch(ctx, scope, id, { name: actor, accountId: null }),
  due: async (reading, untroubled, at) => asDue(await dueBatches(reading, untroubled('b.id'), at)),
  work: (ctx, { id, workspaceId }) =>
    inWorkspace(ctx.orm, workspaceId!, (scope) => workOnSlice(ctx, scope, id)),
};

/** One slice of each workspace's next batch; true while there may be more. */
export const runBatchSlice = async (ctx: Context): Promise<boolean> =>
  (await workThrough(ctx, BATCH_QUEUE)) > 0;

async function workOnSlice(ctx: Context, scope: Scope, id: string): Promise<boolean> {
  const at = ctx.now();
  const row = await lockDueBatch(scope, id, new Date(at));
  if (!row) return false;
  const gone = await goneSince(scope, row.action);
  if (row.state === 'undoing') await undoSlice(scope, row, at);
  else if (gone) await setBatchState(scope, id, [row.state], 'stopped', new Date(at), gone);
  else await doSlice(ctx, scope, row, at);
  await announce(scope, false);
  return true;
}

/** Why it cannot go on: what it is about was removed since. Null: it is here, and stays while this slice is done. */
async function goneSince(scope: Scope, action: BatchAction): Promise<string | null> {
  const here = (kind: 'label' | 'stage' | 'program', id: string) => holdThing(scope, kind, id);
  switch (action.do) {
    case 'label':
      return (await here('label', action.label)) ? null : 'The tag or list it is about was removed since.';
    case 'stage':
      return action.stage === null || (await here('stage', action.stage))
        ? null
        : 'The stage it is about was removed since.';
    case 'opt-out':
      return (await here('program', action.program)) ? null : 'The program it is about was removed since.';
    case 'begin':
      return (await scope.em.count(Sequence, { id: action.sequence, state: ['running', 'paused'] })) > 0
        ? null
        : 'The sequence it is about was ended since.';
    case 'owner':
    case 'keep':
    case 'delete':
      return null;
    default:
      return assertNever(action);
  }
}

async function doSlice(ctx: Context, scope: Scope, row: BatchRow, at: number): Promise<void> {
  const pace = paceOf(row);
  const slice: Slice = {
    batchId: row.id,
    from: row.cursor,
    to: Math.min(row.cursor + sliceOf(row.action, pace), row.total),
  };
  await apply(ctx, scope, row, slice, at);
  const over = slice.to >= row.total;
  await advance(scope, row.id, {
    state: over ? 'finished' : 'running',
    cursor: slice.to,
    undoCursor: row.undo_cursor,
    nextAt: new Date(nextSlice(row.next_at.getTime(), at, pace)),
    finishedAt: over ? new Date(at) : null,
    at: new Date(at),
  });
}

async function apply(ctx: Context, scope: Scope, row: BatchRow, slice: Slice, at: number): Promise<void> {
  const { action } = row;
  switch (action.do) {
    case 'label':
      return labelSlice(scope, slice, action.label, action.on, new Date(at));
    case 'stage':
      return setSlice(scope, slice, 'stage_id', action.stage);
    case 'owner':
      return setSlice(scope, slice, 'owner_id', action.owner);
    case 'opt-out':
      return optOut(ctx, scope, row, slice, action.program);
    case 'begin':
      return letIn(ctx, scope, row, slice, action.sequence);
    case 'delete':
      await failGone(scope, slice);
      return erasePeople(ctx, scope, await sliceIds(scope, slice), `batch:${row.id}`);
    case 'keep':
      return;
    default:
      return assertNever(action);
  }
}

/** They come into a sequence; its grace is the time to call them back. */
async function letIn(
  ctx: Context,
  scope: Scope,
  row: BatchRow,
  slice: Slice,
  sequenceId: string,
): Promise<void> {
  await failGone(scope, slice);
  const people = await sliceIds(scope, slice);
  const came = new Set(
    await enterPeople(
      ctx,
      scope,
      sequenceId,
      people.map((personId) => ({
        personId,
        at: ctx.now(),
        by: `batch:${row.id}`,
        prompted: false,
        grace: true,
      })),
    ),
  );
  const already = people.filter((id) => !came.has(id));
  if (already.length > 0)
    await markOutcome(scope, slice, already, 'already', 'in it already, or its condition keeps them out');
}

async function optOut(
  ctx: Context,
  scope: Scope,
  row: BatchRow,
  slice: Slice,
  programId: string,
): Promise<void> {
  await failGone(scope, slice);
  const already: string[] = [];
  for (const personId of await sliceIds(scope, slice)) {
    const left = await leaveByHand(ctx, scope, {
      personId,
      programId,
      evidence: {
        source: `batch “${row.name}”`,
        recordedBy: row.created_by ?? 'API',
        obtainedAt: toIso(ctx.now()),
      },
    });
    if (left) await cancelQueued(scope, personId, new Date(ctx.now()), { programId });
    else already.push(personId);
  }
  if (already.length > 0) await markOutcome(scope, slice, already, 'already', null);
}

async function undoSlice(scope: Scope, row: BatchRow, at: number): Promise<void> {
  const { action } = row;
  const done = row.cursor;
  const slice: Slice = {
    batchId: row.id,
    from: row.undo_cursor,
    to: Math.min(row.undo_cursor + sliceOf(action, null), done),
  };
  // A tag that was removed since is on nobody: there is nothing to take or to give back.
  if (action.do === 'label' && (await holdThing(scope, 'label', action.label)))
    await unlabelSlice(scope, slice, action.label, action.on, new Date(at));
  if (action.do === 'stage') await unsetSlice(scope, slice, 'stage_id', action.stage);
  if (action.do === 'owner') await unsetSlice(scope, slice, 'owner_id', action.owner);
  const over = slice.to >= done;
  await advance(scope, row.id, {
    state: over ? 'undone' : 'undoing',
    cursor: row.cursor,
    undoCursor: slice.to,
    nextAt: new Date(at),
    finishedAt: over ? new Date(at) : null,
    at: new Date(at),
  });
}
