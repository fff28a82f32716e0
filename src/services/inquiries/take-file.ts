import { findHeader } from '@/core/import/columns';
import { cleanTree } from '@/core/inquiry/read-body';
import { ok, type Result } from '@/core/shared/result';
import { Source } from '@/db/inquiries/entities';
import type { Scope } from '@/db/kit/scope';
import { detectEncoding, detectFormat, UnreadableFile } from '@/gateways/files/detect';
import type { FileRow } from '@/gateways/files/file-row';
import { fileRows } from '@/gateways/files/rows';
import type { Context } from '@/services/kit/context';
import { invalid, notFound, type Refusal } from '@/services/kit/validation';
import { keepArrival } from './intake';

/** More than that is no list of inquiries, but an import. */
const MOST_ROWS = 5_000;

/**
 * Takes in a file of inquiries, one a row: each is an arrival like those that come by themselves, read as the source is mapped. A row
 * that stood in a file of the same day counts once. Gives how many rows there are.
 */
export async function takeFile(
  ctx: Context,
  scope: Scope,
  sourceId: string,
  bytes: Uint8Array,
): Promise<Result<number, Refusal>> {
  const source = await scope.em.findOne(Source, { id: sourceId });
  if (!source) return notFound('source');
  if (source.closedAt !== null) return invalid('file', 'file: this source is closed. Open it first.');
  const read = await rowsIn(bytes);
  if (!read.ok) return read;
  const header = findHeader(read.value.map(({ cells }) => cells));
  if (header < 0)
    return invalid(
      'file',
      'file: no row names the columns. Put one above the inquiries, such as name, phone, message.',
    );
  const names = read.value[header]!.cells.map((cell, i) => cell.trim() || `column ${i + 1}`);
  const rows = read.value.slice(header + 1);
  await Promise.all(
    rows.map(({ cells }) =>
      keepArrival(
        ctx,
        { id: sourceId, workspace_id: scope.workspaceId },
        {
          ...{ format: 'row', deliveryId: null },
          content: cleanTree(Object.fromEntries(names.map((name, i) => [name, cells[i]?.trim() ?? '']))),
        },
      ),
    ),
  );
  return ok(rows.length);
}

async function rowsIn(bytes: Uint8Array): Promise<Result<FileRow[], Refusal>> {
  const open = async function* () {
    yield await Promise.resolve(bytes);
  };
  const rows: FileRow[] = [];
  try {
    const reading = { format: detectFormat(bytes), encoding: detectEncoding(bytes), delimiter: null };
    for await (const some of fileRows(open, reading)) {
      rows.push(...some);
      if (rows.length > MOST_ROWS + 1)
        return invalid('file', `file: has more than ${MOST_ROWS} rows. Import it under People instead.`);
    }
  } catch (error) {
    if (error instanceof UnreadableFile) return invalid('file', `file: ${error.message}`);
    throw error;
  }
  return ok(rows);
}
