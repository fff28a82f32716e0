'use server';
import { pressOf } from '../../press-of';
import { redirect } from 'next/navigation';
import { createKeyword, createProgram, removeKeyword } from '@/services/programs/create-program';
import { mergePrograms } from '@/services/programs/merge-programs';
import { changeProgram } from '@/services/programs/change-program';
import { ChangeProgramInput, CreateKeywordInput, CreateProgramInput } from '@/services/programs/inputs';
import { notFound, readInput } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import { actorOf, change, requireSession } from '../../session';
import { field, filled, stateOf, typed } from '../form-result';

export async function createProgramAction(_: FormState, data: FormData): Promise<FormState> {
  await requireSession();
  const values = typed(data);
  const { promise_count, promise_period, double_opt_in, word, ...rest } = filled(values);
  const promise = promise_count
    ? { promise: { count: Number(promise_count), period: promise_period ?? 'month' } }
    : {};
  const input = await readInput(CreateProgramInput, {
    name: '',
    ...rest,
    ...promise,
    double_opt_in: double_opt_in === 'on',
  });
  if (!input.ok)
    return stateOf(
      {
        ok: false,
        reason: {
          ...input.reason,
          problems: input.reason.problems.map((p) => ({
            ...p,
            field: p.field.replace('promise.', 'promise_'),
          })),
        },
      },
      values,
      '',
    );
  const result = await change(
    'edit-programs',
    async (scope, session, ctx) => {
      const program = await createProgram(ctx, scope, input.value, session.accountId);
      if (!program.ok || !word) return program;
      const keyword = await createKeyword(ctx, scope, { program: program.value.id, word }, session.accountId);
      return keyword.ok ? program : keyword;
    },
    pressOf(data),
  );
  if (!result.ok) return stateOf(result, values, '');
  redirect(`/programs/${result.value.id}`);
}

export async function changeProgramAction(
  id: string,
  changed: object,
  press: string,
): Promise<{ problems: { field: string; message: string }[] }> {
  const input = await readInput(ChangeProgramInput, changed);
  if (!input.ok) return { problems: input.reason.problems };
  const result = await change(
    'edit-programs',
    (scope, session, ctx) => changeProgram(ctx, scope, String(id), input.value, session.accountId),
    String(press),
  );
  return { problems: result.ok ? [] : result.reason.problems };
}

export async function mergeProgramAction(
  from: string,
  into: string,
  press: string,
): Promise<{ problems: { field: string; message: string }[] }> {
  const result = await change(
    'edit-programs',
    (scope, session, ctx) => mergePrograms(ctx, scope, String(from), String(into), actorOf(session)),
    String(press),
  );
  return { problems: result.ok ? [] : result.reason.problems };
}

export async function addKeywordAction(_: FormState, data: FormData): Promise<FormState> {
  await requireSession();
  const values = typed(data);
  const input = await readInput(CreateKeywordInput, { program: values.program, word: values.word ?? '' });
  if (!input.ok) return stateOf(input, values, '');
  return stateOf(
    await change(
      'edit-programs',
      (scope, session, ctx) => createKeyword(ctx, scope, input.value, session.accountId),
      pressOf(data),
    ),
    values,
    'It works from now on.',
  );
}

export async function removeKeywordAction(_: FormState, data: FormData): Promise<FormState> {
  const id = field(data, 'keyword');
  const result = await change(
    'edit-programs',
    async (scope, session, ctx) =>
      (await removeKeyword(ctx, scope, id, session.accountId))
        ? { ok: true as const, value: null }
        : notFound('keyword'),
    pressOf(data),
  );
  return stateOf(result, {}, 'Removed.');
}
