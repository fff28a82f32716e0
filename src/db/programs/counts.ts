import { toJson } from '@/db/kit/json';
import type { Reading, Scope } from '@/db/kit/scope';
import type { ProgramFigures } from './programs';

/** How many consents a workspace has, in SQL; looked at no further than one more than `:most`. */
const CONSENTS = (workspace: string): string =>
  `(select count(*) from (select 1 from consent_state where workspace_id = ${workspace} and current limit :most + 1) c)`;

/** Whether a workspace has more consents than so many. */
export const consentsExceed = async (scope: Scope, most: number): Promise<boolean> =>
  (await scope.rows<{ more: boolean }>(`select ${CONSENTS(':workspace')} > :most as more`, { most }))[0]!
    .more;

/** What is kept of each program. */
export const keptFigures = (scope: Scope): Promise<(ProgramFigures & { program_id: string; at: Date })[]> =>
  scope.rows(
    `select program_id, at, members, "left", joined30, left30, sources from program_count where workspace_id = :workspace`,
  );

const LAST = (workspace: string): string =>
  `coalesce((select max(h.seq) from happening h where h.workspace_id = ${workspace}), 0)`;

/** The number of the last thing that happened in a workspace; 0: nothing is kept. */
export const lastHappening = async (scope: Scope): Promise<number> =>
  (await scope.rows<{ last: number }>(`select ${LAST(':workspace')} as last`))[0]!.last;

export const keepFigures = (
  scope: Scope,
  {
    programId,
    at,
    tookMs,
    mark,
    sources,
    ...figures
  }: ProgramFigures & { programId: string; at: Date; tookMs: number; mark: number },
): Promise<number> =>
  scope.run(
    `insert into program_count (workspace_id, program_id, at, took_ms, mark, members, "left", joined30, left30, sources)
     values (:workspace, :programId, :at, :tookMs, :mark, :members, :left, :joined30, :left30, :sources::jsonb)
     on conflict (workspace_id, program_id) do update set at = excluded.at, took_ms = excluded.took_ms, mark = excluded.mark, members = excluded.members,
       "left" = excluded.left, joined30 = excluded.joined30, left30 = excluded.left30, sources = excluded.sources`,
    { programId, at, tookMs, mark, sources: toJson(sources), ...figures },
  );

/** Milliseconds of rest for each that counting took: it takes at most a thirtieth of the database's time. */
const REST = 30;

/**
 * Programs of workspaces with more consents than `most` that are due to be counted: never counted, or something happened since,
 * or an hour passed, by which thirty days are other days. What takes long is counted less often.
 */
export const programsToCount = (
  reading: Reading,
  untroubled: string,
  { at, most, rows }: { at: Date; most: number; rows: number },
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
    `select p.id, p.workspace_id from workspace w
       cross join lateral (select ${CONSENTS('w.id')} as consents) s
       cross join lateral (select ${LAST('w.id')} as mark) h
       join program p on p.workspace_id = w.id left join program_count c on c.workspace_id = p.workspace_id and c.program_id = p.id
      where s.consents > :most and ${untroubled}
        and (c.at is null or (c.at < :at::timestamptz - interval '1 millisecond' * ${REST} * c.took_ms and (c.mark <> h.mark or c.at < :at::timestamptz - interval '1 hour')))
      order by c.at nulls first, p.id limit :rows`,
    { at, most, rows },
  );
