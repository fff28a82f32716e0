import { toJson } from '@/db/kit/json';
import type { Scope } from '@/db/kit/scope';

/** The text that was pressed to somebody last, and in which stack. `stackId`: of this stack only; null: of any. */
export async function pressedTo(
  scope: Scope,
  personId: string,
  stackId: string | null,
): Promise<{ message_id: string; send_id: string } | null> {
  const [row] = await scope.rows<{ message_id: string; send_id: string }>(
    `select r.message_id, r.send_id from message m join stack_row r on r.message_id = m.id
      where m.workspace_id = :workspace and m.person_id = :personId and r.pressed_at is not null and (:stackId::text is null or r.stack_id = :stackId)
      order by r.pressed_at desc limit 1`,
    { personId, stackId },
  );
  return row ?? null;
}

export interface LearntFact {
  messageId: string;
  key: string;
  /** As the person's field holds it. */
  value: string | string[];
  accountId: string | null;
  by: string;
}

/** What was learnt stands once for each question; what is learnt later counts. */
export const keepFact = (scope: Scope, { value, ...fact }: LearntFact, at: Date): Promise<number> =>
  scope.run(
    `insert into learnt_fact (message_id, workspace_id, key, value, account_id, by, at) values (:messageId, :workspace, :key, :value::jsonb, :accountId, :by, :at)
     on conflict (message_id, key) do update set value = excluded.value, account_id = excluded.account_id, by = excluded.by, at = excluded.at`,
    { ...fact, value: toJson(value), at },
  );

export const forgetFact = (scope: Scope, messageId: string, key: string): Promise<number> =>
  scope.run(
    `delete from learnt_fact where workspace_id = :workspace and message_id = :messageId and key = :key`,
    { messageId, key },
  );

/** What was learnt of somebody, and why they were passed over. */
export const STACKS_ERASURES = [
  `delete from learnt_fact where workspace_id = :workspace and message_id in (select id from message where workspace_id = :workspace and person_id = any(:ids::text[]))`,
  `update stack_row set skipped_why = '' where workspace_id = :workspace and skipped_why is not null and message_id in (select id from message where workspace_id = :workspace and person_id = any(:ids::text[]))`,
];

/** Of how many people what was learnt in a broadcast. Of several choices each counts. */
export const factCounts = (
  scope: Scope,
  sendId: string,
): Promise<{ key: string; value: string; people: number }[]> =>
  scope.rows(
    `select f.key, v.value, count(*)::int as people from stack_row r join learnt_fact f on f.message_id = r.message_id
       cross join lateral jsonb_array_elements_text(case jsonb_typeof(f.value) when 'array' then f.value else jsonb_build_array(f.value) end) as v (value)
      where r.workspace_id = :workspace and r.send_id = :sendId group by 1, 2 order by 1, 3 desc, 2`,
    { sendId },
  );

/** Somebody of whom something was learnt. */
export interface FactRow {
  person_id: string;
  first_name: string | null;
  last_name: string | null;
  address: string;
  stack: string | null;
  facts: Record<string, string | string[]>;
  by: string;
  at: Date;
}

export const factRows = (scope: Scope, sendId: string, most: number): Promise<FactRow[]> =>
  scope.rows<FactRow>(
    `select p.id as person_id, p.first_name, p.last_name, m.address, s.name as stack, f.facts, f.by, f.at from stack_row r
       join lateral (select jsonb_object_agg(key, value) as facts, string_agg(distinct by, ', ') as by, max(at) as at from learnt_fact where message_id = r.message_id) f on f.facts is not null
       join message m on m.id = r.message_id join person p on p.workspace_id = m.workspace_id and p.id = m.person_id and p.erased_at is null
       left join stack s on s.id = r.stack_id
      where r.workspace_id = :workspace and r.send_id = :sendId order by r.rank limit :most`,
    { sendId, most },
  );
