'use server';
import { redirect } from 'next/navigation';
import { NewLanguageInput, ChatTemplateInput, ChatWordingInput } from '@/services/chat/inputs';
import {
  addLanguage,
  archiveTemplate,
  changeWording,
  createTemplate,
  handIn,
  newVersion,
  withdrawWording,
} from '@/services/chat/templates';
import { readInput } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import type { WordingOutcome, WordingValues } from '@/ui/chat/template-desk';
import { pressOf } from '../../../press-of';
import { actorOf, change } from '../../../session';
import { field, filled, stateOf, typed } from '../../form-result';

export async function createTemplateAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const input = await readInput(ChatTemplateInput, filled(values));
  if (!input.ok) return stateOf(input, values, '');
  const result = await change(
    'send',
    (scope, session, ctx) => createTemplate(ctx, scope, input.value, actorOf(session)),
    pressOf(data),
  );
  if (!result.ok) return stateOf(result, values, '');
  redirect(`/sends/chat-templates/${result.value.id}`);
}

export async function keepWordingAction(values: WordingValues, press: string): Promise<WordingOutcome> {
  const { header, body, footer, buttons } = values.words;
  const input = await readInput(ChatWordingInput, {
    ...{ header, body, footer, buttons, samples: values.samples, stamp: values.stamp },
  });
  if (!input.ok) return { problems: input.reason.problems, stamp: null };
  const result = await change(
    'send',
    async (scope, _, ctx) => {
      const changed = await changeWording(ctx, scope, String(values.id), input.value);
      // What is remembered of a press is its id alone: the stamp is known from what was sent.
      return changed;
    },
    press,
  );
  return result.ok
    ? { problems: [], stamp: values.stamp + 1 }
    : { problems: result.reason.problems, stamp: null };
}

export async function handInAction(id: string, press: string): Promise<WordingOutcome> {
  const result = await change(
    'send',
    (scope, session, ctx) => handIn(ctx, scope, String(id), actorOf(session)),
    press,
  );
  return { problems: result.ok ? [] : result.reason.problems, stamp: null };
}

export async function newVersionAction(_: FormState, data: FormData): Promise<FormState> {
  const result = await change(
    'send',
    (scope, session, ctx) => newVersion(ctx, scope, field(data, 'wording'), actorOf(session)),
    pressOf(data),
  );
  if (!result.ok) return stateOf(result, {}, '');
  redirect(`/sends/chat-templates/${field(data, 'template')}?wording=${result.value.id}`);
}

export async function addLanguageAction(_: FormState, data: FormData): Promise<FormState> {
  const input = await readInput(NewLanguageInput, { language: field(data, 'language').trim() });
  if (!input.ok) return stateOf(input, typed(data), '');
  const template = field(data, 'template');
  const result = await change(
    'send',
    (scope, session, ctx) => addLanguage(ctx, scope, template, input.value.language, actorOf(session)),
    pressOf(data),
  );
  if (!result.ok) return stateOf(result, typed(data), '');
  redirect(`/sends/chat-templates/${template}?wording=${result.value.id}`);
}

export async function withdrawAction(_: FormState, data: FormData): Promise<FormState> {
  const result = await change(
    'send',
    (scope, session, ctx) => withdrawWording(ctx, scope, field(data, 'wording'), actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, {}, 'Withdrawn. The network is told.');
}

export async function archiveAction(_: FormState, data: FormData): Promise<FormState> {
  const result = await change(
    'send',
    (scope, session, ctx) => archiveTemplate(ctx, scope, field(data, 'template'), actorOf(session)),
    pressOf(data),
  );
  if (!result.ok) return stateOf(result, {}, '');
  redirect('/sends/chat-templates');
}
