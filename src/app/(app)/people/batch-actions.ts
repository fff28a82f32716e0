'use server';
import { pressOf } from '../../press-of';
import { createBatch, stopBatch, undoBatch } from '@/services/batches/batches';
import { findOrMakeLabel } from '@/services/people/labels';
import { BatchInput } from '@/services/batches/inputs';
import { readInput } from '@/services/kit/validation';
import type { BatchOrder, BatchOutcome } from '@/ui/batches/batch-bar';
import type { FormState } from '@/ui/kit/form-state';
import { instantOfLocal } from '../../draft-question';
import { actorOf, change, requireSession } from '../../session';
import { sentence, stateOf, typed } from '../form-result';

const ACTION_OF: Record<string, BatchInput['action']> = {
  tag: 'add-label',
  list: 'add-label',
  untag: 'take-label',
  unlist: 'take-label',
  stage: 'stage',
  owner: 'owner',
  'opt-out': 'opt-out',
  sequence: 'sequence',
  write: 'keep',
  voicemail: 'keep',
  delete: 'delete',
};

/** What goes on where broadcasts are written. */
const WRITES: ReadonlySet<string> = new Set(['write', 'voicemail']);

const NAMES: Record<string, string> = {
  tag: 'Tag',
  untag: 'Untag',
  list: 'On a list',
  unlist: 'Off a list',
  stage: 'Stage',
  owner: 'Owner',
  'opt-out': 'Opt out',
  sequence: 'Into a sequence',
  write: 'To write to',
  voicemail: 'To leave a voicemail',
  delete: 'Delete',
};

export async function startBatch(order: BatchOrder): Promise<BatchOutcome> {
  if (order.deed === 'merge' && order.meant.kind === 'ids')
    return { problem: null, go: `/people/duplicates/${order.meant.ids.join('/')}` };
  const session = await requireSession();
  const { meant, deed } = order;
  const at = order.when === 'at' ? instantOfLocal(order.at, session.workspaceZone) : null;
  if (order.when === 'at' && at === null) return { problem: 'Choose a day and a time.' };
  const result = await change(
    WRITES.has(deed) ? 'send' : 'edit-people',
    async (scope, _, ctx) => {
      const isNew = deed === 'tag' || deed === 'list';
      const label = isNew ? await findOrMakeLabel(ctx, scope, deed, order.thing, session.accountId) : null;
      if (label && !label.ok) return label;
      const thing = label?.ok ? label.value.id : order.thing;
      const named =
        order.name.trim() || [NAMES[deed], isNew ? order.thing.trim() : ''].filter(Boolean).join(': ');
      const input = await readInput(BatchInput, {
        name: named,
        action: ACTION_OF[deed],
        ...(thing === '' ? {} : { id: thing }),
        ...(meant.kind === 'ids'
          ? { people: meant.ids }
          : { condition: meant.condition, search: meant.search }),
        ...(at === null ? {} : { at: new Date(at).toISOString() }),
        ...(order.when === 'slowly'
          ? { pace_count: order.pace.count, pace_seconds: order.pace.minutes * 60 }
          : {}),
        ...(deed === 'delete' ? { confirm_count: Number(order.typedCount.replace(/\D/g, '') || '0') } : {}),
      });
      return input.ok ? createBatch(ctx, scope, input.value, actorOf(session)) : input;
    },
    order.press,
  );
  if (!result.ok) return { problem: sentence(result.reason) };
  const { id, name } = result.value;
  return WRITES.has(deed)
    ? {
        problem: null,
        id,
        name,
        go: `/sends/new?audience=${encodeURIComponent(JSON.stringify({ ask: 'batch', id, has: true }))}${deed === 'voicemail' ? '&channel=voicemail' : ''}`,
      }
    : { problem: null, id, name };
}

export async function stopBatchAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '' } = typed(data);
  const result = await change(
    'edit-people',
    (scope, session, ctx) => stopBatch(ctx, scope, id, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, {}, 'Stopped.');
}

export async function undoBatchAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '' } = typed(data);
  const result = await change(
    'edit-people',
    (scope, session, ctx) => undoBatch(ctx, scope, id, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, {}, 'Undoing.');
}
