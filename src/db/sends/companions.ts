import type { BroadcastState } from '@/core/broadcast/lifecycle';
import type { Companion, OtherMessage } from '@/core/broadcast/companion';
import type { TextState } from '@/core/delivery/lifecycle';
import type { SendGoes } from '@/core/message/send';
import type { Timing } from '@/core/broadcast/timing';
import { FOR_COMPANION } from '@/db/delivery/text-moves';
import type { Reading, Scope } from '@/db/kit/scope';

const OF = (send: string): string => `t.send_id = ${send} and t.not_before is not null`;
const WAITING = (send: string): string => `${OF(send)} and t.turn_at = ${FOR_COMPANION}`;

/** Companions of which something waits for the other of the two, or may have its turn, those of each workspace in turn. */
export const dueCompanions = (
  reading: Reading,
  untroubled: string,
  at: Date,
  most: number,
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
    `select b.id, b.workspace_id from broadcast b where b.companion_of is not null and ${untroubled}
        and (exists (select 1 from message t where ${WAITING('b.id')}) or exists (select 1 from message t where ${OF('b.companion_of')} and (t.turn_at = ${FOR_COMPANION} or t.turn_at <= :at)))
      order by row_number() over (partition by b.workspace_id order by b.id), b.workspace_id limit ${most}`,
    { at },
  );

/** The two broadcasts, locked by the companion's row; null: it is gone, or somebody else works on it. */
export async function lockCompanion(
  scope: Scope,
  id: string,
): Promise<{
  ofId: string;
  companion: Companion;
  timing: Timing;
  /** Whether the other one goes on. */
  goes: SendGoes;
  state: BroadcastState;
  ofState: BroadcastState;
} | null> {
  const [row] = await scope.rows<{
    of_id: string;
    companion: Companion;
    timing: Timing;
    goes: SendGoes;
    state: BroadcastState;
    of_state: BroadcastState;
  }>(
    `select o.id as of_id, o.companion, coalesce(s.timing, o.timing) as timing, s.goes, b.state, o.state as of_state
       from broadcast b join broadcast o on o.id = b.companion_of join send s on s.id = o.id
      where b.workspace_id = :workspace and b.id = :id for update of b skip locked`,
    { id },
  );
  return row ? { ...row, ofId: row.of_id, ofState: row.of_state } : null;
}

/** A message that waits, and the other one to the same person; null: there is none. */
export interface Pair {
  id: string;
  other: OtherMessage | null;
}

/**
 * Messages of one broadcast that wait for those of another, of which something may be known now.
 * @param settled states of the other one that say what becomes of this one
 * @param withTurn also where the other one waits for this one
 * @param alone also where there is no other one
 */
export async function waitingPairs(
  scope: Scope,
  asked: {
    sendId: string;
    otherId: string;
    settled: readonly TextState[];
    withTurn: boolean;
    alone: boolean;
  },
  most: number,
): Promise<Pair[]> {
  const rows = await scope.rows<{
    id: string;
    state: TextState | null;
    has_turn: boolean;
    submitted_at: Date | null;
    settled_at: Date | null;
  }>(
    `select t.id, o.state, coalesce(o.turn_at = ${FOR_COMPANION} and o.not_before is not null, false) as has_turn, o.submitted_at, o.settled_at
       from message t left join message o on o.send_id = :otherId and o.person_id = t.person_id
      where t.workspace_id = :workspace and ${WAITING(':sendId')}
        and case when o.id is null then :alone else o.state = any(:settled::text[]) or (:withTurn and o.turn_at = ${FOR_COMPANION} and o.not_before is not null) end
      limit ${most}`,
    { ...asked, settled: [...asked.settled] },
  );
  return rows.map(({ id, state, has_turn, submitted_at, settled_at }) => ({
    id,
    other: state && {
      ...{ state, hasTurn: has_turn },
      submittedAt: submitted_at?.getTime() ?? null,
      settledAt: settled_at?.getTime() ?? null,
    },
  }));
}

/** They have their turn, each at its time. */
export const letGo = (scope: Scope, turns: readonly { id: string; at: Date }[]): Promise<number> =>
  scope.run(
    `update message t set not_before = u.at, turn_at = null from unnest(:ids::text[], :ats::timestamptz[]) as u (id, at)
      where t.workspace_id = :workspace and t.id = u.id and t.turn_at = ${FOR_COMPANION} and t.not_before is not null`,
    { ids: turns.map(({ id }) => id), ats: turns.map(({ at }) => at) },
  );
