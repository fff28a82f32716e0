'use server';
import { redirect } from 'next/navigation';
import type { PosterDocument } from '@/core/poster/document';
import { readInput } from '@/services/kit/validation';
import { ChangePosterInput, NewPosterInput } from '@/services/posters/inputs';
import { changePoster, createPoster, removePoster } from '@/services/posters/posters';
import type { FormState } from '@/ui/kit/form-state';
import type { Problems } from '@/ui/kit/labelled';
import { pressOf } from '../../../press-of';
import { actorOf, change } from '../../../session';
import { filled, stateOf, typed } from '../../form-result';

export async function createPosterAction(_: FormState, data: FormData): Promise<FormState> {
  const input = await readInput(NewPosterInput, filled(typed(data)));
  if (!input.ok) return stateOf(input, {}, '');
  const made = await change(
    'edit-programs',
    (scope, session, ctx) => createPoster(ctx, scope, input.value, actorOf(session)),
    pressOf(data),
  );
  if (!made.ok) return stateOf(made, {}, '');
  redirect(`/programs/posters/${made.value.id}`);
}

export async function savePosterAction(
  id: string,
  stamp: number,
  document: PosterDocument,
  press: string,
): Promise<Problems> {
  const input = await readInput(ChangePosterInput, { stamp, document });
  if (!input.ok) return { problems: input.reason.problems };
  const result = await change(
    'edit-programs',
    (scope, session, ctx) => changePoster(ctx, scope, String(id), input.value, session.accountId),
    String(press),
  );
  return { problems: result.ok ? [] : result.reason.problems };
}

export async function removePosterAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '', back = '' } = typed(data);
  const result = await change(
    'edit-programs',
    (scope, session, ctx) => removePoster(ctx, scope, id, session.accountId),
    pressOf(data),
  );
  if (!result.ok) return stateOf(result, {}, '');
  redirect(/^\/programs\/(?:keywords|forms)\/\w+$/.test(back) ? back : '/programs');
}
