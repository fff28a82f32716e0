import type { Changes, Finding, Verdict } from '@/core/import/decide';
import type { RowPerson } from '@/core/import/row';
import { toJson } from '@/db/kit/json';
import type { Scope } from '@/db/kit/scope';

export interface CheckedRow {
  line: number;
  verdict: Verdict;
  number: string | null;
  /** Of a row without a number. */
  email: string | null;
  /** Of a row with neither. */
  chat: string | null;
  personId: string | null;
  lineType: string | null;
  finding: Finding;
  told: string | null;
  data: Omit<RowPerson, 'number' | 'told'> | null;
  changes: Changes | null;
  /** It says that they left, or want no texts; which counts of a row too that says it of somebody for the second time. */
  left: boolean;
}

export const insertRows = (scope: Scope, importId: string, rows: readonly CheckedRow[]): Promise<number> =>
  scope.run(
    `insert into import_row (workspace_id, import_id, line, verdict, number, email, chat, person_id, line_type, reason, told, data, changes, says_left)
     select :workspace, :importId, u.line, u.verdict, u.number, u.email, u.chat, u."personId", u."lineType", u.finding, u.told, u.data, u.changes, u."left"
       from json_to_recordset(:rows::json) as u (line int, verdict text, number text, email text, chat text, "personId" text, "lineType" text, finding text, told text, data jsonb, changes jsonb, "left" boolean)`,
    { importId, rows: toJson(rows) },
  );

export interface StoredRow {
  line: number;
  verdict: Verdict;
  number: string | null;
  email: string | null;
  chat: string | null;
  person_id: string | null;
  line_type: string | null;
  data: Omit<RowPerson, 'number' | 'told'>;
  changes: Changes | null;
  choice: 'take' | 'leave' | null;
}

/** Rows to be carried out, after a line. */
export const rowsToDo = (scope: Scope, importId: string, after: number, most: number): Promise<StoredRow[]> =>
  scope.rows<StoredRow>(
    `select line, verdict, number, email, chat, person_id, line_type, data, changes, choice from import_row
      where workspace_id = :workspace and import_id = :importId and line > :after and verdict in ('add', 'update', 'same', 'another-name', 'left') order by line limit :most`,
    { importId, after, most },
  );

/** By what those are known of whom a row that is left out says that they left: the row before it says nothing of it. */
export const leftInDuplicates = (
  scope: Scope,
  importId: string,
): Promise<Pick<StoredRow, 'number' | 'email' | 'chat'>[]> =>
  scope.rows(
    `select number, email, chat from import_row where workspace_id = :workspace and import_id = :importId and says_left and verdict = 'duplicate'`,
    { importId },
  );

/** Tags, or lists, that stand in the rows themselves, each once. */
export const labelsOfRows = async (
  scope: Scope,
  importId: string,
  key: 'tags' | 'lists',
): Promise<string[]> =>
  (
    await scope.rows<{ label: string }>(
      `select distinct t.label from import_row r, jsonb_array_elements_text(coalesce(r.data -> :key, '[]')) t (label)
        where r.workspace_id = :workspace and r.import_id = :importId and r.verdict in ('add', 'update', 'same', 'another-name') order by 1`,
      { importId, key },
    )
  ).map(({ label }) => label);

/** Says of one row, or of all, whether it is about whoever has its number under another name. Gives how many. */
export const chooseNames = (
  scope: Scope,
  importId: string,
  line: number | null,
  choice: 'take' | 'leave',
): Promise<number> =>
  scope.run(
    `update import_row set choice = :choice where workspace_id = :workspace and import_id = :importId
        and verdict = 'another-name' and (:line::int is null or line = :line)`,
    { importId, line, choice },
  );

/** How many rows under another name were said to be meant. */
export const meantRows = async (scope: Scope, importId: string): Promise<number> =>
  (
    await scope.rows<{ n: number }>(
      `select count(*)::int as n from import_row
        where workspace_id = :workspace and import_id = :importId and verdict = 'another-name' and choice = 'take'`,
      { importId },
    )
  )[0]!.n;

/** Rows that turned out otherwise than the trial said. */
export const correctRows = (
  scope: Scope,
  importId: string,
  rows: readonly {
    line: number;
    verdict: Verdict;
    personId: string | null;
    changes: Changes | null;
    finding: Finding;
  }[],
): Promise<number> =>
  rows.length === 0
    ? Promise.resolve(0)
    : scope.run(
        `update import_row r set verdict = u.verdict, person_id = u.person, changes = u.changes, reason = u.finding
           from unnest(:lines::int[], :verdicts::text[], :people::text[], :changes::jsonb[], :findings::text[]) as u (line, verdict, person, changes, finding)
          where r.workspace_id = :workspace and r.import_id = :importId and r.line = u.line`,
        {
          importId,
          lines: rows.map(({ line }) => line),
          verdicts: rows.map(({ verdict }) => verdict),
          people: rows.map(({ personId }) => personId),
          changes: rows.map(({ changes }) => changes && toJson(changes)),
          findings: rows.map(({ finding }) => finding),
        },
      );

export const countRows = (scope: Scope, id: string): Promise<number> =>
  scope.run(
    `update import set counts = (
        select coalesce(jsonb_object_agg(verdict, n), '{}') || jsonb_build_object('findings', (select coalesce(jsonb_object_agg(reason, n), '{}')
            from (select reason, count(*) as n from import_row where import_id = :id and workspace_id = :workspace group by reason) f))
          from (select verdict, count(*) as n from import_row where import_id = :id and workspace_id = :workspace group by verdict) v),
        rows = (select count(*) from import_row where import_id = :id and workspace_id = :workspace)
      where workspace_id = :workspace and id = :id`,
    { id },
  );

export interface ShownRow {
  line: number;
  verdict: Verdict;
  /** The number, else the e-mail address or the chat id of a row without one. */
  address: string | null;
  person_id: string | null;
  reason: Finding;
  told: string | null;
  changes: Changes | null;
  data: Partial<RowPerson> | null;
  undone: string | null;
  choice: 'take' | 'leave' | null;
  /** Who has the number now. */
  here: string | null;
}

export const shownRows = (
  scope: Scope,
  importId: string,
  verdict: string,
  after: number,
  most: number,
): Promise<ShownRow[]> =>
  scope.rows<ShownRow>(
    `select r.line, r.verdict, coalesce(r.number, r.email, r.chat) as address, r.person_id, r.reason, r.told, r.changes, r.data, r.undone, r.choice,
            case when r.verdict = 'another-name' then (select concat_ws(' ', p.first_name, p.last_name) from person p where p.workspace_id = :workspace and p.id = r.person_id) end as here
       from import_row r
      where r.workspace_id = :workspace and r.import_id = :importId and r.line > :after and (:verdict = '' or r.verdict = :verdict) order by r.line limit :most`,
    { importId, verdict, after, most },
  );
