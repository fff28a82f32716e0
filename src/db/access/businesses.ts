import type { Role } from '@/core/access/roles';
import type { Crossing } from '@/db/kit/scope';

export interface BusinessRow {
  id: string;
  name: string;
  role: Role;
  zone: string;
  /** People whose text waits for an answer. */
  waiting: number;
  /** Numbers that cannot send, or whose registration is not through. */
  unwell: number;
  /** Broadcasts that go out or lie ahead today. */
  sends: number;
  /** When there are too few credits for what is ahead; null: not soon, or not theirs to know. */
  enough_until: Date | null;
  /** Rows that could not be worked on. */
  stuck: number;
}

/** The businesses of an account, each with what waits for somebody there. A counter sees nothing but its name. */
export const businessRows = (
  crossing: Crossing,
  accountId: string,
  { until, soon }: { until: Date; soon: Date },
): Promise<BusinessRow[]> =>
  crossing.rows<BusinessRow>(
    `select w.id, w.name, m.role, w.zone,
            case when m.role = 'counter' then 0 else (select count(*)::int from person p where p.workspace_id = w.id and p.waiting_since is not null) end as waiting,
            case when m.role = 'counter' then 0 else (select count(*)::int from sender_number n where n.workspace_id = w.id and n.released_at is null and n.registration <> 'registered') end as unwell,
            case when m.role = 'counter' then 0 else (select count(*)::int from broadcast b where b.workspace_id = w.id and (b.state in ('preparing', 'sending', 'paused') or (b.state = 'scheduled' and b.send_at < :until))) end as sends,
            case when m.role <> 'counter' and w.enough_until < :soon then w.enough_until end as enough_until,
            case when m.role = 'counter' then 0 else (select count(*)::int from trouble t where t.workspace_id = w.id and t.aside_at is not null) end as stuck
       from membership m join workspace w on w.id = m.workspace_id where m.account_id = :accountId order by w.name, w.id`,
    { accountId, until, soon },
  );
