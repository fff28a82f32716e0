'use server';
import { commaList } from '@/core/shared/comma-list';
import { pressOf } from '../../../press-of';
import { ok } from '@/core/shared/result';
import { renameLabel } from '@/services/people/labels';
import { addField, archiveField, changeField, moveOne } from '@/services/audience/own-fields';
import { FieldInput } from '@/services/audience/inputs';
import { addStage, removeStage, renameStage } from '@/services/people/stages';
import { notFound, readInput } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import { change, requireSession } from '../../../session';
import { stateOf, typed } from '../../form-result';

export async function addFieldAction(_: FormState, data: FormData): Promise<FormState> {
  await requireSession();
  const values = typed(data);
  const options = commaList(values.options ?? '');
  const input = await readInput(FieldInput, {
    label: values.label ?? '',
    kind: values.kind ?? 'text',
    ...(options.length > 0 ? { options } : {}),
    noted: values.noted === 'yes',
  });
  if (!input.ok) return stateOf(input, values, '');
  return stateOf(
    await change(
      'edit-people',
      (scope, session, ctx) => addField(ctx, scope, input.value, session.accountId),
      pressOf(data),
    ),
    values,
    'Added.',
  );
}

export async function fieldAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '', verb = '', name = '' } = typed(data);
  const result = await change<unknown>(
    'edit-people',
    async (scope, session, ctx) => {
      if (verb === 'rename') return changeField(ctx, scope, id, { label: name }, session.accountId);
      if (verb === 'note' || verb === 'unnote')
        return changeField(ctx, scope, id, { noted: verb === 'note' }, session.accountId);
      if (verb === 'archive' || verb === 'restore')
        return archiveField(ctx, scope, id, verb === 'archive', session.accountId);
      await moveOne(scope, 'field', id, verb === 'up');
      return ok(null);
    },
    pressOf(data),
  );
  return stateOf(result, { name }, '');
}

export async function addStageAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  return stateOf(
    await change(
      'edit-people',
      (scope, session, ctx) => addStage(ctx, scope, values.name ?? '', session.accountId),
      pressOf(data),
    ),
    values,
    'Added.',
  );
}

export async function stageAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '', verb = '', name = '' } = typed(data);
  const result = await change<unknown>(
    'edit-people',
    async (scope, session, ctx) => {
      if (verb === 'rename') return renameStage(ctx, scope, id, name, session.accountId);
      if (verb === 'remove') return removeStage(ctx, scope, id, session.accountId);
      await moveOne(scope, 'stage', id, verb === 'up');
      return ok(null);
    },
    pressOf(data),
  );
  return stateOf(result, { name }, '');
}

export async function labelAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '', verb = '', name = '' } = typed(data);
  const result = await change(
    'edit-people',
    (scope, session, ctx) =>
      verb === 'rename'
        ? renameLabel(ctx, scope, id, name, session.accountId)
        : Promise.resolve(notFound('tag or list')),
    pressOf(data),
  );
  return stateOf(result, { name }, '');
}
