'use server';
import { saveColumns } from '@/services/people/people-screen';
import { SaveSegmentInput, SegmentInput } from '@/services/audience/inputs';
import {
  changeSegment,
  createSegment,
  deleteSegment,
  saveSegment,
  copySegment,
} from '@/services/audience/segments';
import { readInput } from '@/services/kit/validation';
import { ok } from '@/core/shared/result';
import type { SegmentActs, SegmentVerb } from '@/ui/audience/segment-index';
import { actorOf, change } from '../../session';
import { sentence } from '../form-result';

export async function saveSegmentAction(
  values: Parameters<SegmentActs['save']>[0],
): Promise<{ id: string | null; problem: string | null }> {
  const { id, version, ...rest } = values;
  const result = await change('edit-people', async (scope, session, ctx) => {
    const { sort, ...plain } = rest;
    const data = { ...plain, ...(sort === '' ? {} : { sort }) };
    if (id) {
      const input = await readInput(SaveSegmentInput, { ...data, version });
      return input.ok ? saveSegment(ctx, scope, id, input.value, actorOf(session)) : input;
    }
    const input = await readInput(SegmentInput, data);
    return input.ok ? createSegment(ctx, scope, input.value, actorOf(session)) : input;
  });
  return result.ok ? { id: result.value.id, problem: null } : { id: null, problem: sentence(result.reason) };
}

export async function changeSegmentAction(id: string, verb: SegmentVerb): Promise<string | null> {
  const result = await change('edit-people', async (scope, session, ctx) => {
    const actor = actorOf(session);
    if (verb.verb === 'delete') return deleteSegment(ctx, scope, id, actor);
    if (verb.verb === 'copy') return copySegment(ctx, scope, id, actor);
    return changeSegment(ctx, scope, id, verb, actor);
  });
  return result.ok ? null : sentence(result.reason);
}

export async function saveColumnsAction(columns: string[]): Promise<void> {
  await change('read', async (scope, session) => {
    await saveColumns(scope, session.accountId, columns);
    return ok(null);
  });
}
