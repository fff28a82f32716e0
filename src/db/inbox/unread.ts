import type { CleanText } from '@/core/shared/clean-text';
import type { Crossing, Reading, Scope } from '@/db/kit/scope';

/** A text that came and of which what follows was not carried out yet. */
export interface UnreadText {
  id: string;
  /** Null: it was written to a number that is none of ours, yet. */
  workspace_id: string | null;
  carrier_id: string | null;
  from_number: string;
  to_number: string;
  body: CleanText;
  fingerprint: string | null;
  holds: boolean;
  at: Date;
}

export interface NewUnread {
  id: string;
  workspaceId: string | null;
  carrierId: string | null;
  from: string;
  to: string;
  body: CleanText;
  fingerprint: string | null;
  holds: boolean;
  at: Date;
}

export const insertUnread = (crossing: Crossing, unread: NewUnread): Promise<number> =>
  crossing.run(
    `insert into unread_text (id, workspace_id, carrier_id, from_number, to_number, body, fingerprint, holds, at)
     values (:id, :workspaceId, :carrierId, :from, :to, :body, :fingerprint, :holds, :at)`,
    { ...unread },
  );

/** Whether this very text, or an earlier one of the same person to the same number, waits here. */
export async function waitsUnread(
  crossing: Crossing,
  text: { from: string; to: string; carrierId: string | null; fingerprint: string | null },
): Promise<'this' | 'earlier' | null> {
  const [row] = await crossing.rows<{ same: boolean }>(
    `select coalesce(bool_or(carrier_id = :carrierId or fingerprint = :fingerprint), false) as same from unread_text
      where from_number = :from and to_number = :to having count(*) > 0`,
    text,
  );
  return row ? (row.same ? 'this' : 'earlier') : null;
}

/** Takes it out of where it waits; false when somebody else has. The row is locked until the transaction ends. */
export const removeUnread = async (crossing: Crossing, id: string): Promise<boolean> =>
  (await crossing.run(`delete from unread_text where id = :id`, { id })) === 1;

export const lockUnread = async (crossing: Crossing, id: string): Promise<UnreadText | null> =>
  (
    await crossing.rows<UnreadText>(`select * from unread_text where id = :id for update skip locked`, { id })
  )[0] ?? null;

/**
 * The first of each person that may be tried: what is not set aside and does not wait for its next try. A later one of
 * the same person waits behind it.
 */
export const unreadDue = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string | null }[]> =>
  reading.rows(
    `select u.id, u.workspace_id from unread_text u where ${untroubled}
        and not exists (select 1 from unread_text o where o.from_number = u.from_number and o.to_number = u.to_number and o.seq < u.seq)
        and (u.workspace_id is not null or exists (select 1 from sender_number s where s.number = u.to_number))
      order by u.seq limit 50`,
    { at },
  );

export interface ShownUnread {
  id: string;
  from_number: string;
  to_number: string;
  body: CleanText;
  at: Date;
  problem: string | null;
  person_id: string | null;
}

/** Texts of people of this workspace that wait here. */
export const unreadTexts = (scope: Scope): Promise<ShownUnread[]> =>
  scope.rows(
    `select u.id, u.from_number, u.to_number, u.body, u.at, t.problem, coalesce(p.merged_into, p.id) as person_id from unread_text u
       left join trouble t on t.queue = 'unread-text' and t.row_id = u.id
       left join address a on a.workspace_id = :workspace and a.kind = 'number' and a.value = u.from_number
       left join person p on p.id = a.person_id
      where u.workspace_id = :workspace or (u.workspace_id is null and u.holds and p.id is not null) order by u.seq limit 100`,
  );
