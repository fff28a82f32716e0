import type { SendGoes, SendKind } from '@/core/message/send';
import type { Scope } from '@/db/kit/scope';

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
