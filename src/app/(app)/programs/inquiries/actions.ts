'use server';
import { redirect } from 'next/navigation';
import { commaList } from '@/core/shared/comma-list';
import { ok } from '@/core/shared/result';
import { ChangeSourceInput, NewKeyInput, NewSourceInput } from '@/services/inquiries/inputs';
import { changeSource, createSource, leaveOut, newKey, playUnreadAgain } from '@/services/inquiries/sources';
import { takeFile } from '@/services/inquiries/take-file';
import { invalid, readInput } from '@/services/kit/validation';
import { plural } from '@/ui/kit/numbers';
import type { FormState } from '@/ui/kit/form-state';
import type { Problems } from '@/ui/kit/labelled';
import type { SourceDraft } from '@/ui/inquiries/source-desk';
import { pressOf } from '../../../press-of';
import { actorOf, change } from '../../../session';
import { stateOf, typed } from '../../form-result';

export async function createSourceAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const input = await readInput(NewSourceInput, { name: values.name, program: values.program });
  if (!input.ok) return stateOf(input, values, '');
  const made = await change(
    'edit-programs',
    (scope, session, ctx) => createSource(ctx, scope, input.value, actorOf(session)),
    pressOf(data),
  );
  if (!made.ok) return stateOf(made, values, '');
  redirect(`/programs/inquiries/${made.value.id}`);
}

/** Whole units with a point, as hundredths; null: nothing was entered, undefined: it is no amount. */
const centsOf = (text: string): number | null | undefined =>
  text.trim() === ''
    ? null
    : /^\d{1,6}([.,]\d{1,2})?$/.test(text.trim())
      ? Math.round(Number(text.trim().replace(',', '.')) * 100)
      : undefined;

export async function saveSourceAction(
  id: string,
  stamp: number,
  draft: SourceDraft,
  press: string,
): Promise<Problems> {
  const cents = centsOf(String(draft.cost));
  if (cents === undefined)
    return { problems: [{ field: 'cost_cents', message: 'cost_cents: write an amount, such as 12.50.' }] };
  const input = await readInput(ChangeSourceInput, {
    ...{
      stamp,
      name: draft.name,
      program: draft.program,
      mapping: draft.mapping,
      assignment: draft.assignment,
    },
    ...{ signs: draft.signs, sign_header: draft.signHeader, wording: draft.wording, cost_cents: cents },
    ...{ labels: draft.labels, begins: draft.begins, letters_from: commaList(String(draft.lettersFrom)) },
  });
  if (!input.ok) return { problems: input.reason.problems };
  const result = await change(
    'edit-programs',
    (scope, session, ctx) => changeSource(ctx, scope, String(id), input.value, actorOf(session)),
    String(press),
  );
  return { problems: result.ok ? [] : result.reason.problems };
}

export async function closeSourceAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '', stamp = '', closed = '' } = typed(data);
  const result = await change(
    'edit-programs',
    (scope, session, ctx) =>
      changeSource(ctx, scope, id, { stamp: Number(stamp), closed: closed === 'yes' }, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, {}, closed === 'yes' ? 'Closed: it takes nothing.' : 'Open again.');
}

export async function newKeyAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '', of = '' } = typed(data);
  const input = await readInput(NewKeyInput, { of });
  if (!input.ok) return stateOf(input, {}, '');
  const result = await change(
    'edit-programs',
    (scope, session, ctx) => newKey(ctx, scope, id, input.value, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, {}, 'The one before counts for three days.');
}

/** As much as the framework lets through. */
const LARGEST_FILE = 2_000_000;

/** A file of inquiries, one a row. */
export async function takeFileAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '' } = typed(data);
  const file = data.get('file');
  if (!(file instanceof File) || file.size === 0)
    return stateOf(invalid('file', 'file: choose a file first.'), {}, '');
  if (file.size > LARGEST_FILE)
    return stateOf(invalid('file', 'file: is larger than 2 MB. Import it under People instead.'), {}, '');
  const bytes = new Uint8Array(await file.arrayBuffer());
  const taken = await change(
    'edit-programs',
    (scope, _session, ctx) => takeFile(ctx, scope, id, bytes),
    pressOf(data),
  );
  return stateOf(taken, {}, taken.ok ? `${plural(Number(taken.value), 'row')} came, and are read.` : '');
}

/** Read again what could not be read, one or all; what was left out where it is named. */
export async function playAgainAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '', arrivals } = typed(data);
  const result = await change(
    'edit-programs',
    async (scope, _session, ctx) => {
      const played = await playUnreadAgain(ctx, scope, id, arrivals?.split(' '));
      return played > 0 ? ok(played) : invalid('id', 'id: there is nothing here to read again.');
    },
    pressOf(data),
  );
  return stateOf(result, {}, 'It is read again.');
}

export async function dropArrivalAction(_: FormState, data: FormData): Promise<FormState> {
  const { arrivals = '' } = typed(data);
  const result = await change(
    'edit-programs',
    (scope, _session, ctx) => leaveOut(ctx, scope, arrivals.split(' ')),
    pressOf(data),
  );
  return stateOf(result, {}, 'Left out.');
}
