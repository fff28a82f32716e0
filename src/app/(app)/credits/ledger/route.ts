import { may } from '@/core/access/roles';
import { ENTRY_WORDS } from '@/core/credits/ledger';
import { csvLine } from '@/core/export/csv';
import { entryPages, type EntryRow } from '@/services/credits/screen';
import { textStream } from '@/services/kit/text-stream';
import { withWorkspace } from '@/services/runtime';
import { currentSession } from '../../../session';

const COLUMNS = ['id', 'at', 'what', 'credits', 'left', 'messages', 'channel', 'program', 'send', 'for'];

/** The whole ledger as CSV, the latest first, a page at a time. */
export async function GET(): Promise<Response> {
  const session = await currentSession();
  if (!session || !may(session.role, 'send')) return new Response('Sign in again.', { status: 401 });
  const body = textStream(
    entryPages((work) => withWorkspace(session.workspaceId, work)),
    lineOf,
    { head: `\uFEFF${csvLine(COLUMNS)}` },
  );
  return new Response(body, {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': 'attachment; filename="credits.csv"',
      'cache-control': 'no-store',
    },
  });
}

const lineOf = (row: EntryRow): string =>
  csvLine([
    ...[String(row.id), row.at.toISOString(), ENTRY_WORDS[row.kind].word, String(row.delta)],
    ...[String(row.left), String(row.texts), row.channel ?? '', row.program ?? ''],
    ...[row.send ?? '', row.reason],
  ]);
