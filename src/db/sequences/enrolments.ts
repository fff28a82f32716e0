import type { Enrolment, EndReason, EnrolmentState } from '@/core/sequence/enrolment';
import { toJson } from '@/db/kit/json';
import type { Reading, Scope } from '@/db/kit/scope';

/** An enrolment with what the scheduler needs beside it. */
export interface EnrolmentFull extends Enrolment {
  sequenceId: string;
  version: number;
  personId: string;
  begunBy: string;
}

interface Row {
  id: string;
  sequence_id: string;
  version: number;
  person_id: string;
  state: EnrolmentState;
  began_at: Date;
  begun_by: string;
  prompted: boolean;
  line: string | null;
  arrived_at: Date;
  due_at: Date | null;
  before_at: Date;
  left_at: Date | null;
  acted: Enrolment['acted'];
  not_before: Date | null;
  asks: string | null;
  ended_at: Date | null;
  ended_why: EndReason | null;
}

const millis = (at: Date | null): number | null => at?.getTime() ?? null;

const enrolmentOf = (row: Row): EnrolmentFull => ({
  ...{ id: row.id, sequenceId: row.sequence_id, version: row.version, personId: row.person_id },
  ...{ state: row.state, began: row.began_at.getTime(), begunBy: row.begun_by, prompted: row.prompted },
  ...{ line: row.line, arrived: row.arrived_at.getTime(), due: millis(row.due_at) },
  ...{ before: row.before_at.getTime(), left: millis(row.left_at), acted: row.acted },
  ...{ notBefore: millis(row.not_before), asks: row.asks },
  ended: row.ended_at && { at: row.ended_at.getTime(), why: row.ended_why! },
});

const COLUMNS = `e.id, e.sequence_id, e.version, e.person_id, e.state, e.began_at, e.begun_by, e.prompted, e.line, e.arrived_at, e.due_at, e.before_at,
  e.left_at, e.acted, e.not_before, e.asks, e.ended_at, e.ended_why`;

/**
 * Workspaces in which somebody's next moment has come, of sequences that run: of those who wait longest. Who could not be
 * worked on, and waits for the next try, is not among them: however many they are, they keep no workspace waiting.
 */
export const workspacesDue = async (reading: Reading, untroubled: string, at: Date): Promise<string[]> =>
  (
    await reading.rows<{ id: string }>(
      `select distinct workspace_id as id from (
         select e.workspace_id from enrolment e where e.look_at <= :at and ${untroubled} order by e.look_at limit 20000) due order by 1`,
      { at },
    )
  ).map(({ id }) => id);

/**
 * The next ones to be looked at, those that wait longest first, held until the transaction ends. Rows that another
 * worker holds are left to it; those that could not be worked on wait for their next try.
 */
export const lockDue = async (
  scope: Scope,
  untroubled: string,
  { at, most }: { at: Date; most: number },
): Promise<EnrolmentFull[]> =>
  (
    await scope.rows<Row>(
      `select ${COLUMNS} from enrolment e where e.workspace_id = :workspace and e.look_at <= :at and ${untroubled}
        order by e.look_at limit :most for update of e skip locked`,
      { at, most },
    )
  ).map(enrolmentOf);

export const lockEnrolments = async (scope: Scope, ids: readonly string[]): Promise<EnrolmentFull[]> =>
  ids.length === 0
    ? []
    : (
        await scope.rows<Row>(
          `select ${COLUMNS} from enrolment e where e.workspace_id = :workspace and e.id = any(:ids::text[]) order by e.id for update of e`,
          { ids },
        )
      ).map(enrolmentOf);

/** Those who are in some sequence now, of these people, held. */
export const lockOpenOf = async (scope: Scope, people: readonly string[]): Promise<EnrolmentFull[]> =>
  (
    await scope.rows<Row>(
      `select ${COLUMNS} from enrolment e where e.workspace_id = :workspace and e.person_id = any(:people::text[]) and e.state <> 'ended' order by e.id for update of e`,
      { people },
    )
  ).map(enrolmentOf);

/** The same, only looked at. */
export const openOf = async (scope: Scope, people: readonly string[]): Promise<EnrolmentFull[]> =>
  (
    await scope.rows<Row>(
      `select ${COLUMNS} from enrolment e join sequence s on s.id = e.sequence_id and s.state = 'running'
        where e.workspace_id = :workspace and e.person_id = any(:people::text[]) and e.state <> 'ended'`,
      { people },
    )
  ).map(enrolmentOf);

export const enrolmentsOf = async (scope: Scope, personId: string): Promise<EnrolmentFull[]> =>
  (
    await scope.rows<Row>(
      `select ${COLUMNS} from enrolment e where e.workspace_id = :workspace and e.person_id = :personId order by e.began_at desc, e.id desc limit 100`,
      { personId },
    )
  ).map(enrolmentOf);

/** A page of those who are in a sequence, of one version or any. */
export const openPage = async (
  scope: Scope,
  {
    sequenceId,
    version,
    after,
    most,
  }: { sequenceId: string; version: number | null; after: string; most: number },
): Promise<EnrolmentFull[]> =>
  (
    await scope.rows<Row>(
      `select ${COLUMNS} from enrolment e where e.workspace_id = :workspace and e.sequence_id = :sequenceId and e.state <> 'ended'
          and (:version::int is null or e.version = :version) and e.id > :after order by e.id limit :most`,
      { sequenceId, version, after, most },
    )
  ).map(enrolmentOf);

/** Ids of all who are in a sequence. */
export const openIds = async (scope: Scope, sequenceId: string): Promise<string[]> =>
  (
    await scope.rows<{ id: string }>(
      `select id from enrolment where workspace_id = :workspace and sequence_id = :sequenceId and state <> 'ended' order by id`,
      { sequenceId },
    )
  ).map(({ id }) => id);

export const readEnrolments = async (scope: Scope, ids: readonly string[]): Promise<EnrolmentFull[]> =>
  (
    await scope.rows<Row>(
      `select ${COLUMNS} from enrolment e where e.workspace_id = :workspace and e.id = any(:ids::text[])`,
      { ids },
    )
  ).map(enrolmentOf);

/** What became of the messages that enrolments wait for; one that still waits is left out. */
export interface Outcome {
  enrolmentId: string;
  left: Date | null;
  /** Why it did not leave: a reason of clearance, or null where it was called back. */
  because: string | null;
  settled: Date | null;
}

export const outcomesOf = async (
  scope: Scope,
  asked: readonly { enrolmentId: string; step: string }[],
): Promise<Outcome[]> =>
  (
    await scope.rows<{
      enrolment_id: string;
      submitted_at: Date | null;
      settled_at: Date | null;
      because: string | null;
    }>(
      `select m.enrolment_id, m.submitted_at, m.settled_at,
              (select r ->> 'code' from jsonb_array_elements(m.clearance -> 'reasons') r where m.state = 'blocked' and r ->> 'effect' = 'block' limit 1) as because
         from unnest(:ids::text[], :steps::text[]) as u (enrolment_id, step)
         join message m on m.enrolment_id = u.enrolment_id and m.step_id = u.step and m.send_id = split_part(u.step, '.', 1) and m.workspace_id = :workspace
         join enrolment e on e.id = m.enrolment_id and e.person_id = m.person_id
        where m.not_before is null`,
      { ids: asked.map(({ enrolmentId }) => enrolmentId), steps: asked.map(({ step }) => step) },
    )
  ).map((row) => ({
    ...{ enrolmentId: row.enrolment_id, left: row.submitted_at },
    ...{ because: row.because, settled: row.settled_at },
  }));

/** Writes enrolments as the engine gave them. `look`: when the scheduler looks again; null: something wakes it. */
export async function saveEnrolments(
  scope: Scope,
  rows: readonly { one: EnrolmentFull; look: number | null }[],
): Promise<void> {
  if (rows.length === 0) return;
  const date = (at: number | null) => (at === null || !Number.isFinite(at) ? null : new Date(at));
  await scope.run(
    `update enrolment e set version = u.version, state = u.state, prompted = u.prompted, line = u.line, arrived_at = u.arrived, due_at = u.due, look_at = u.look,
            before_at = u.before_at, left_at = u.left_at, acted = u.acted, not_before = u.not_before, asks = u.asks, ended_at = u.ended, ended_why = u.why, person_id = u.person
       from unnest(:ids::text[], :versions::int[], :states::text[], :prompted::boolean[], :lines::text[], :arrived::timestamptz[], :due::timestamptz[], :look::timestamptz[],
              :before::timestamptz[], :left::timestamptz[], :acted::jsonb[], :notBefore::timestamptz[], :asks::text[], :ended::timestamptz[], :why::text[], :people::text[])
            as u (id, version, state, prompted, line, arrived, due, look, before_at, left_at, acted, not_before, asks, ended, why, person)
      where e.workspace_id = :workspace and e.id = u.id`,
    {
      ids: rows.map(({ one }) => one.id),
      versions: rows.map(({ one }) => one.version),
      states: rows.map(({ one }) => one.state),
      prompted: rows.map(({ one }) => one.prompted),
      lines: rows.map(({ one }) => one.line),
      arrived: rows.map(({ one }) => new Date(one.arrived)),
      due: rows.map(({ one }) => date(one.due)),
      look: rows.map(({ look }) => date(look)),
      before: rows.map(({ one }) => new Date(one.before)),
      left: rows.map(({ one }) => date(one.left)),
      acted: rows.map(({ one }) => toJson(one.acted)),
      notBefore: rows.map(({ one }) => date(one.notBefore)),
      asks: rows.map(({ one }) => one.asks),
      ended: rows.map(({ one }) => date(one.ended?.at ?? null)),
      why: rows.map(({ one }) => one.ended?.why ?? null),
      people: rows.map(({ one }) => one.personId),
    },
  );
}

/** Somebody at the line where they begin, and when the scheduler looks at them. */
interface Placed {
  one: Enrolment;
  personId: string;
  begunBy: string;
  look: number | null;
}

/** Lets people in; whoever is in it already is left out. Gives the ids that came in. */
export const insertEnrolments = async (
  scope: Scope,
  { sequenceId, version }: { sequenceId: string; version: number },
  rows: readonly Placed[],
): Promise<string[]> =>
  rows.length === 0
    ? []
    : (
        await scope.rows<{ id: string }>(
          `insert into enrolment (id, workspace_id, sequence_id, version, person_id, state, began_at, begun_by, prompted, line, arrived_at, due_at, look_at, before_at, not_before)
           select u.id, :workspace, :sequenceId, :version::int, u.person, 'waiting', at.began, u.by, u.prompted, u.line, at.began, to_timestamp(u.due / 1000.0), to_timestamp(u.look / 1000.0), at.began, to_timestamp(u.not_before / 1000.0)
             from json_to_recordset(:rows::json) as u (id text, person text, began bigint, by text, prompted boolean, line text, due bigint, look bigint, not_before bigint),
                  to_timestamp(u.began / 1000.0) as at (began)
           on conflict (person_id, sequence_id) where state <> 'ended' do nothing returning id`,
          {
            sequenceId,
            version,
            rows: toJson(
              rows.map(({ one, personId, begunBy, look }) => ({
                id: one.id,
                person: personId,
                began: one.began,
                by: begunBy,
                prompted: one.prompted,
                line: one.line,
                due: one.due,
                look,
                not_before: one.notBefore,
              })),
            ),
          },
        )
      ).map(({ id }) => id);

export interface PassedLine {
  enrolmentId: string;
  sequenceId: string;
  line: string;
  at: Date;
  because: string | null;
}

/** Lines that are behind people. A line is behind somebody once. */
export const insertPassed = (scope: Scope, rows: readonly PassedLine[]): Promise<number> =>
  rows.length === 0
    ? Promise.resolve(0)
    : scope.run(
        `insert into enrolment_line (workspace_id, enrolment_id, sequence_id, line, at, because, message_id)
         select :workspace, u.id, u.sequence, u.line, u.at, u.because, m.id
           from unnest(:ids::text[], :sequences::text[], :lines::text[], :ats::timestamptz[], :because::text[]) as u (id, sequence, line, at, because)
           join enrolment e on e.id = u.id
           left join message m on m.enrolment_id = u.id and m.send_id = u.sequence and m.person_id = e.person_id and m.step_id = u.sequence || '.' || u.line
         on conflict do nothing`,
        {
          ids: rows.map(({ enrolmentId }) => enrolmentId),
          sequences: rows.map(({ sequenceId }) => sequenceId),
          lines: rows.map(({ line }) => line),
          ats: rows.map(({ at }) => at),
          because: rows.map(({ because }) => because),
        },
      );

/** When each of these people was last in a sequence, and whether they still are. */
export const pastOf = (
  scope: Scope,
  sequenceId: string,
  people: readonly string[],
): Promise<{ person_id: string; began_at: Date; open: boolean; enrolment_id: string }[]> =>
  scope.rows(
    `select distinct on (person_id) person_id, began_at, state <> 'ended' as open, id as enrolment_id from enrolment
      where workspace_id = :workspace and sequence_id = :sequenceId and person_id = any(:people::text[]) order by person_id, began_at desc, id desc`,
    { sequenceId, people },
  );

export interface Whereabouts {
  id: string;
  zone: string | null;
  place_zones: string[] | null;
  fields: Record<string, unknown>;
  here: boolean;
  owner_id: string | null;
}

/** Where people live and the dates they have; `here` is false for whoever was merged away or erased. */
export const whereabouts = (scope: Scope, ids: readonly string[]): Promise<Whereabouts[]> =>
  scope.rows(
    `select id, zone, place_zones, fields, owner_id, merged_into is null and erased_at is null as here from person
      where workspace_id = :workspace and id = any(:ids::text[])`,
    { ids },
  );

/** Of those who are in a sequence: whose line is due by then or whose message is on its way, by their ids, after one of them. */
export const dueIn = async (
  scope: Scope,
  { sequenceId, at, after, most }: { sequenceId: string; at: Date; after: string; most: number },
): Promise<string[]> =>
  (
    await scope.rows<{ id: string }>(
      `select id from enrolment where workspace_id = :workspace and sequence_id = :sequenceId and state <> 'ended' and (state = 'sending' or due_at <= :at) and id > :after
        order by id limit :most`,
      { sequenceId, at, after, most },
    )
  ).map(({ id }) => id);

/** Lets the scheduler look at everybody of a sequence again, or at nobody while it is paused. */
export const wakeSequence = (scope: Scope, sequenceId: string, at: Date | null): Promise<number> =>
  scope.run(
    at === null
      ? `update enrolment set look_at = null where workspace_id = :workspace and sequence_id = :sequenceId and look_at is not null`
      : `update enrolment e set look_at = case when e.state = 'waiting' then greatest(e.due_at, :at)
           else (select :at::timestamptz from message m where m.enrolment_id = e.id and m.send_id = e.sequence_id and m.person_id = e.person_id
                   and m.step_id = e.sequence_id || '.' || e.line and m.not_before is null) end
          where e.workspace_id = :workspace and e.sequence_id = :sequenceId and e.state <> 'ended'`,
    { sequenceId, at },
  );

/** Messages of enrolments that have not left: called back with the reason in their history. */
export const callBackOf = (scope: Scope, ids: readonly string[], at: Date, why: string): Promise<number> =>
  ids.length === 0
    ? Promise.resolve(0)
    : scope.run(
        `with gone as (
           update message m set state = 'cancelled', not_before = null, settled_at = :at from enrolment e
            where e.workspace_id = :workspace and e.id = any(:ids::text[]) and m.send_id = e.sequence_id and m.person_id = e.person_id and m.enrolment_id = e.id
              and m.not_before is not null returning m.id, m.workspace_id)
         insert into message_event (workspace_id, message_id, event, detail, at) select workspace_id, id, 'cancel', :why, :at from gone`,
        { ids, at, why },
      );

/** A message that waits goes no earlier than this. */
export const postponeOf = (scope: Scope, id: string, until: Date): Promise<number> =>
  scope.run(
    `update message m set not_before = greatest(m.not_before, :until) from enrolment e
      where e.workspace_id = :workspace and e.id = :id and m.send_id = e.sequence_id and m.person_id = e.person_id and m.enrolment_id = e.id and m.not_before is not null`,
    { id, until },
  );

/** Everybody who is in it is looked at now, whatever they wait for. */
export const wakeAll = (scope: Scope, sequenceId: string, at: Date): Promise<number> =>
  scope.run(
    `update enrolment set look_at = :at where workspace_id = :workspace and sequence_id = :sequenceId and state <> 'ended'`,
    { sequenceId, at },
  );
