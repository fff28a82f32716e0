import { canUndo, type BatchAction } from '@/core/batch/batch';
import { assertNever } from '@/core/shared/result';
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

/** What a batch does, in words. */
function wordsOf(action: BatchAction, known: Names): string {
  const name = (id: string | null, none: string) =>
    id === null ? none : `“${known.get(id) ?? 'something gone'}”`;
  switch (action.do) {
    case 'label':
      return `${action.on ? 'puts on' : 'takes off'} ${name(action.label, '')}`;
    case 'stage':
      return action.stage ? `moves to ${name(action.stage, '')}` : 'takes out of every stage';
    case 'owner':
      return action.owner ? `gives to ${known.get(action.owner) ?? 'somebody gone'}` : 'gives to nobody';
    case 'opt-out':
      return `opts out of ${name(action.program, '')}`;
    case 'begin':
      return `into the sequence ${name(action.sequence, '')}`;
    case 'keep':
      return 'kept to write to';
    case 'delete':
      return 'deletes for good';
    default:
      return assertNever(action);
  }
}

export async function readBatches(
  scope: Scope,
  before: string,
): Promise<{ rows: (BatchRow & { by: string | null; words: string })[]; next: string | null }> {
  const known = await names(scope);
  const rows = await batchRows(scope, before, MOST + 1);
  const shown = rows.slice(0, MOST).map((row) => ({ ...row, words: wordsOf(row.action, known) }));
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
    words: wordsOf(batch.action, known),
    by: batch.created_by ? (known.get(batch.created_by) ?? 'somebody gone') : null,
    counts: await outcomeCounts(scope, id),
    people: await batchPeople(scope, id, what, batch.cursor, MOST_PEOPLE),
    undoable: canUndo(batch.action) && (batch.state === 'finished' || batch.state === 'stopped'),
    end: batch.state === 'waiting' || batch.state === 'running' ? endOf(batch) : null,
  };
}
