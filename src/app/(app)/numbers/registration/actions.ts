'use server';
import type { RegistrationAbout } from '@/core/registration/file';
import { readInput } from '@/services/kit/validation';
import { checkRegistrarAgain, connectRegistrar, removeRegistrar } from '@/services/registration/accounts';
import { answerQuestion, callBack, handIn } from '@/services/registration/applications';
import { keepBrand, keepProgramFile } from '@/services/registration/files';
import {
  AnswerQuestionInput,
  BrandInput,
  ConnectRegistrarInput,
  ProgramFileInput,
} from '@/services/registration/inputs';
import type { FormState } from '@/ui/kit/form-state';
import type { Problems } from '@/ui/kit/labelled';
import { pressOf } from '../../../press-of';
import { actorOf, change } from '../../../session';
import { field, stateOf, typed } from '../../form-result';

export async function connectRegistrarAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const { token: __, ...shown } = values;
  const input = await readInput(ConnectRegistrarInput, values);
  if (!input.ok) return stateOf(input, shown, '');
  return stateOf(
    await change(
      'manage-keys',
      (scope, session, ctx) => connectRegistrar(ctx, scope, input.value, actorOf(session)),
      pressOf(data),
    ),
    shown,
    'Connected. What the registrar says of it stands here in a moment.',
  );
}

export async function checkRegistrarAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change('manage-keys', (scope, _session, ctx) =>
      checkRegistrarAgain(ctx, scope, field(data, 'account')),
    ),
    {},
    'Asked.',
  );
}

export async function removeRegistrarAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change(
      'manage-keys',
      (scope, session, ctx) => removeRegistrar(ctx, scope, field(data, 'account'), actorOf(session)),
      pressOf(data),
    ),
    {},
    'Taken away.',
  );
}

export async function handInAction(_: FormState, data: FormData): Promise<FormState> {
  const subject = { about: field(data, 'about') as RegistrationAbout, id: field(data, 'subject') };
  return stateOf(
    await change(
      'edit-programs',
      (scope, session, ctx) => handIn(ctx, scope, subject, actorOf(session)),
      pressOf(data),
    ),
    {},
    'Handed in.',
  );
}

export async function takeBackAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change(
      'edit-programs',
      (scope, session, ctx) => callBack(ctx, scope, field(data, 'id'), actorOf(session)),
      pressOf(data),
    ),
    {},
    'Taken back.',
  );
}

export async function answerQuestionAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const input = await readInput(AnswerQuestionInput, { answer: values.answer ?? '' });
  if (!input.ok) return stateOf(input, values, '');
  return stateOf(
    await change(
      'edit-programs',
      (scope, session, ctx) =>
        answerQuestion(ctx, scope, values.id ?? '', input.value.answer, actorOf(session)),
      pressOf(data),
    ),
    values,
    'Answered.',
  );
}

export async function keepBrandAction(given: object, press: string): Promise<Problems> {
  const input = await readInput(BrandInput, given);
  if (!input.ok) return { problems: input.reason.problems };
  const kept = await change(
    'manage-keys',
    (scope, session, ctx) => keepBrand(ctx, scope, input.value, actorOf(session)),
    press,
  );
  return { problems: kept.ok ? [] : kept.reason.problems };
}

export async function keepProgramFileAction(id: string, given: object, press: string): Promise<Problems> {
  const input = await readInput(ProgramFileInput, given);
  if (!input.ok) return { problems: input.reason.problems };
  const kept = await change(
    'edit-programs',
    (scope, session, ctx) => keepProgramFile(ctx, scope, id, input.value, actorOf(session)),
    press,
  );
  return { problems: kept.ok ? [] : kept.reason.problems };
}
