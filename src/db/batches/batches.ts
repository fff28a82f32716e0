import { CALLED } from '@/db/people/addresses';
import type { BatchAction, BatchState } from '@/core/batch/batch';
import { toJson } from '@/db/kit/json';
import type { Reading, Scope } from '@/db/kit/scope';
import { HERE, whereOf, type Cut } from '@/db/audience/cut';

export interface BatchRow {
  id: string;
  workspace_id: string;
  name: string;
  action: BatchAction;
  state: BatchState;
  pace_count: number | null;
  pace_seconds: number | null;
  start_at: Date;
  next_at: Date;
  total: number;
  cursor: number;
  undo_cursor: number;
  failed: number;
  kept: number;
  /** Why it ended before it was through; null: it did not, or somebody stopped it. */
  problem: string | null;
  created_by: string | null;
  created_at: Date;
  finished_at: Date | null;
}

export interface NewBatch {
  id: string;
  name: string;
  action: BatchAction;
  paceCount: number | null;
  paceSeconds: number | null;
  startAt: Date;
  createdBy: string | null;
  at: Date;
}

export const insertBatch = (scope: Scope, { action, ...batch }: NewBatch): Promise<number> =>
  scope.run(
    `insert into batch (id, workspace_id, name, action, state, pace_count, pace_seconds, start_at, next_at, total, created_by, created_at, updated_at)
     values (:id, :workspace, :name, :action::jsonb, 'waiting', :paceCount, :paceSeconds, :startAt, :startAt, 0, :createdBy, :at, :at)`,
    { ...batch, action: toJson(action) },
  );

/** Writes down who is meant, now and for good. How many they are. */
export async function freezeCut(scope: Scope, batchId: string, cut: Cut): Promise<number> {
  const { where, values } = whereOf(cut);
  return frozen(scope, batchId, `select p.id from person p where ${where}`, values);
}

export const freezeIds = (scope: Scope, batchId: string, ids: readonly string[]): Promise<number> =>
  frozen(scope, batchId, `select p.id from person p where ${HERE} and p.id = any(:ids::text[])`, { ids });

async function frozen(
  scope: Scope,
  batchId: string,
  select: string,
  values: Parameters<Scope['run']>[1],
): Promise<number> {
  const total = await scope.run(
    `insert into batch_person (workspace_id, batch_id, seq, person_id)
     select :workspace, :batchId, row_number() over (), id from (${select}) who`,
    { ...values, batchId },
  );
  await scope.run(`update batch set total = :total where workspace_id = :workspace and id = :batchId`, {
    total,
    batchId,
  });
  return total;
}

/** The next batch of each workspace whose slice is due. */
export const dueBatches = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
    `select distinct on (workspace_id) id, workspace_id from batch b
      where state in ('waiting', 'running', 'undoing') and next_at <= :at and ${untroubled} order by workspace_id, next_at`,
    { at },
  );

/** A batch whose slice is due, held by this transaction; null: it is not any more, or somebody else has it. */
export async function lockDueBatch(scope: Scope, id: string, at: Date): Promise<BatchRow | null> {
  const [row] = await scope.rows<BatchRow>(
    `select * from batch where workspace_id = :workspace and id = :id and state in ('waiting', 'running', 'undoing') and next_at <= :at for update skip locked`,
    { id, at },
  );
  return row ?? null;
}

/** Whether a thing is still here, and stays until the transaction ends. */
export const holdThing = async (
  scope: Scope,
  kind: 'label' | 'stage' | 'program',
  id: string,
): Promise<boolean> =>
  (
    await scope.rows(`select 1 from ${kind} where workspace_id = :workspace and id = :id for key share`, {
      id,
    })
  ).length > 0;

export const batchRow = async (scope: Scope, id: string): Promise<BatchRow | null> =>
  (
    await scope.rows<BatchRow>(`select * from batch where workspace_id = :workspace and id = :id`, { id })
  )[0] ?? null;

export const batchRows = (
  scope: Scope,
  before: string,
  most: number,
): Promise<(BatchRow & { by: string | null })[]> =>
  scope.rows(
    `select b.*, a.name as by from batch b left join account a on a.id = b.created_by
      where b.workspace_id = :workspace and (:before = '' or b.id < :before) order by b.id desc limit :most`,
    { before, most },
  );

/** Moves a batch, naming the states it may come from: false when it was moved by somebody else. */
export async function setBatchState(
  scope: Scope,
  id: string,
  from: readonly BatchState[],
  to: BatchState,
  at: Date,
  problem: string | null = null,
): Promise<boolean> {
  const moved = await scope.run(
    `update batch set state = :to, updated_at = :at, problem = :problem, next_at = case when :to = 'undoing' then :at::timestamptz else next_at end,
            finished_at = case when :to in ('finished', 'stopped', 'undone') then :at::timestamptz else finished_at end
      where workspace_id = :workspace and id = :id and state = any(:from::text[])`,
    { id, from, to, at, problem },
  );
  return moved === 1;
}

export interface Slice {
  batchId: string;
  /** Rows after this, up to and with `to`. */
  from: number;
  to: number;
}

const IN_SLICE = `bp.workspace_id = :workspace and bp.batch_id = :batchId and bp.seq > :from and bp.seq <= :to`;
const PARTS = (slice: Slice) => ({ ...slice });

/** People of the slice who are no longer here. */
export const failGone = (scope: Scope, slice: Slice): Promise<number> =>
  scope.run(
    `update batch_person bp set outcome = 'failed', reason = 'merged or erased since' where ${IN_SLICE}
        and not exists (select 1 from person p where p.id = bp.person_id and ${HERE})`,
    PARTS(slice),
  );

export async function labelSlice(
  scope: Scope,
  slice: Slice,
  label: string,
  on: boolean,
  at: Date,
): Promise<void> {
  const size = slice.to - slice.from;
  if (on) {
    const put = await scope.run(
      `insert into person_label (workspace_id, label_id, person_id, batch_id, at)
       select :workspace, :label, bp.person_id, :batchId, :at from batch_person bp join person p on p.id = bp.person_id
        where ${IN_SLICE} and ${HERE} on conflict do nothing`,
      { ...PARTS(slice), label, at },
    );
    if (put < size)
      await scope.run(
        `update batch_person bp set outcome = 'already' from person_label x where ${IN_SLICE} and x.label_id = :label
            and x.person_id = bp.person_id and x.batch_id is distinct from :batchId`,
        { ...PARTS(slice), label },
      );
    if (put < size) await failGone(scope, slice);
    return;
  }
  await scope.run(
    `update batch_person bp set outcome = 'already' where ${IN_SLICE} and not exists
       (select 1 from person_label x where x.label_id = :label and x.person_id = bp.person_id)`,
    { ...PARTS(slice), label },
  );
  // Since when it was there and what had put it there is kept, for the undoing.
  await scope.run(
    `with taken as (
       delete from person_label x using batch_person bp where ${IN_SLICE} and x.workspace_id = :workspace and x.label_id = :label and x.person_id = bp.person_id
       returning x.person_id, x.batch_id, x.at)
     update batch_person bp set before = jsonb_build_object('batch', taken.batch_id, 'at', taken.at) from taken
      where ${IN_SLICE} and bp.person_id = taken.person_id`,
    { ...PARTS(slice), label },
  );
  await failGone(scope, slice);
}

export const unlabelSlice = async (
  scope: Scope,
  slice: Slice,
  label: string,
  on: boolean,
  at: Date,
): Promise<void> => {
  if (on) {
    const taken = await scope.run(
      `delete from person_label x using batch_person bp where ${IN_SLICE} and x.workspace_id = :workspace and x.label_id = :label
          and x.person_id = bp.person_id and x.batch_id = :batchId`,
      { ...PARTS(slice), label },
    );
    await keptBack(scope, slice, slice.to - slice.from - taken);
    return;
  }
  await scope.run(
    `insert into person_label (workspace_id, label_id, person_id, batch_id, at)
     select :workspace, :label, bp.person_id, bp.before ->> 'batch', coalesce((bp.before ->> 'at')::timestamptz, :at) from batch_person bp join person p on p.id = bp.person_id
      where ${IN_SLICE} and bp.outcome is null and ${HERE} on conflict do nothing`,
    { ...PARTS(slice), label, at },
  );
};

/** Rows the undoing could not change back because they were changed since. */
const keptBack = async (scope: Scope, { batchId, from, to }: Slice, rows: number): Promise<void> => {
  if (rows <= 0) return;
  await scope.run(
    `update batch set kept = kept + (select greatest(0, :rows - count(*)) from batch_person bp where bp.workspace_id = :workspace and bp.batch_id = :batchId
        and bp.seq > :from and bp.seq <= :to and bp.outcome is not null)::int where workspace_id = :workspace and id = :batchId`,
    { batchId, from, to, rows },
  );
};

type Column = 'stage_id' | 'owner_id';

/** Sets a column for the people of a slice, keeping what stood there. */
export async function setSlice(
  scope: Scope,
  slice: Slice,
  column: Column,
  value: string | null,
): Promise<void> {
  await scope.run(
    `update batch_person bp set before = jsonb_build_object('value', p.${column}), outcome = case when p.${column} is not distinct from :value then 'already' end
       from person p where ${IN_SLICE} and p.id = bp.person_id and ${HERE}`,
    { ...PARTS(slice), value },
  );
  await scope.run(
    `update person p set ${column} = :value from batch_person bp where ${IN_SLICE} and p.id = bp.person_id and ${HERE} and p.${column} is distinct from :value`,
    { ...PARTS(slice), value },
  );
  await failGone(scope, slice);
}

/** What stood there before, unless that is not here any more: then nothing does. */
const BEFORE: Record<Column, string> = {
  stage_id: `(select s.id from stage s where s.workspace_id = :workspace and s.id = bp.before ->> 'value')`,
  owner_id: `(select a.id from account a where a.id = bp.before ->> 'value')`,
};

export async function unsetSlice(
  scope: Scope,
  slice: Slice,
  column: Column,
  value: string | null,
): Promise<void> {
  const back = await scope.run(
    `update person p set ${column} = ${BEFORE[column]} from batch_person bp where ${IN_SLICE} and bp.outcome is null and p.id = bp.person_id
        and ${HERE} and p.${column} is not distinct from :value`,
    { ...PARTS(slice), value },
  );
  await keptBack(scope, slice, slice.to - slice.from - back);
}

export const sliceIds = async (scope: Scope, slice: Slice): Promise<string[]> => {
  const rows = await scope.rows<{ person_id: string }>(
    `select bp.person_id from batch_person bp join person p on p.id = bp.person_id where ${IN_SLICE} and ${HERE} order by bp.seq`,
    PARTS(slice),
  );
  return rows.map((row) => row.person_id);
};

export const markOutcome = (
  scope: Scope,
  slice: Slice,
  ids: readonly string[],
  outcome: 'already' | 'failed',
  reason: string | null,
): Promise<number> =>
  scope.run(
    `update batch_person bp set outcome = :outcome, reason = :reason where ${IN_SLICE} and bp.person_id = any(:ids::text[])`,
    { ...PARTS(slice), ids, outcome, reason },
  );

/** Commits how far a batch is. */
export const advance = (
  scope: Scope,
  id: string,
  values: {
    state: BatchState;
    cursor: number;
    undoCursor: number;
    nextAt: Date;
    finishedAt: Date | null;
    at: Date;
  },
): Promise<number> =>
  scope.run(
    `update batch set state = :state, cursor = :cursor, undo_cursor = :undoCursor, next_at = :nextAt, updated_at = :at,
            finished_at = coalesce(:finishedAt::timestamptz, finished_at),
            failed = (select count(*) from batch_person bp where bp.workspace_id = :workspace and bp.batch_id = :id and bp.outcome = 'failed')
      where workspace_id = :workspace and id = :id`,
    { id, ...values },
  );

export interface BatchPersonRow {
  person_id: string;
  address: string | null;
  first_name: string | null;
  last_name: string | null;
  outcome: string | null;
  reason: string | null;
  seq: number;
}

/** People of a batch by what became of them: done, waiting, already so, or failed. */
export const batchPeople = (
  scope: Scope,
  batchId: string,
  what: 'all' | 'done' | 'waiting' | 'already' | 'failed',
  cursor: number,
  most: number,
): Promise<BatchPersonRow[]> =>
  scope.rows<BatchPersonRow>(
    `select bp.person_id, ${CALLED} as address, p.first_name, p.last_name, bp.outcome, bp.reason, bp.seq
       from batch_person bp join person p on p.id = bp.person_id
      where bp.workspace_id = :workspace and bp.batch_id = :batchId and case :what
              when 'all' then true when 'done' then bp.seq <= :cursor and bp.outcome is null when 'waiting' then bp.seq > :cursor else bp.outcome = :what end
      order by bp.seq limit :most`,
    { batchId, what, cursor, most },
  );

export const outcomeCounts = async (
  scope: Scope,
  batchId: string,
): Promise<{ already: number; failed: number; reasons: { reason: string; n: number }[] }> => {
  const rows = await scope.rows<{ outcome: string; reason: string | null; n: number }>(
    `select outcome, reason, count(*)::int as n from batch_person where workspace_id = :workspace and batch_id = :batchId and outcome is not null group by 1, 2 order by 3 desc`,
    { batchId },
  );
  const withOutcome = (outcome: string) => rows.filter((row) => row.outcome === outcome);
  const sum = (some: typeof rows) => some.reduce((n, row) => n + row.n, 0);
  return {
    already: sum(withOutcome('already')),
    failed: sum(withOutcome('failed')),
    reasons: withOutcome('failed').map(({ reason, n }) => ({ reason: reason ?? 'no reason given', n })),
  };
};
