'use server';
import { redirect } from 'next/navigation';
import { instantOfLocal } from '@/core/shared/zone';
import { ChangeOfferInput, OfferInput } from '@/services/offers/inputs';
import { changeOffer, createOffer } from '@/services/offers/offers';
import { readInput } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import { pressOf } from '../../../press-of';
import { actorOf, change, requireSession } from '../../../session';
import { stateOf, typed } from '../../form-result';

/** What the form typed, as the API takes it. */
function termsOf(values: Record<string, string>, zone: string) {
  const number = (text = ''): number | null => (text.trim() === '' ? null : Number(text));
  const instant = (local = ''): string | null => instantOfLocal(local, zone);
  return {
    ...{ name: values.name ?? '', words: values.words ?? '', place: values.place ?? '' },
    ...{ days: number(values.days), uses: number(values.uses) ?? 1, most: number(values.most) },
    ...{ from: instant(values.from), to: instant(values.to) },
  };
}

export async function createOfferAction(_: FormState, data: FormData): Promise<FormState> {
  const { workspaceZone } = await requireSession();
  const values = typed(data);
  const input = await readInput(OfferInput, termsOf(values, workspaceZone));
  if (!input.ok) return stateOf(input, values, '');
  const made = await change(
    'edit-programs',
    (scope, session, ctx) => createOffer(ctx, scope, input.value, actorOf(session)),
    pressOf(data),
  );
  if (!made.ok) return stateOf(made, values, '');
  redirect(`/programs/offers/${made.value.id}`);
}

export async function changeOfferAction(_: FormState, data: FormData): Promise<FormState> {
  return saveOffer(data, {}, 'Saved.');
}

/** Ends an offer, or brings it back, with its terms as they stand. */
export async function endOfferAction(_: FormState, data: FormData): Promise<FormState> {
  return saveOffer(data, { archived: typed(data).archived === 'yes' }, '');
}

async function saveOffer(data: FormData, more: { archived?: boolean }, done: string): Promise<FormState> {
  const { workspaceZone } = await requireSession();
  const values = typed(data);
  const input = await readInput(ChangeOfferInput, {
    ...termsOf(values, workspaceZone),
    ...{ stamp: Number(values.stamp), ...more },
  });
  if (!input.ok) return stateOf(input, values, '');
  return stateOf(
    await change('edit-programs', (scope, session, ctx) =>
      changeOffer(ctx, scope, values.id ?? '', input.value, actorOf(session)),
    ),
    values,
    done,
  );
}
