import { dueRowsOf } from '@/db/kit/due';
import type { Reading, Scope } from '@/db/kit/scope';

const MOST_EACH = 200;

/** What came by forms and waits for the worker, few for each workspace. */
export const submissionsDue = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  dueRowsOf(reading, 'submission s', { untroubled, at, each: MOST_EACH });

/** One form at a time for a number, until the transaction ends. */
export const lockNumber = (scope: Scope, number: string): Promise<object[]> =>
  scope.rows(`select pg_advisory_xact_lock(hashtextextended(:workspace || ' ' || :number, 0))`, { number });

/** How often a number was asked for a proof, and how often a form asked, since. */
export const proofsAsked = async (
  scope: Scope,
  of: { number: string; formId: string; numberSince: Date; formSince: Date; most: number },
): Promise<{ of_number: number; of_form: number }> =>
  (
    await scope.rows<{ of_number: number; of_form: number }>(
      `select (select count(*)::int from submission where workspace_id = :workspace and number = :number and asked_at > :numberSince) as of_number,
              (select count(*)::int from (select 1 from submission where workspace_id = :workspace and form_id = :formId and asked_at > :formSince limit :most) x) as of_form`,
      { ...of },
    )
  )[0]!;

/** The number a program texts from: one of its own, the same for a person every time. */
export const senderOfProgram = async (
  scope: Scope,
  programId: string,
  personId: string,
): Promise<string | null> =>
  (
    await scope.rows<{ id: string }>(
      `select n.id from program_sender ps join sender_number n on n.id = ps.sender_id and n.released_at is null and n.registration = 'registered'
        where ps.workspace_id = :workspace and ps.program_id = :programId order by hashtext(n.id || :personId) limit 1`,
      { programId, personId },
    )
  )[0]?.id ?? null;

/** Whether a form waits for this person's YES. */
export const waitsForProof = async (scope: Scope, personId: string): Promise<boolean> =>
  (
    await scope.rows(
      `select 1 from submission where workspace_id = :workspace and person_id = :personId and state = 'asked' limit 1`,
      { personId },
    )
  ).length > 0;

export interface FormCounts {
  id: string;
  opened: number;
  begun: number;
  sent: number;
  asked: number;
  proved: number;
  lapsed: number;
  held: number;
  refused: number;
  machines: number;
}

/** What came of forms. A form that was sent was begun and opened, also where no script counted it. */
export const formCounts = (scope: Scope): Promise<FormCounts[]> =>
  scope.rows<FormCounts>(
    `with sent as (
       select form_id, count(*) filter (where state <> 'dropped')::int as sent, count(asked_at)::int as asked, count(*) filter (where state = 'proved')::int as proved,
              count(*) filter (where state = 'lapsed')::int as lapsed, count(*) filter (where state = 'held')::int as held,
              count(*) filter (where state = 'refused')::int as refused, count(*) filter (where because = 'machine')::int as machines,
              count(*) filter (where state <> 'dropped' and not exists (select 1 from form_visit x where x.form_id = s.form_id and x.press = s.press))::int as uncounted
         from submission s where workspace_id = :workspace group by 1),
     seen as (
       select form_id, count(*)::int as opened, count(*) filter (where begun_at is not null or exists (
                select 1 from submission s where s.form_id = v.form_id and s.press = v.press))::int as begun
         from form_visit v where workspace_id = :workspace group by 1)
     select f.id, coalesce(v.opened, 0) + coalesce(s.uncounted, 0) as opened, coalesce(v.begun, 0) + coalesce(s.uncounted, 0) as begun,
            coalesce(s.sent, 0) as sent, coalesce(s.asked, 0) as asked, coalesce(s.proved, 0) as proved, coalesce(s.lapsed, 0) as lapsed,
            coalesce(s.held, 0) as held, coalesce(s.refused, 0) as refused, coalesce(s.machines, 0) as machines
       from form f left join sent s on s.form_id = f.id left join seen v on v.form_id = f.id where f.workspace_id = :workspace`,
  );

/** Of those who began and sent nothing, the field they touched last, from 1, of the version that is shown. */
export const leftAt = (scope: Scope, formId: string): Promise<{ furthest: number; people: number }[]> =>
  scope.rows(
    `select v.furthest, count(*)::int as people from form_visit v join form f on f.id = v.form_id and f.version = v.version
      where v.workspace_id = :workspace and v.form_id = :formId and v.furthest > 0 and not exists (
        select 1 from submission s where s.form_id = v.form_id and s.press = v.press)
      group by 1 order by 1`,
    { formId },
  );

export interface SubmissionRow {
  id: string;
  version: number;
  number: string;
  person_id: string | null;
  name: string | null;
  state: string;
  because: string | null;
  at: Date;
  settled_at: Date | null;
}

/** What came by a form, the newest first; held ones before everything. */
export const submissionsOf = (
  scope: Scope,
  formId: string,
  { state, most }: { state: string | null; most: number },
): Promise<SubmissionRow[]> =>
  scope.rows<SubmissionRow>(
    `select s.id, s.version, s.number, s.person_id, nullif(trim(coalesce(p.first_name, '') || ' ' || coalesce(p.last_name, '')), '') as name, s.state, s.because, s.at, s.settled_at
       from submission s left join person p on p.id = s.person_id
      where s.workspace_id = :workspace and s.form_id = :formId and (:state::text is null or s.state = :state)
      order by (s.state = 'held') desc, s.at desc, s.id desc limit :most`,
    { formId, state, most },
  );

/** What came by forms goes along when somebody is merged. Gives the ids. */
export const moveSubmissions = async (scope: Scope, keptId: string, goneId: string): Promise<string[]> =>
  (
    await scope.rows<{ id: string }>(
      `update submission set person_id = :keptId where workspace_id = :workspace and person_id = :goneId returning id`,
      { keptId, goneId },
    )
  ).map(({ id }) => id);

export const giveBackSubmissions = (scope: Scope, goneId: string, ids: readonly string[]): Promise<number> =>
  scope.run(
    `update submission set person_id = :goneId where workspace_id = :workspace and id = any(:ids::text[])`,
    { goneId, ids },
  );
