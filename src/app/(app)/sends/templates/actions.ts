'use server';
import { redirect } from 'next/navigation';
import { cutText } from '@/core/shared/clean-text';
import { ok } from '@/core/shared/result';
import { readInput } from '@/services/kit/validation';
import { ChangeTemplateInput, TemplateInput } from '@/services/templates/inputs';
import {
  changeTemplate,
  createTemplate,
  dropTemplate,
  importTemplates,
  takeShipped,
} from '@/services/templates/templates';
import type { FormState } from '@/ui/kit/form-state';
import type { TemplateValues } from '@/ui/templates/template-desk';
import { pressOf } from '../../../press-of';
import { actorOf, change } from '../../../session';
import { field, stateOf } from '../../form-result';

/** One more than a document may have: it is refused, not cut. */
const MOST_LETTERS = 2_000_001;

/** Keeps a template: a new one, or a change of one that was read at a version. */
export async function saveTemplateAction(
  values: TemplateValues,
  press: string,
): Promise<{ problems: { field: string; message: string }[]; id: string | null }> {
  const texts = {
    ...{ name: values.name, folder: values.folder, body: values.body, own: values.own },
    question: values.question,
    ...(values.subject.trim() === '' ? {} : { subject: values.subject }),
  };
  const result = await change(
    'send',
    async (scope, session, ctx) => {
      const actor = actorOf(session);
      if (values.id === null) {
        const input = await readInput(TemplateInput, texts);
        return input.ok ? createTemplate(ctx, scope, input.value, actor) : input;
      }
      const input = await readInput(ChangeTemplateInput, { ...texts, version: values.version });
      return input.ok ? changeTemplate(ctx, scope, String(values.id), input.value, actor) : input;
    },
    press,
  );
  return result.ok ? { problems: [], id: result.value.id } : { problems: result.reason.problems, id: null };
}

export async function dropTemplateAction(_: FormState, data: FormData): Promise<FormState> {
  const result = await change(
    'send',
    (scope, session, ctx) => dropTemplate(ctx, scope, field(data, 'template'), actorOf(session)),
    pressOf(data),
  );
  if (!result.ok) return stateOf(result, {}, '');
  redirect('/sends/templates');
}

const taken = ({ added, known }: { added: number; known: number }): string =>
  `${added} added${known > 0 ? `, ${known} were there already` : ''}.`;

export async function importTemplatesAction(_: FormState, data: FormData): Promise<FormState> {
  const file = data.get('file');
  const json = file instanceof File ? cutText(await file.text(), MOST_LETTERS) : '';
  const result = await change(
    'send',
    (scope, session, ctx) => importTemplates(ctx, scope, json, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, {}, result.ok ? taken(result.value) : '');
}

export async function takeShippedAction(_: FormState, data: FormData): Promise<FormState> {
  const result = await change(
    'send',
    (scope, session, ctx) => takeShipped(ctx, scope, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result.ok ? ok(null) : result, {}, result.ok ? taken(result.value) : '');
}
