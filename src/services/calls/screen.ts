import { DAY, type Millis } from '@/core/shared/instant';
import { callsUpon, callsWith, toCall, type DropCallsRow, type ToCallRow } from '@/db/calls/calls';
import { CallEvent, Switchboard } from '@/db/calls/entities';
import type { Scope } from '@/db/kit/scope';
import { SenderNumberRow } from '@/db/numbers/entities';
import { outcomesOf } from './outcomes';
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

/** How many wait for a call back. */
export const countToCall = async (scope: Scope, accountId: string, at: Millis): Promise<number> =>
  (await readCallDesk(scope, accountId, at)).next.filter(({ why }) => why !== 'task').length;

export const callsOfPerson = (scope: Scope, personId: string) => callsWith(scope, personId, 200);

export type { DropCallsRow, ToCallRow };
export const readDropCalls = callsUpon;

/** Telephone systems, and what they told that could not be read. */
export async function readSwitchboards(scope: Scope) {
  const boards = await scope.em.find(Switchboard, { removedAt: null }, { orderBy: { createdAt: 'asc' } });
  return Promise.all(
    boards.map(async (board) => ({
      ...{ id: board.id, name: board.name, url: boardUrl(board), signs: board.signs },
      ...{ secret: board.secret, mapped: board.mapping.id !== undefined, heardAt: board.heardAt },
      listsNumbers: board.numbersUrl !== null,
      unread: await scope.em.count(CallEvent, { switchboardId: board.id, trouble: { $ne: null } }),
    })),
  );
}

/** Our numbers by id, for whoever shows calls. */
export const callableNumbers = (scope: Scope) =>
  scope.em.find(SenderNumberRow, { releasedAt: null, voice: true }, { orderBy: { id: 'asc' } });
