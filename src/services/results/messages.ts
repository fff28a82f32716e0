import type { MikroORM } from '@mikro-orm/postgresql';
import { csvLine } from '@/core/export/csv';
import { toIso } from '@/core/shared/instant';
import { toJson } from '@/db/kit/json';
import { inWorkspace } from '@/db/kit/scope';
import { messageRows, type MessageRow } from '@/db/results/messages';
import { textStream } from '@/services/kit/text-stream';
import { instantsOf, type Asked } from './asked';
import type { TableFile } from './export';

export const MESSAGE_FORMATS = ['csv', 'jsonl'] as const;
export type MessageFormat = (typeof MESSAGE_FORMATS)[number];

const PAGE = 2_000;
const iso = (at: Date | null): string => (at === null ? '' : toIso(at.getTime()));

/** The columns of the file, each with what stands in it. Those of addresses and numbers stay as they are. */
const COLUMNS: readonly [title: string, cell: (row: MessageRow) => string][] = [
  ['id', ({ id }) => id],
  ['address', ({ address }) => address],
  ['from', ({ from }) => from ?? ''],
  ['person', (row) => row.person_id],
  ['channel', ({ channel }) => channel],
  ['kind', ({ kind }) => kind],
  ['program', ({ program }) => program],
  ['send', ({ send }) => send ?? ''],
  ['words', ({ body }) => body],
  ['state', ({ state }) => state],
  ['failure', ({ failure }) => failure ?? ''],
  ['parts', ({ parts }) => String(parts)],
  ['credits', ({ credits }) => String(credits)],
  ['made', (row) => iso(row.created_at)],
  ['left', (row) => iso(row.left_at)],
  ['settled', (row) => iso(row.settled_at)],
];
const NUMBERS = [1, 2];

/** Every message that was made on some days, whatever became of it: a line each, written while it is read. */
export function messagesFile(
  orm: MikroORM,
  workspaceId: string,
  asked: Pick<Asked, 'span' | 'zone'>,
  format: MessageFormat,
): Omit<TableFile, 'body'> & { body: ReadableStream<Uint8Array> } {
  const pages = pagesOf(orm, workspaceId, instantsOf(asked));
  const name = `messages-${asked.span.from}.${format}`;
  if (format === 'jsonl')
    return {
      ...{ name, type: 'application/jsonl' },
      body: textStream(pages, (row) => `${toJson(row)}\n`),
    };
  return {
    ...{ name, type: 'text/csv; charset=utf-8' },
    body: textStream(
      pages,
      (row) =>
        csvLine(
          COLUMNS.map(([, cell]) => cell(row)),
          NUMBERS,
        ),
      { head: `\uFEFF${csvLine(COLUMNS.map(([title]) => title))}` },
    ),
  };
}

async function* pagesOf(
  orm: MikroORM,
  workspaceId: string,
  days: { from: Date; until: Date },
): AsyncGenerator<MessageRow[]> {
  for (let after = ''; ;) {
    const from = after;
    const page = await inWorkspace(orm, workspaceId, (scope) =>
      messageRows(scope, { ...days, after: from, most: PAGE }),
    );
    if (page.length === 0) return;
    yield page;
    after = page.at(-1)!.id;
  }
}
