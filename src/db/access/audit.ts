import type { Scope } from '@/db/kit/scope';
import { CALLED } from '@/db/people/addresses';

/** What of the audit is asked for; empty: whatever. */
export interface AuditCut {
  /** An account, or `key:…`. */
  actor: string;
  /** The beginning of an action: `person.` or `broadcast.sent`. */
  action: string;
  /** The id of what it was done to. */
  subject: string;
  from: Date | null;
  to: Date | null;
}

export interface AuditRow {
  id: string;
  at: Date;
  actor: string;
  /** The teammate; null: a key, or a part of the system. */
  name: string | null;
  action: string;
  subject: string;
  detail: Record<string, unknown>;
}

/** Entries of the audit, newest first, those before an id. */
export const auditPage = (
  scope: Scope,
  cut: AuditCut,
  before: string | null,
  most: number,
): Promise<AuditRow[]> =>
  scope.rows<AuditRow>(
    `select e.id::text as id, e.at, e.actor, a.name, e.action, e.subject, e.detail
       from audit_entry e left join account a on a.id = e.actor
      where e.workspace_id = :workspace and (:before::bigint is null or e.id < :before::bigint)
        and (:actor = '' or e.actor = :actor) and (:action = '' or starts_with(e.action, :action)) and (:subject = '' or e.subject = :subject)
        and (:from::timestamptz is null or e.at >= :from) and (:to::timestamptz is null or e.at < :to)
      order by e.id desc limit :most`,
    { ...cut, before, most },
  );

/** Who did anything, and what kinds of things were done. */
export const auditKinds = async (
  scope: Scope,
): Promise<{ actors: { actor: string; name: string | null }[]; rooms: string[] }> => ({
  actors: await scope.rows(
    `select distinct e.actor, a.name from audit_entry e left join account a on a.id = e.actor where e.workspace_id = :workspace order by 2 nulls last, 1 limit 200`,
  ),
  rooms: (
    await scope.rows<{ room: string }>(
      `select distinct split_part(action, '.', 1) as room from audit_entry where workspace_id = :workspace order by 1`,
    )
  ).map(({ room }) => room),
});

/** What has a name of its own. */
const NAMED =
  'api_key batch broadcast call_outcome chat_template form import label offer program report segment sequence source stage switchboard template voice_message'.split(
    ' ',
  );

const OF_IDS = `workspace_id = :workspace and id = any(:ids::text[])`;

/** How what has these ids is called here now; what is gone or was erased is left out. */
export async function namesOf(scope: Scope, ids: readonly string[]): Promise<Record<string, string>> {
  const rows = await scope.rows<{ id: string; name: string }>(
    `${NAMED.map((table) => `select id, name from "${table}" where ${OF_IDS}`).join(' union all ')}
     union all select id, upper(word) from keyword where ${OF_IDS}
     union all select id, number from sender_number where ${OF_IDS}
     union all select id, label from field where ${OF_IDS}
     union all select p.id, coalesce(nullif(concat_ws(' ', p.first_name, p.last_name), ''), ${CALLED}) from person p where p.workspace_id = :workspace and p.id = any(:ids::text[]) and p.erased_at is null
     union all select a.id, a.name from account a join membership m on m.account_id = a.id where m.workspace_id = :workspace and a.id = any(:ids::text[])`,
    { ids },
  );
  return Object.fromEntries(rows.filter(({ name }) => name).map(({ id, name }) => [id, name]));
}
