import type { MikroORM } from '@mikro-orm/postgresql';
import { targetWords } from '@/core/import/columns';
import type { Verdict } from '@/core/import/decide';
import { csvLine } from '@/core/export/csv';
import { importRow, importRows, type ImportRow } from '@/db/imports/imports';
import { meantRows, shownRows, type ShownRow } from '@/db/imports/import-rows';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { ownFields } from '@/services/audience/own-fields';
import { Label, Stage } from '@/db/people/entities';
import { calledTeammates } from '@/db/imports/import-people';
import { Program } from '@/db/programs/entities';

const MOST = 30;
const MOST_ROWS = 200;

export const VERDICTS: readonly Verdict[] = [
  'add',
  'update',
  'same',
  'another-name',
  'left-alone',
  'left',
  'opted-out',
  'duplicate',
  'invalid',
];

export async function readImports(
  scope: Scope,
  before: string,
): Promise<{ rows: (ImportRow & { by: string | null })[]; next: string | null }> {
  const rows = await importRows(scope, before, MOST + 1);
  return { rows: rows.slice(0, MOST), next: rows.length > MOST ? rows[MOST - 1]!.id : null };
}

export interface ImportScreen {
  row: ImportRow;
  rows: ShownRow[];
  /** Rows under another name that were said to be meant. */
  meant: number;
  programs: { id: string; name: string }[];
  own: { key: string; label: string }[];
  /** Stages and teammates by id, as changes name them. */
  names: Record<string, string>;
  tags: string[];
  lists: string[];
  /** An earlier import of the very same file. */
  twin: { id: string; name: string; at: Date } | null;
}

export async function readImport(scope: Scope, id: string, verdict: string): Promise<ImportScreen | null> {
  const row = await importRow(scope, id);
  if (!row) return null;
  const labels = await scope.em.find(Label, {});
  const [twin] = await scope.rows<{ id: string; name: string; at: Date }>(
    `select id, name, created_at as at from import where workspace_id = :workspace and digest = :digest and id < :id
        and state in ('running', 'finished', 'stopped') order by id desc limit 1`,
    { digest: row.digest, id },
  );
  const known = VERDICTS.find((one) => one === verdict) ?? '';
  return {
    row,
    rows:
      row.state === 'draft' || row.state === 'checking'
        ? []
        : await shownRows(scope, id, known, 0, MOST_ROWS),
    meant: row.state === 'checked' ? await meantRows(scope, id) : 0,
    programs: (await scope.em.find(Program, { archivedAt: null }, { orderBy: { id: 'asc' } })).map(
      ({ id, name }) => ({ id, name }),
    ),
    own: (await ownFields(scope, true)).map(({ key, label }) => ({ key, label })),
    names: Object.fromEntries([
      ...(await scope.em.find(Stage, {})).map((stage) => [stage.id, stage.name]),
      ...(await calledTeammates(scope)).map((teammate) => [teammate.id, teammate.name]),
    ]) as Record<string, string>,
    tags: namesOf(labels, 'tag'),
    lists: namesOf(labels, 'list'),
    twin: twin ?? null,
  };
}

const AT_ONCE = 2_000;

/** The validation file, streamed: line number, number, what it is, the reason, what becomes of it. */
export async function validationFile(
  orm: MikroORM,
  workspaceId: string,
  id: string,
): Promise<{ body: ReadableStream<Uint8Array> } | null> {
  if (!(await inWorkspace(orm, workspaceId, (scope) => importRow(scope, id)))) return null;
  const encoder = new TextEncoder();
  let after = 0;
  return {
    body: new ReadableStream({
      start(controller) {
        controller.enqueue(
          encoder.encode(`\uFEFF${csvLine(['row', 'number', 'finding', 'what', 'note', 'undone'])}`),
        );
      },
      async pull(controller) {
        const rows = await inWorkspace(orm, workspaceId, (scope) => shownRows(scope, id, '', after, AT_ONCE));
        if (rows.length === 0) return controller.close();
        after = rows.at(-1)!.line;
        const lines = rows.map((row) =>
          csvLine(
            [
              String(row.line),
              row.address ?? '',
              row.reason,
              VERDICT_WORDS[row.verdict],
              row.told ?? '',
              row.undone ?? '',
            ],
            [1],
          ),
        );
        controller.enqueue(encoder.encode(lines.join('')));
      },
    }),
  };
}

const VERDICT_WORDS: Record<Verdict, string> = {
  add: 'added',
  update: 'updated',
  same: 'already so',
  'left-alone': 'left as they are',
  left: 'opted out by this file',
  'opted-out': 'opted out, not touched',
  duplicate: 'left out',
  invalid: 'left out',
  'another-name': 'another name, not touched',
};

/** What a change is of: a field by its label, never by its key. */
export const targetLabel = (name: string, own: readonly { key: string; label: string }[]): string =>
  name.startsWith('further.') ? 'another address' : targetWords(name.replace(/_id$/, ''), own);

const namesOf = (labels: readonly Label[], wanted: Label['kind']): string[] =>
  labels
    .filter(({ kind }) => kind === wanted)
    .map(({ name }) => name)
    .sort((a, b) => a.localeCompare(b, 'en', { sensitivity: 'base' }));
