import { canUndo } from '@/core/batch/batch';
import { batchWords } from '@/core/batch/words';
import {
  batchPeople,
  batchRow,
  batchRows,
  outcomeCounts,
  type BatchPersonRow,
  type BatchRow,
} from '@/db/batches/batches';
import { namesOfThings } from '@/db/audience/things';
import type { Scope } from '@/db/kit/scope';
import { endOf } from './batches';

const MOST = 40;
const MOST_PEOPLE = 200;

type Names = ReadonlyMap<string, string>;

const names = async (scope: Scope): Promise<Names> =>
  new Map((await namesOfThings(scope)).map(({ id, name }) => [id, name]));

export async function readBatches(
  scope: Scope,
  before: string,
): Promise<{ rows: (BatchRow & { by: string | null; words: string })[]; next: string | null }> {
  const known = await names(scope);
  const rows = await batchRows(scope, before, MOST + 1);
  const shown = rows
    .slice(0, MOST)
    .map((row) => ({ ...row, words: batchWords(row.action, (id) => known.get(id)) }));
  return { rows: shown, next: rows.length > MOST ? shown.at(-1)!.id : null };
}

export interface BatchScreen {
  batch: BatchRow;
  words: string;
  by: string | null;
  counts: Awaited<ReturnType<typeof outcomeCounts>>;
  people: BatchPersonRow[];
  undoable: boolean;
  end: number | null;
}

export async function readBatch(
  scope: Scope,
  id: string,
  what: Parameters<typeof batchPeople>[2],
): Promise<BatchScreen | null> {
  const batch = await batchRow(scope, id);
  if (!batch) return null;
  const known = await names(scope);
  return {
    batch,
    words: batchWords(batch.action, (id) => known.get(id)),
    by: batch.created_by ? (known.get(batch.created_by) ?? 'somebody gone') : null,
    counts: await outcomeCounts(scope, id),
    people: await batchPeople(scope, id, what, batch.cursor, MOST_PEOPLE),
    undoable: canUndo(batch.action) && (batch.state === 'finished' || batch.state === 'stopped'),
    end: batch.state === 'waiting' || batch.state === 'running' ? endOf(batch) : null,
  };
}
