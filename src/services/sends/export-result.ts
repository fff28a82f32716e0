import type { MikroORM } from '@mikro-orm/postgresql';
import { letterOf } from '@/core/broadcast/wordings';
import { csvLine } from '@/core/export/csv';
import { toIso } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { toJson } from '@/db/kit/json';
import { inWorkspace } from '@/db/kit/scope';
import { Broadcast } from '@/db/sends/entities';
import { outcomeRows, type OutcomeRow } from '@/db/sends/outcomes';
import { textStream } from '@/services/kit/text-stream';
import { textWorkbook } from '@/services/kit/workbook';
import { invalid, notFound, type Refusal } from '@/services/kit/validation';

export const RESULT_FORMATS = ['csv', 'xlsx', 'json'] as const;
export type ResultFormat = (typeof RESULT_FORMATS)[number];

export interface ResultFile {
  type: string;
  name: string;
  body: ReadableStream<Uint8Array> | Uint8Array;
}

const PAGE = 2_000;
const MOST_XLSX = 100_000;

const iso = (at: Date | null): string => (at === null ? '' : toIso(at.getTime()));

/** The columns of the file, each with what stands in it. */
const COLUMNS: readonly [title: string, cell: (row: OutcomeRow) => string][] = [
  ['Address', (row) => row.address],
  ['First name', (row) => row.first_name ?? ''],
  ['Last name', (row) => row.last_name ?? ''],
  ['State', (row) => row.state],
  ['Why it failed', (row) => row.failure ?? ''],
  ['Why it did not go', (row) => (row.state === 'blocked' ? row.reasons.join(', ') : '')],
  ['Wording', (row) => (row.wording === null ? '' : letterOf(row.wording))],
  ['From', (row) => row.sender ?? ''],
  ['Left', (row) => iso(row.submitted_at)],
  ['Settled', (row) => iso(row.settled_at)],
  ['Parts', (row) => String(row.parts)],
  ['Credits', (row) => String(row.submitted_at ? row.credits : 0)],
  ['Replied', (row) => yes(row.replied)],
  ['Clicked', (row) => yes(row.clicked)],
  ['Opted out', (row) => yes(row.left)],
];

const yes = (is: boolean): string => (is ? 'yes' : '');

/** Somebody of a broadcast, as JSON. */
export const outcomeObject = (row: OutcomeRow) => ({
  ...{ person: row.person_id, address: row.address, first_name: row.first_name, last_name: row.last_name },
  ...{ state: row.state, failure: row.failure, reasons: row.reasons, from: row.sender },
  wording: row.wording === null ? null : letterOf(row.wording),
  ...{ left_at: row.submitted_at, settled_at: row.settled_at, parts: row.parts },
  credits: row.submitted_at ? row.credits : 0,
  ...{ replied: row.replied, clicked: row.clicked, opted_out: row.left },
});

/** Everybody of a broadcast and what became of it, as a file; a workbook is made whole, so it holds fewer. */
export async function exportResult(
  orm: MikroORM,
  workspaceId: string,
  id: string,
  format: ResultFormat,
): Promise<Result<ResultFile, Refusal>> {
  const broadcast = await inWorkspace(orm, workspaceId, (scope) => scope.em.findOne(Broadcast, { id }));
  if (!broadcast) return notFound('broadcast');
  const name = `result-${id}.${format}`;
  const pages = pagesOf(orm, workspaceId, id);
  const header = COLUMNS.map(([title]) => title);
  const cells = (row: OutcomeRow) => COLUMNS.map(([, cell]) => cell(row));
  if (format === 'csv') {
    return ok({
      type: 'text/csv; charset=utf-8',
      name,
      body: textStream(pages, (row) => csvLine(cells(row), [0, 7]), { head: `\uFEFF${csvLine(header)}` }),
    });
  }
  if (format === 'json') {
    const line = (row: OutcomeRow, nth: number) => `${nth === 0 ? '' : ','}\n${toJson(outcomeObject(row))}`;
    return ok({
      type: 'application/json',
      name,
      body: textStream(pages, line, { head: '[', foot: '\n]\n' }),
    });
  }
  const rows: OutcomeRow[] = [];
  for await (const page of pages) {
    rows.push(...page);
    if (rows.length > MOST_XLSX)
      return invalid('format', 'format: a workbook holds at most 100,000 people. Take CSV.');
  }
  return textWorkbook(name, [header, ...rows.map(cells)]);
}

async function* pagesOf(orm: MikroORM, workspaceId: string, id: string): AsyncGenerator<OutcomeRow[]> {
  for (let after = ''; ;) {
    const from = after;
    const page = await inWorkspace(orm, workspaceId, (scope) =>
      outcomeRows(scope, { id, after: from, most: PAGE }),
    );
    if (page.length === 0) return;
    yield page;
    after = page[page.length - 1]!.id;
  }
}
