import { askingFrom, type AskingState } from '@/core/question/lifecycle';
import type { Outcome } from '@/core/question/next';
import { dueRowsOf } from '@/db/kit/due';
import type { Reading, Scope } from '@/db/kit/scope';
import type { Asking } from './entities';

/** Fields that somebody left out when they were asked. */
export const leftOut = async (scope: Scope, personId: string): Promise<Set<string>> =>
  new Set(
    (
      await scope.rows<{ field: string }>(
        `select s.field from asking_step s join asking a on a.id = s.asking_id
          where a.workspace_id = :workspace and a.person_id = :personId and s.outcome = 'skipped'`,
        { personId },
      )
    ).map(({ field }) => field),
  );

/** What they were asked is asked no more: they left the program (null: any), or another keyword asks. Gives how many ended. */
export const leaveAskings = (
  scope: Scope,
  personId: string,
  at: Date,
  { programId, states = askingFrom('leave') }: { programId: string | null; states?: readonly AskingState[] },
): Promise<number> =>
  scope.run(
    `update asking set state = 'left', due_at = null, settled_at = :at
      where workspace_id = :workspace and person_id = :personId and state = any(:states::text[]) and (:programId::text is null or program_id = :programId)`,
    { personId, at, states, programId },
  );

/** The questions that stand open for somebody, locked, with when the open one was asked; null: none. */
export const lockOpenAsking = async (
  scope: Scope,
  personId: string,
): Promise<{ id: string; asked_at: Date } | null> =>
  (
    await scope.rows<{ id: string; asked_at: Date }>(
      `select a.id, s.asked_at from asking a join asking_step s on s.asking_id = a.id and s.place = a.at
        where a.workspace_id = :workspace and a.person_id = :personId and a.state = 'open' for update of a`,
      { personId },
    )
  )[0] ?? null;

/** The open question, from now on. */
export const noteAsked = (scope: Scope, { id, at, questions }: Asking, now: Date): Promise<number> =>
  scope.run(
    `insert into asking_step (asking_id, place, workspace_id, field, asked_at) values (:id, :at, :workspace, :field, :now)
     on conflict (asking_id, place) do update set again_at = excluded.asked_at`,
    { id, at, field: questions[at]!.field, now },
  );

export const settleStep = (
  scope: Scope,
  { id, at }: Pick<Asking, 'id' | 'at'>,
  outcome: Outcome,
  now: Date,
): Promise<number> =>
  scope.run(
    `update asking_step set outcome = :outcome, settled_at = :now where workspace_id = :workspace and asking_id = :id and place = :at and outcome is null`,
    { id, at, outcome, now },
  );

/** Fields whose question brought nothing, or was never reached. */
export async function unansweredOf(scope: Scope, { id, questions }: Asking): Promise<string[]> {
  const settled = await scope.rows<{ field: string }>(
    `select field from asking_step where workspace_id = :workspace and asking_id = :id and outcome in ('answered', 'skipped')`,
    { id },
  );
  const done = new Set(settled.map(({ field }) => field));
  return questions.map(({ field }) => field).filter((field) => !done.has(field));
}

const MOST_EACH = 50;

/** Questions and links whose silence is to be acted on, few for each workspace. */
export const askingsDue = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  dueRowsOf(reading, 'asking a', { untroubled, at, each: MOST_EACH });

export interface FunnelRow {
  field: string;
  asked: number;
  again: number;
  answered: number;
  skipped: number;
  unreadable: number;
  silent: number;
  open: number;
}

/** What became of the questions of a keyword, by field. */
export const questionFunnel = (scope: Scope, keywordId: string): Promise<FunnelRow[]> =>
  scope.rows<FunnelRow>(
    `select s.field, count(*)::int as asked, count(s.again_at)::int as again,
            count(*) filter (where s.outcome = 'answered')::int as answered, count(*) filter (where s.outcome = 'skipped')::int as skipped,
            count(*) filter (where s.outcome = 'unreadable')::int as unreadable,
            count(*) filter (where s.outcome = 'silent' or (s.outcome is null and a.state <> 'open'))::int as silent,
            count(*) filter (where s.outcome is null and a.state = 'open')::int as open
       from asking_step s join asking a on a.id = s.asking_id where a.workspace_id = :workspace and a.keyword_id = :keywordId
      group by 1`,
    { keywordId },
  );

export interface LinkCounts {
  people: number;
  answered: number;
  linked: number;
  opened: number;
  begun: number;
  finished: number;
  handed: number;
  left: number;
}

/** What became of those whom a keyword asked. */
export const askingCounts = async (scope: Scope, keywordId: string): Promise<LinkCounts> =>
  (
    await scope.rows<LinkCounts>(
      `select count(*)::int as people, count(*) filter (where a.state = 'answered')::int as answered, count(l.id)::int as linked,
              count(l.opened_at)::int as opened, count(l.begun_at)::int as begun, count(l.finished_at)::int as finished,
              count(*) filter (where a.state = 'handed')::int as handed, count(*) filter (where a.state = 'left')::int as "left"
         from asking a left join personal_link l on l.asking_id = a.id where a.workspace_id = :workspace and a.keyword_id = :keywordId`,
      { keywordId },
    )
  )[0]!;

/** What somebody told about themselves when they were asked, and where it came from. */
export interface ToldRow {
  field: string;
  outcome: Outcome;
  at: Date;
  keyword: string | null;
}

export const toldBy = (scope: Scope, personId: string): Promise<ToldRow[]> =>
  scope.rows<ToldRow>(
    `select s.field, s.outcome, s.settled_at as at, k.word as keyword from asking_step s join asking a on a.id = s.asking_id
       left join keyword k on k.id = a.keyword_id where a.workspace_id = :workspace and a.person_id = :personId and s.outcome is not null
      order by s.settled_at desc, s.place desc limit 50`,
    { personId },
  );

/** Questions and links go along when somebody is merged. What is open stays open for one of them only. */
export async function moveAskings(
  scope: Scope,
  { keptId, goneId, at }: { keptId: string; goneId: string; at: Date },
): Promise<{ askings: string[]; links: string[] }> {
  await scope.run(
    `update asking g set state = 'left', due_at = null, settled_at = :at where g.workspace_id = :workspace and g.person_id = :goneId and g.state = 'open'
        and exists (select 1 from asking k where k.person_id = :keptId and k.state = 'open')`,
    { keptId, goneId, at },
  );
  const moved = async (table: 'asking' | 'personal_link') =>
    (
      await scope.rows<{ id: string }>(
        `update ${table} set person_id = :keptId where workspace_id = :workspace and person_id = :goneId returning id`,
        { keptId, goneId },
      )
    ).map(({ id }) => id);
  return { askings: await moved('asking'), links: await moved('personal_link') };
}

export async function giveBackAskings(
  scope: Scope,
  goneId: string,
  { askings = [], links = [] }: { askings?: string[]; links?: string[] },
): Promise<void> {
  for (const [table, ids] of [
    ['asking', askings],
    ['personal_link', links],
  ] as const)
    await scope.run(
      `update ${table} set person_id = :goneId where workspace_id = :workspace and id = any(:ids::text[])`,
      { goneId, ids },
    );
}
