import {
  CALL_REFUSAL_WORDS,
  readCall,
  wasMissed,
  withEvent,
  type CallTold,
  type KnownCall,
} from '@/core/calls/read-call';
import type { Tree } from '@/core/inquiry/tree';
import { placeColumns, placeOf } from '@/core/phone/place';
import { DAY, MINUTE, SECOND, type Millis } from '@/core/shared/instant';
import { ok } from '@/core/shared/result';
import { CALLED_BACK_WITHIN } from '@/core/voicemail/callbacks';
import { Account, Membership, Workspace } from '@/db/access/entities';
import { CALLED, eventsDue, readAgain, settleMissed, tellCalled, voicemailBefore } from '@/db/calls/calls';
import { Call, CallEvent, CallOutcome, CallText, Switchboard } from '@/db/calls/entities';
import { announce } from '@/db/delivery/texts';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { SenderNumberRow } from '@/db/numbers/entities';
import { lockPersonByNumber } from '@/db/people/by-number';
import type { Context } from '@/services/kit/context';
import { asDue, type Queue } from '@/services/kit/trouble';
import { suppressed } from '@/services/people/suppression';
import { outcomeCalled } from './outcomes';

/** An event of a call that nothing is known of waits so long for the one that tells who called. */
const WAITS_FOR: Millis = DAY;
const LOOK_AGAIN: Millis = 30 * SECOND;

/** What telephone systems told, one after the other. */
export const CALL_EVENT_QUEUE: Queue = {
  name: 'call-event',
  rows: {
    named: `(select b.name || ', ' || to_char(e.at, 'YYYY-MM-DD HH24:MI') from call_event e join switchboard b on b.id = e.switchboard_id where e.id = x.row_id)`,
    waits: `exists (select 1 from call_event e where e.id = x.row_id and e.due_at is not null)`,
  },
  everyMs: SECOND / 2,
  untilDone: true,
  atOnce: 4,
  ...{ wakes: true, channel: CALLED },
  due: async (reading, untroubled, at) => asDue(await eventsDue(reading, untroubled('e.id'), at)),
  work: (ctx, { id, workspaceId }) =>
    inWorkspace(ctx.orm, workspaceId!, (scope) => takeEvent(ctx, scope, id)),
  giveUp: async (_, scope, id) =>
    ok(await scope.em.nativeUpdate(CallEvent, { id }, { dueAt: null, trouble: 'Left out by a teammate.' })),
};

/** Makes what was told part of a call. False: it waits, or was taken before. */
export async function takeEvent(ctx: Context, scope: Scope, id: string): Promise<boolean> {
  await scope.run(`select 1 from call_event where workspace_id = :workspace and id = :id for update`, { id });
  const event = await scope.em.findOne(CallEvent, { id }, { refresh: true });
  if (!event?.dueAt) return false;
  const board = await scope.em.findOneOrFail(Switchboard, { id: event.switchboardId });
  // Until somebody said where things stand nothing is read; what came is kept and shown.
  if (board.mapping.id === undefined) return settle(scope, event, 'Its mapping is not made yet.');
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const numbers = await scope.em.find(SenderNumberRow, {});
  const read = readCall(event.content as Tree, board.mapping, {
    country: workspace.country,
    ours: new Set(numbers.map(({ number }) => number)),
    at: event.at.getTime(),
  });
  if (!read.ok) return settle(scope, event, CALL_REFUSAL_WORDS[read.reason]);
  await lockCall(scope, board.id, read.value.id);
  const call = await scope.em.findOne(
    Call,
    { switchboardId: board.id, outsideId: read.value.id },
    { refresh: true },
  );
  const now = withEvent(call && knownOf(call), read.value);
  if (!now) return letWait(ctx, scope, event, read.value);
  if ((await suppressed(scope, [now.theirs])).size > 0) {
    // Nothing of somebody who wished to be forgotten is kept.
    event.content = null;
    return settle(scope, event, 'They asked to be erased.');
  }
  const sender = numbers.find(({ number }) => number === now.ours);
  await keepCall(ctx, scope, { board, told: read.value, call, now, senderId: sender?.id ?? null });
  await settle(scope, event, null);
  if (!call) await readAgain(scope, board.id, new Date(ctx.now()));
  await announce(scope, true);
  return true;
}

async function settle(scope: Scope, event: CallEvent, trouble: string | null): Promise<boolean> {
  Object.assign(event, { dueAt: null, trouble });
  await scope.em.flush();
  return true;
}

/** An outcome may come before its call. */
async function letWait(ctx: Context, scope: Scope, event: CallEvent, told: CallTold): Promise<boolean> {
  const over = ctx.now() - event.at.getTime() > WAITS_FOR;
  if (over) return settle(scope, event, CALL_REFUSAL_WORDS[told.direction ? 'hidden' : 'no-numbers']);
  event.dueAt = new Date(ctx.now() + LOOK_AGAIN);
  await scope.em.flush();
  return false;
}

/** Events of one call are taken one after the other, by whichever worker. */
const lockCall = (scope: Scope, boardId: string, outsideId: string): Promise<object[]> =>
  scope.rows(
    `select pg_advisory_xact_lock(hashtextextended('call ' || :workspace || ' ' || :boardId || ' ' || :outsideId, 7))`,
    {
      boardId,
      outsideId,
    },
  );

const millis = (date: Date | null): Millis | null => date?.getTime() ?? null;

const knownOf = (call: Call): KnownCall => ({
  ...{ direction: call.direction, ours: null, theirs: call.address, teammate: call.teammate },
  ...{ rangAt: call.rangAt.getTime(), answeredAt: millis(call.answeredAt), endedAt: millis(call.endedAt) },
  // What it came to is kept as one of the workspace's own; a later word counts by its time.
  ...{ outcome: call.outcomeId, outcomeAt: millis(call.outcomeAt), note: call.note },
});

interface Keeping {
  board: Switchboard;
  told: CallTold;
  call: Call | null;
  now: KnownCall;
  senderId: string | null;
}

async function keepCall(ctx: Context, scope: Scope, keeping: Keeping): Promise<void> {
  const { board, told, now, senderId } = keeping;
  const place = placeColumns(placeOf({ number: now.theirs }));
  const person = await lockPersonByNumber(scope, {
    ...{ id: ctx.id('per'), number: now.theirs, source: `call, ${board.name}` },
    ...{ at: new Date(ctx.now()), ...place },
  });
  const rang = new Date(now.rangAt);
  const call =
    keeping.call ??
    scope.em.create(Call, {
      ...{ id: ctx.id('cal'), workspaceId: scope.workspaceId, switchboardId: board.id, outsideId: told.id },
      ...{ direction: now.direction, address: now.theirs, personId: person.id, rangAt: rang, note: '' },
      ...{ senderId: null, accountId: null, teammate: '', answeredAt: null, endedAt: null },
      ...{ outcomeId: null, outcomeAt: null, afterMessageId: null, afterSendId: null, settledAt: null },
      createdAt: new Date(ctx.now()),
    });
  const date = (at: Millis | null) => (at === null ? null : new Date(at));
  Object.assign(call, {
    ...{ rangAt: rang, answeredAt: date(now.answeredAt), endedAt: date(now.endedAt), note: now.note },
    ...{ teammate: now.teammate, senderId: call.senderId ?? senderId, personId: person.id },
    accountId: call.accountId ?? (await teammateCalled(scope, now.teammate)),
  });
  if (call.direction === 'in' && call.afterMessageId === null) {
    const since = new Date(now.rangAt - CALLED_BACK_WITHIN);
    const after = await voicemailBefore(scope, now.theirs, { since, until: rang });
    Object.assign(call, { afterMessageId: after?.id ?? null, afterSendId: after?.send_id ?? null });
  }
  await scope.em.persistAndFlush(call);
  await giveOutcome(ctx, scope, call, now, told);
  const spoken = call.direction === 'out' ? call.rangAt : call.answeredAt;
  if (spoken) await settleMissed(scope, person.id, spoken, new Date(ctx.now()));
}

/** An outcome that was told, or that nobody picked up. What follows from it does so once. */
async function giveOutcome(
  ctx: Context,
  scope: Scope,
  call: Call,
  now: KnownCall,
  told: CallTold,
): Promise<void> {
  if (told.outcome !== null && now.outcome === told.outcome) {
    const outcome = await outcomeCalled(ctx, scope, told.outcome);
    if (outcome) await setOutcome(ctx, scope, call, outcome, new Date(told.at));
    return;
  }
  const missed = await scope.em.findOne(CallOutcome, { missed: true, archivedAt: null });
  if (!missed) return;
  if (wasMissed(now)) {
    if (call.outcomeId === null)
      await setOutcome(ctx, scope, call, missed, new Date(now.endedAt!), MISSED_WAITS);
    return;
  }
  // Its end was told before its answer, or one phone of several gave up before another took it.
  if (call.outcomeId === missed.id && call.direction === 'in') {
    Object.assign(call, { outcomeId: null, outcomeAt: null });
    await scope.em.flush();
  }
}

/** A call that seems missed may turn out answered: events overtake each other, and phones ring one after the other. */
const MISSED_WAITS: Millis = 15 * SECOND;

/** What a call came to; what follows is the worker's, after so long. */
export async function setOutcome(
  ctx: Context,
  scope: Scope,
  call: Call,
  outcome: CallOutcome,
  at: Date,
  wait: Millis = 0,
): Promise<void> {
  Object.assign(call, { outcomeId: outcome.id, outcomeAt: at });
  await scope.em.flush();
  const known = await scope.em.count(CallText, { callId: call.id, outcomeId: outcome.id });
  if (known > 0) return;
  const due = outcome.body !== null || outcome.sequenceId !== null;
  if (!due) return;
  const late = ctx.now() - at.getTime() > TOO_LATE;
  await scope.em.insert(CallText, {
    ...{ id: ctx.id('ctx'), callId: call.id, outcomeId: outcome.id, workspaceId: scope.workspaceId },
    ...{ messageId: null, because: late ? TOLD_TOO_LATE : null, at },
    dueAt: late ? null : new Date(ctx.now() + wait),
  });
  await tellCalled(scope);
}

/** What is told, or worked on, hours later is no news to whoever called. */
export const TOO_LATE: Millis = 120 * MINUTE;
export const TOLD_TOO_LATE = 'It was too late to say something.';

/** A teammate by the name or the e-mail address a telephone system uses. */
async function teammateCalled(scope: Scope, name: string): Promise<string | null> {
  const word = name.trim().toLowerCase();
  if (word === '') return null;
  const members = await scope.em.find(Membership, {});
  const accounts = await scope.em.find(Account, { id: { $in: members.map(({ accountId }) => accountId) } });
  const found = accounts.filter((one) => one.name.toLowerCase() === word || one.email.toLowerCase() === word);
  return found.length === 1 ? found[0]!.id : null;
}
