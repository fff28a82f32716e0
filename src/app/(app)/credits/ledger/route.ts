import { may } from '@/core/access/roles';
import { ENTRY_WORDS } from '@/core/credits/ledger';
import { csvLine } from '@/core/export/csv';
import { entryPages } from '@/services/credits/screen';
import { withWorkspace } from '@/services/runtime';
import { currentSession } from '../../../session';

const COLUMNS = ['id', 'at', 'what', 'credits', 'left', 'messages', 'channel', 'program', 'send', 'for'];

/** The whole ledger as CSV, the latest first, a page at a time. */
export async function GET(): Promise<Response> {
  const session = await currentSession();
  if (!session || !may(session.role, 'send')) return new Response('Sign in again.', { status: 401 });
  const encoder = new TextEncoder();
  const pages = entryPages((work) => withWorkspace(session.workspaceId, work));
  const body = new ReadableStream({
    start: (controller) => controller.enqueue(encoder.encode(`\uFEFF${csvLine(COLUMNS)}`)),
    pull: async (controller) => {
      const next = await pages.next();
      if (next.done) return controller.close();
      controller.enqueue(
        encoder.encode(
          next.value
            .map((row) =>
              csvLine([
                ...[String(row.id), row.at.toISOString(), ENTRY_WORDS[row.kind].word, String(row.delta)],
                ...[String(row.left), String(row.texts), row.channel ?? '', row.program ?? ''],
                ...[row.send ?? '', row.reason],
              ]),
            )
            .join(''),
        ),
      );
    },
  });
  return new Response(body, {
    headers: {
      'content-type': 'text/csv; charset=utf-8',
      'content-disposition': 'attachment; filename="credits.csv"',
      'cache-control': 'no-store',
    },
  });
}
