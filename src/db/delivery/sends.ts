import type { SendGoes, SendKind } from '@/core/message/send';
import type { Timing } from '@/core/broadcast/timing';
import { toJson } from '@/db/kit/json';
import type { Reading, Scope } from '@/db/kit/scope';
import { FOR_COMPANION, WAITS } from './text-moves';

/**
 * Says whether a send goes on. Claiming messages and giving them back ask this row, whoever owns the send, so that
 * pause, stop and call back mean every message that has not left. `began`: it begins or goes on now; null: as it was.
 */
export const setSend = (
  scope: Scope,
  send: { id: string; kind: SendKind; goes: SendGoes; began: Date | null },
): Promise<number> =>
  scope.run(
    `insert into send (id, workspace_id, kind, goes, began_at) values (:id, :workspace, :kind, :goes, :began)
     on conflict (id) do update set goes = excluded.goes, began_at = coalesce(excluded.began_at, send.began_at)
      where send.workspace_id = :workspace`,
    send,
  );

/** How a send goes from now on. */
export const setTiming = (scope: Scope, id: string, timing: Timing): Promise<number> =>
  scope.run(
    `update send set timing = :timing::jsonb, next_turn_at = null where workspace_id = :workspace and id = :id`,
    { id, timing: toJson(timing) },
  );

const IN_TURN = `t.turn_at < ${FOR_COMPANION} and t.not_before is not null`;

/** Sends with a pace of which somebody may have their turn, those of each workspace in turn. */
export const sendsWithTurns = (
  reading: Reading,
  untroubled: string,
  at: Date,
  most: number,
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
    `select id, workspace_id from send s where goes = 'on' and timing -> 'pace' <> 'null' and not jsonb_exists(timing -> 'pace', 'hands') and coalesce(next_turn_at, :at) <= :at and ${untroubled}
        and exists (select 1 from message t where t.send_id = s.id and ${IN_TURN} and t.turn_at <= :at)
      order by row_number() over (partition by workspace_id order by id), workspace_id limit ${most}`,
    { at },
  );

/** A send that goes on, locked, with how many have not had their turn; null: it does not, or somebody else has it. */
export async function lockTurns(
  scope: Scope,
  id: string,
): Promise<{ timing: Timing; next: Date | null; waiting: number } | null> {
  const [row] = await scope.rows<{ timing: Timing | null; next: Date | null }>(
    `select timing, next_turn_at as next from send where workspace_id = :workspace and id = :id and goes = 'on' for update skip locked`,
    { id },
  );
  if (!row?.timing) return null;
  const [counted] = await scope.rows<{ waiting: number }>(
    `select count(*)::int as waiting from message t where t.workspace_id = :workspace and t.send_id = :id and ${IN_TURN}`,
    { id },
  );
  return { ...row, timing: row.timing, waiting: counted!.waiting };
}

/**
 * Lets so many have their turn, those who may longest first. Gives how many had it.
 * @param told something is told to each of them first: they wait for that
 */
export const giveTurns = (
  scope: Scope,
  id: string,
  people: number,
  { at, told }: { at: Date; told: boolean },
): Promise<number> =>
  scope.run(
    `update message set ${told ? `turn_at = ${FOR_COMPANION}` : 'not_before = :at, turn_at = null'} where id in (
       select t.id from message t where t.workspace_id = :workspace and t.send_id = :id and ${IN_TURN} and t.turn_at <= :at
        order by t.turn_at, t.id limit :people for update skip locked)`,
    { id, people, at },
  );

/** Says when the next turn may be given. As long as a send gives turns, what waits in it is not late. */
export const setNextTurn = (scope: Scope, id: string, next: Date, at: Date): Promise<number> =>
  scope.run(
    `update send set next_turn_at = :next, began_at = :at where workspace_id = :workspace and id = :id`,
    { id, next, at },
  );

/** Everything of a send that waits to leave waits for its turn from now on; or for none any more. */
export const setInTurn = (scope: Scope, id: string, inTurn: boolean, at: Date): Promise<number> =>
  scope.run(
    inTurn
      ? `update message t set turn_at = greatest(case when t.not_before = ${WAITS} then :at else t.not_before end, :at), not_before = ${WAITS}
          where t.workspace_id = :workspace and t.send_id = :id and t.not_before is not null and t.turn_at is null`
      : `update message t set not_before = greatest(t.turn_at, :at), turn_at = null where t.workspace_id = :workspace and t.send_id = :id and ${IN_TURN}`,
    { id, at },
  );
