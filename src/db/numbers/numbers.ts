import { dueWorkspaces } from '@/db/kit/due';
import type { Reading, Scope } from '@/db/kit/scope';

export interface SenderRow {
  id: string;
  number: string;
  kind: string;
  registration: string;
  registration_note: string | null;
  parts_per_second: number;
  daily_cap: number | null;
  mms: boolean;
  carrier_id: string;
  rested_at: Date | null;
  rest_until: Date | null;
  rest_why: string | null;
  /** It is brought back since, to so many a day. */
  back_at: Date | null;
  usual_a_day: number | null;
  monthly_credits: number | null;
  programs: string[];
  sent_7: number;
  delivered_7: number;
  failed_7: number;
  delivered_before: number;
  failed_before: number;
  blocked_7: number;
}

const sumOf = (which: string): string => `coalesce(sum(n) filter (where ${which}), 0)::int`;

/** Sender numbers with the days since one against those since another, longer ago. */
export const senderRows = (scope: Scope, week: string, long: string): Promise<SenderRow[]> =>
  scope.rows<SenderRow>(
    `select s.id, s.number, s.kind, s.registration, s.registration_note, s.parts_per_second, s.daily_cap, s.mms, s.carrier_id, s.rested_at, s.rest_until, s.rest_why, s.back_at, s.usual_a_day, s.monthly_credits,
            coalesce((select array_agg(g.name order by g.name) from program_sender ps join program g on g.id = ps.program_id where ps.sender_id = s.id), '{}') as programs,
            coalesce(c.sent_7, 0) as sent_7, coalesce(c.delivered_7, 0) as delivered_7, coalesce(c.failed_7, 0) as failed_7,
            coalesce(c.delivered_before, 0) as delivered_before, coalesce(c.failed_before, 0) as failed_before, coalesce(c.blocked_7, 0) as blocked_7
       from sender_number s left join (
         select id as sender_id, ${sumOf('day >= :week')} as sent_7,
                ${sumOf(`day >= :week and what = 'delivered'`)} as delivered_7, ${sumOf(`day >= :week and what = 'failed'`)} as failed_7,
                ${sumOf(`day >= :week and reason = 'spam-blocked'`)} as blocked_7,
                ${sumOf(`day < :week and what = 'delivered'`)} as delivered_before, ${sumOf(`day < :week and what = 'failed'`)} as failed_before
           from tally where workspace_id = :workspace and about = 'sender' and day >= :long group by id) c on c.sender_id = s.id
      where s.workspace_id = :workspace and s.released_at is null order by s.id`,
    { week, long },
  );

/** Whether any workspace has this number: the unique key of the table would refuse it. */
export const numberIsTaken = async (scope: Scope, number: string): Promise<boolean> =>
  (
    await scope.rows(`select 1 from sender_number where number = :number and workspace_id <> :workspace`, {
      number,
    })
  ).length > 0;

/** Nobody is texted from it any more: programs, people and what waits find another. */
export async function forgetSender(scope: Scope, senderId: string): Promise<void> {
  for (const sql of [
    `delete from program_sender where workspace_id = :workspace and sender_id = :senderId`,
    // The registrar is told that it is not needed any more.
    `update registration set due_at = created_at where workspace_id = :workspace and about = 'number' and subject = :senderId and state <> 'draft'`,
    `delete from sender_assignment where workspace_id = :workspace and sender_id = :senderId`,
    `update message set sender_id = null where workspace_id = :workspace and sender_id = :senderId and not_before is not null`,
  ])
    await scope.run(sql, { senderId });
}

export interface SenderUse {
  programs: { name: string; others: number }[];
  people: number;
  waiting: number;
}

/** Who would notice if it were given back. */
export async function senderUse(scope: Scope, senderId: string): Promise<SenderUse> {
  const programs = await scope.rows<{ name: string; others: number }>(
    `select g.name, (select count(*)::int from program_sender o join sender_number n on n.id = o.sender_id and n.registration = 'registered'
                      where o.program_id = g.id and o.sender_id <> :senderId) as others
       from program_sender s join program g on g.id = s.program_id where s.workspace_id = :workspace and s.sender_id = :senderId order by g.name`,
    { senderId },
  );
  const [counts] = await scope.rows<{ people: number; waiting: number }>(
    `select (select count(distinct person_id)::int from sender_assignment where workspace_id = :workspace and sender_id = :senderId) as people,
            (select count(*)::int from message where workspace_id = :workspace and sender_id = :senderId and not_before is not null) as waiting`,
    { senderId },
  );
  return { programs, ...counts! };
}

/** People who are in a program by text, by the area code of their number. */
export const membersByArea = (scope: Scope): Promise<{ area: string; people: number }[]> =>
  scope.rows(
    `select substr(c.address, 3, 3) as area, count(distinct c.person_id)::int as people from consent_state c
      where c.workspace_id = :workspace and c.channel = 'sms' and c.state = 'in' and c.current and c.address like '+1%' and length(c.address) = 12
      group by 1 order by 2 desc limit 60`,
  );

/** Numbers of which another month begins, few of each workspace. */
export const dueMonths = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
    `select id, workspace_id from (
       select s.id, s.workspace_id, s.month_at, row_number() over (partition by s.workspace_id order by s.month_at) as place
         from sender_number s where s.month_at <= :at and s.released_at is null and ${untroubled}) x
      where place <= 20 order by month_at`,
    { at },
  );

/** Programs that write from a number, each with all the numbers it writes from. */
export const poolsOf = (scope: Scope, senderId: string): Promise<{ program: string; senders: string[] }[]> =>
  scope.rows(
    `select g.name as program, array_agg(o.sender_id order by o.sender_id) as senders
       from program_sender s join program g on g.id = s.program_id and g.archived_at is null join program_sender o on o.program_id = g.id
      where s.workspace_id = :workspace and s.sender_id = :senderId group by g.id, g.name order by g.name`,
    { senderId },
  );

/** Workspaces whose numbers are to be looked at. */
export const workspacesWithNumbers = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  dueWorkspaces(reading, 'numbers_at', {
    ...{ untroubled, at, most: 20 },
    which: `exists (select 1 from sender_number s where s.workspace_id = w.id and s.released_at is null)`,
  });
