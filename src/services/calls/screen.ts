import { DAY, SECOND, type Millis } from '@/core/shared/instant';
import { callsUpon, callsWith, toCall, type CallRow } from '@/db/calls/calls';
import { CallEvent, Switchboard } from '@/db/calls/entities';
import type { Scope } from '@/db/kit/scope';
import { Sequence } from '@/db/sequences/entities';
import { benchSwitchboard } from '@/services/kit/settings';
import { outcomesOf } from './outcomes';
import { proposedMapping, samplesOf } from './switchboards';
import { boardUrl, outcomeView } from './views';

/** What is older was not waited for. */
const WAITS_FOR: Millis = 30 * DAY;
const MOST = 200;

/** The desk of whoever calls back: whom to call next, and what a call can come to. */
export async function readCallDesk(scope: Scope, accountId: string, at: Millis) {
  const next = await toCall(scope, {
    ...{ accountId, at: new Date(at), since: new Date(at - WAITS_FOR), most: MOST },
  });
  return { next, outcomes: (await outcomesOf(scope)).map(outcomeView) };
}

/** Sequences an outcome may begin: those that were published. */
export const sequencesToBegin = async (scope: Scope): Promise<{ id: string; name: string }[]> =>
  (await scope.em.find(Sequence, { version: { $ne: null } }, { orderBy: { name: 'asc' } })).map(
    ({ id, name }) => ({ id, name }),
  );

/** What a call can come to, by name. */
export const outcomeNames = async (scope: Scope): Promise<{ id: string; name: string }[]> =>
  (await outcomesOf(scope)).map(({ id, name }) => ({ id, name }));

export const callsOfPerson = (scope: Scope, personId: string) => callsWith(scope, personId, 200);

export const readDropCalls = callsUpon;

/** A call as a thread shows it. */
export const shownCall = (row: CallRow) => ({
  ...{ id: row.id, direction: row.direction, at: row.rang_at, number: row.number, teammate: row.teammate },
  seconds:
    row.answered_at && row.ended_at
      ? Math.max(0, Math.round((row.ended_at.getTime() - row.answered_at.getTime()) / SECOND))
      : null,
  ...{
    answered: row.answered_at !== null,
    over: row.ended_at !== null,
    outcome: row.outcome,
    note: row.note,
  },
  ...{ afterVoicemail: row.after_message_id !== null, texts: row.texts },
});

/** Telephone systems with what they told last, and what could not be read. */
export async function readSwitchboards(scope: Scope) {
  const boards = await scope.em.find(Switchboard, { removedAt: null }, { orderBy: { createdAt: 'asc' } });
  const shown = [];
  for (const board of boards) {
    const samples = await samplesOf(scope, board.id);
    const unread = { switchboardId: board.id, trouble: { $ne: null } };
    const [last] = await scope.em.find(CallEvent, unread, { orderBy: { at: 'desc' }, limit: 1 });
    shown.push({
      ...{ id: board.id, name: board.name, url: boardUrl(board), signs: board.signs, secret: board.secret },
      ...{ mapping: board.mapping, proposed: proposedMapping(samples), heardAt: board.heardAt },
      sample: samples[0]?.content ?? null,
      ...{ listsNumbers: board.numbersUrl !== null, trouble: last?.trouble ?? null },
      unread: await scope.em.count(CallEvent, unread),
    });
  }
  return shown;
}

/** Where the bench’s telephone system lists its numbers; null: there is no bench. */
export const numbersOffer = (): string | null => {
  const url = benchSwitchboard();
  return url && `${url}/numbers`;
};

/** How many called and wait for a call back. */
export async function countToCall(scope: Scope, at: Millis): Promise<number> {
  const rows = await toCall(scope, {
    ...{ accountId: '', at: new Date(0), since: new Date(at - WAITS_FOR), most: MOST },
  });
  return rows.filter(({ why }) => why !== 'task').length;
}
