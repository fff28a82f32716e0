import type { EntryKind, LedgerSums } from '@/core/credits/ledger';
import type { Channel } from '@/core/message/channel';
import { FOR_COMPANION } from '../delivery/text-moves';
import type { Scope } from '../kit/scope';
import { joinNames, SEND_NAME } from '../sends/names';

/** Holds what is left until the transaction ends: whoever spends meanwhile waits. */
export const lockCredits = (scope: Scope): Promise<object[]> =>
  scope.rows(`select 1 from workspace where id = :workspace for update`);

/** Credits that messages of one send take, or of none. */
export interface Spent {
  sendId: string | null;
  credits: number;
  texts: number;
}

/** Takes what messages of a program cost, in the transaction that marks them: an entry for each send. */
export async function spendOnMessages(
  scope: Scope,
  { programId, channel, at }: { programId: string; channel: Channel; at: Date },
  spent: readonly Spent[],
): Promise<void> {
  const costly = spent.filter(({ credits }) => credits > 0);
  if (costly.length === 0) return;
  await scope.run(
    `with entries as (
       insert into credit_entry (workspace_id, kind, channel, program_id, send_id, delta, reason, texts, at)
       select :workspace, 'messages', :channel, :programId, u.send_id, - u.credits, 'messages', u.texts, :at
         from unnest(:sends::text[], :credits::int[], :texts::int[]) as u (send_id, credits, texts) returning delta)
     update workspace set credit_balance = credit_balance + (select sum(delta) from entries) where id = :workspace`,
    {
      ...{ programId, channel, at },
      sends: costly.map(({ sendId }) => sendId),
      credits: costly.map(({ credits }) => credits),
      texts: costly.map(({ texts }) => texts),
    },
  );
}

/** Writes down credits that came or went otherwise. */
export const bookCredits = (
  scope: Scope,
  entry: {
    kind: Exclude<EntryKind, 'messages' | 'returned'>;
    delta: number;
    reason: string;
    subject?: string;
  },
  at: Date,
): Promise<number> =>
  scope.run(
    `with entry as (
       insert into credit_entry (workspace_id, kind, delta, reason, subject, at) values (:workspace, :kind, :delta, :reason, :subject, :at) returning delta)
     update workspace set credit_balance = credit_balance + (select delta from entry) where id = :workspace`,
    { subject: null, ...entry, at },
  );

/** What messages cost since an instant, of a program and of all. */
export async function spentSince(
  scope: Scope,
  since: Date,
  programId: string,
): Promise<{ program: number; workspace: number }> {
  const [row] = await scope.rows<{ program: number; workspace: number }>(
    `select coalesce(- sum(delta) filter (where program_id = :programId), 0)::int as program, coalesce(- sum(delta), 0)::int as workspace
       from credit_entry where workspace_id = :workspace and at >= :since and kind in ('messages', 'returned')`,
    { since, programId },
  );
  return row!;
}

/** The ledger beside what it has to agree with; reads every message of the workspace. */
export async function ledgerSums(scope: Scope): Promise<LedgerSums> {
  const [row] = await scope.rows<LedgerSums>(
    `select (select coalesce(sum(delta), 0)::float8 from credit_entry where workspace_id = :workspace) as entries,
            (select credit_balance::float8 from workspace where id = :workspace) as balance,
            (select coalesce(- sum(delta), 0)::float8 from credit_entry where workspace_id = :workspace and kind in ('messages', 'returned')) as spent,
            (select coalesce(sum(credits), 0)::float8 from message where workspace_id = :workspace and submitted_at is not null) as messages`,
  );
  return row!;
}

export interface SpentLine {
  kind: EntryKind;
  channel: Channel | null;
  program: string | null;
  send_id: string | null;
  send: string | null;
  send_kind: string | null;
  /** Below zero where they went. */
  delta: number;
  texts: number;
}

/** What came and went from an instant until another, by what it was for. */
export const spentLines = (scope: Scope, from: Date, until: Date): Promise<SpentLine[]> =>
  scope.rows<SpentLine>(
    `select e.kind, e.channel, g.name as program, e.send_id, ${SEND_NAME} as send, s.kind as send_kind, e.delta::float8 as delta, e.texts::int as texts
       from (select kind, channel, program_id, send_id, sum(delta) as delta, sum(case kind when 'messages' then texts else 0 end) as texts
               from credit_entry where workspace_id = :workspace and at >= :from and at < :until group by 1, 2, 3, 4) e
       left join program g on g.id = e.program_id left join send s on s.id = e.send_id
       ${joinNames('e.send_id')}
      order by e.delta, e.send_id`,
    { from, until },
  );

export interface EntryRow {
  id: number;
  kind: EntryKind;
  delta: number;
  reason: string;
  texts: number;
  channel: Channel | null;
  program: string | null;
  send: string | null;
  send_id: string | null;
  subject: string | null;
  at: Date;
  /** What was left once it was booked. */
  left: number;
}

/** Entries, the latest first, with what was left after each. `before`: an id to go on after. */
export const entryRows = (scope: Scope, before: number | null, most: number): Promise<EntryRow[]> =>
  scope.rows<EntryRow>(
    `with page as (
       select * from credit_entry where workspace_id = :workspace and (:before::bigint is null or id < :before) order by id desc limit :most)
     select p.id::float8 as id, p.kind, p.delta, p.reason, p.texts, p.channel, g.name as program, p.send_id, ${SEND_NAME} as send, p.subject, p.at,
            ((select coalesce(sum(delta), 0) from credit_entry where workspace_id = :workspace and id < (select min(id) from page)) + sum(p.delta) over (order by p.id))::float8 as left
       from page p left join program g on g.id = p.program_id
       ${joinNames('p.send_id')}
      order by p.id desc`,
    { before, most },
  );

/** What goes beside sends, by the hour of the week since Monday: credits an hour, over some weeks. */
export const usualByHour = (
  scope: Scope,
  { from, until, weeks }: { from: Date; until: Date; weeks: number },
): Promise<{ hour: number; credits: number }[]> =>
  scope.rows(
    `select ((extract(isodow from e.at at time zone w.zone) - 1) * 24 + extract(hour from e.at at time zone w.zone))::int as hour, (- sum(e.delta)::float8 / :weeks) as credits
       from credit_entry e join workspace w on w.id = e.workspace_id
      where e.workspace_id = :workspace and e.at >= :from and e.at < :until and e.kind in ('messages', 'returned') and e.send_id is null group by 1`,
    { from, until, weeks },
  );

/**
 * What waits to leave and is not paid yet, by the hour it may, and what waits for its companion by the hour that was made
 * for it at the earliest; what waits for somebody is not among it.
 */
export const waitingCredits = (
  scope: Scope,
): Promise<{ hour: Date; send: string | null; credits: number }[]> =>
  scope.rows(
    `select h.hour, ${SEND_NAME} as send, h.credits from (
       select date_trunc('hour', case when m.turn_at = ${FOR_COMPANION} then m.created_at else coalesce(m.turn_at, m.not_before) end) as hour, m.send_id, sum(m.credits)::int as credits from message m
        where m.workspace_id = :workspace and m.not_before is not null and (m.turn_at is not null or m.not_before < 'infinity') and m.submitted_at is null and m.credits > 0 group by 1, 2) h
       ${joinNames('h.send_id')}`,
  );
