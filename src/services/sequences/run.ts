import { log } from '@/log/log';
import type { Trigger } from '@/core/sequence/advance';
import type { ReasonCode } from '@/core/clearance/reasons';
import { ok } from '@/core/shared/result';
import { untroubled } from '@/db/kit/trouble';
import { byKey, inWorkspace, reading, type Scope } from '@/db/kit/scope';
import {
  lockDue,
  lockEnrolments,
  outcomesOf,
  saveEnrolments,
  workspacesDue,
  type EnrolmentFull,
} from '@/db/sequences/enrolments';
import { Sequence } from '@/db/sequences/entities';
import type { Context } from '@/services/kit/context';
import { noteTrouble, type WaysOut } from '@/services/kit/trouble';
import { endAll, moveAll } from './enter';
import type { Move } from './move-on';

/** So many commit together. */
const SLICE = 500;
/** Slices of one workspace before it is the next one's turn. */
const SLICES_IN_A_TURN = 4;

/**
 * Moves on whoever's moment has come, workspace by workspace. State, messages, tasks and happenings of a slice commit
 * together; when a slice cannot be, each of it is tried by itself, so that one holds up nobody. Gives how many.
 */
export async function runDue(ctx: Context): Promise<number> {
  const workspaces = await workspacesDue(
    reading(ctx.orm),
    untroubled('enrolment')('e.id'),
    new Date(ctx.now()),
  );
  let done = 0;
  for (const workspaceId of workspaces)
    for (let slice = 0; slice < SLICES_IN_A_TURN; slice++) {
      const moved = await runSlice(ctx, workspaceId);
      done += moved;
      if (moved < SLICE) break;
    }
  return done;
}

async function runSlice(ctx: Context, workspaceId: string): Promise<number> {
  try {
    return await inWorkspace(ctx.orm, workspaceId, (scope) => moveDue(ctx, scope, SLICE));
  } catch (error) {
    log.error({ err: error }, 'Enrolments could not be moved on together; each is tried by itself.');
    return runOneByOne(ctx, workspaceId);
  }
}

async function moveDue(ctx: Context, scope: Scope, most: number): Promise<number> {
  await byKey(scope);
  const due = await lockDue(scope, untroubled('enrolment')('e.id'), { at: new Date(ctx.now()), most });
  await moveAll(ctx, scope, await movesOf(scope, due, ctx.now()));
  return due.length;
}

/** Tried by themselves in one go, so that what can go on is not kept waiting for long. */
const ONE_BY_ONE = 50;

async function runOneByOne(ctx: Context, workspaceId: string): Promise<number> {
  const ids = await inWorkspace(ctx.orm, workspaceId, async (scope) =>
    (
      await lockDue(scope, untroubled('enrolment')('e.id'), { at: new Date(ctx.now()), most: ONE_BY_ONE })
    ).map(({ id }) => id),
  );
  let done = 0;
  for (const id of ids)
    try {
      await inWorkspace(ctx.orm, workspaceId, async (scope) => {
        const [one] = await lockEnrolments(scope, [id]);
        if (one) await moveAll(ctx, scope, await movesOf(scope, [one], ctx.now()));
      });
      done++;
    } catch (error) {
      await noteTrouble(ctx, 'enrolment', { id, workspaceId }, error);
    }
  return done;
}

/** What each is told: its time has come, or what became of the message it waits for. */
async function movesOf(scope: Scope, due: readonly EnrolmentFull[], now: number): Promise<Move[]> {
  const sending = due.filter(({ state }) => state === 'sending');
  const outcomes = new Map(
    (
      await outcomesOf(
        scope,
        sending.map((one) => ({ enrolmentId: one.id, step: `${one.sequenceId}.${one.line}` })),
      )
    ).map((outcome) => [outcome.enrolmentId, outcome]),
  );
  const moves: Move[] = [];
  const still: EnrolmentFull[] = [];
  const stopped = await stoppedAmong(scope, due);
  for (const one of due) {
    if (stopped.has(one.sequenceId)) moves.push({ one, trigger: { on: 'end', why: 'stopped' }, at: now });
    else if (one.state === 'waiting') moves.push({ one, trigger: { on: 'clock' }, at: now });
    else {
      const outcome = outcomes.get(one.id);
      if (outcome)
        moves.push({
          one,
          trigger: settledBy(one, outcome),
          at: (outcome.left ?? outcome.settled)?.getTime() ?? now,
        });
      else still.push(one);
    }
  }
  // It went back into the queue meanwhile: its message wakes it.
  await saveEnrolments(
    scope,
    still.map((one) => ({ one, look: null })),
  );
  return moves;
}

/** Sequences that were ended for all. */
async function stoppedAmong(scope: Scope, due: readonly EnrolmentFull[]): Promise<ReadonlySet<string>> {
  const ids = [...new Set(due.map(({ sequenceId }) => sequenceId))];
  return new Set((await scope.em.find(Sequence, { id: ids, state: 'stopped' })).map(({ id }) => id));
}

const settledBy = (
  one: EnrolmentFull,
  { left, because }: { left: Date | null; because: string | null },
): Trigger =>
  left
    ? { on: 'settled', line: one.line!, left: true }
    : {
        on: 'settled',
        line: one.line!,
        left: false,
        because: (because as ReasonCode | null) ?? 'called-back',
      };

/** Enrolments are moved together; only one that makes a slice fail is stuck by itself. */
export const STUCK_ENROLMENTS: WaysOut = {
  name: 'enrolment',
  rows: {
    named: `(select coalesce(nullif(trim(coalesce(p.first_name, '') || ' ' || coalesce(p.last_name, '')), ''), p.number, p.email) || ' in ' || s.name
               from enrolment e join sequence s on s.id = e.sequence_id join person p on p.id = e.person_id where e.workspace_id = :workspace and e.id = x.row_id)`,
    waits: `exists (select 1 from enrolment e where e.id = x.row_id and e.look_at is not null)`,
  },
  giveUp: (ctx, scope, id) => endAll(ctx, scope, [id], 'taken-out').then(ok),
};
