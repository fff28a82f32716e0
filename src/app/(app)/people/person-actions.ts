'use server';
import { pressOf } from '../../press-of';
import { redirect } from 'next/navigation';
import { cutText } from '@/core/shared/clean-text';
import { ok } from '@/core/shared/result';
import { addAddressTo, preferAddressOf, takeAddressFrom } from '@/services/people/addresses';
import { editPerson } from '@/services/people/edit-person';
import { erasePerson } from '@/services/people/erase-person';
import { findOrMakeLabel, setLabel } from '@/services/people/labels';
import { invalid } from '@/services/kit/validation';
import type { AddressChange } from '@/ui/people/addresses';
import type { FormState } from '@/ui/kit/form-state';
import { fullDay } from '@/ui/kit/time';
import type { MadeLink } from '@/ui/people/told';
import { linkByHand } from '@/services/questions/personal-link';
import { actorOf, change, currentSession } from '../../session';
import { sentence, stateOf, typed } from '../form-result';

export async function editPersonAction(id: string, field: string, value: string): Promise<string | null> {
  const result = await change('edit-people', (scope, session, ctx) =>
    editPerson(ctx, scope, id, field, cutText(value, 1_000), session.accountId),
  );
  return result.ok ? null : sentence(result.reason);
}

const ADDRESS_CHANGES = { add: addAddressTo, prefer: preferAddressOf, take: takeAddressFrom };

export async function changeAddressAction(
  id: string,
  what: AddressChange,
  address: string,
): Promise<string | null> {
  if (!Object.hasOwn(ADDRESS_CHANGES, what)) return 'There is no such change.';
  const result = await change('edit-people', (scope, session, ctx) =>
    ADDRESS_CHANGES[what](ctx, scope, id, cutText(address, 300), session.accountId),
  );
  return result.ok ? null : sentence(result.reason);
}

export async function labelPersonAction(
  id: string,
  kind: 'tag' | 'list',
  name: string,
  on: boolean,
): Promise<string | null> {
  const result = await change('edit-people', async (scope, session, ctx) => {
    const label = await findOrMakeLabel(
      ctx,
      scope,
      kind === 'list' ? 'list' : 'tag',
      name,
      session.accountId,
    );
    if (!label.ok) return label;
    await setLabel(ctx, scope, label.value.id, [id], on);
    return ok(null);
  });
  return result.ok ? null : sentence(result.reason);
}

export async function erasePersonAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const result = await change(
    'edit-people',
    (scope, session, ctx) =>
      values.sure === 'erase'
        ? erasePerson(ctx, scope, values.id ?? '', session.accountId)
        : Promise.resolve(invalid('sure', 'sure: type “erase” to go on.')),
    pressOf(data),
  );
  if (!result.ok) return stateOf(result, values, '');
  redirect('/people');
}

/** A form that knows who it is for, to be sent on by hand. */
export async function personalLinkAction(id: string): Promise<MadeLink> {
  const zone = (await currentSession())?.workspaceZone ?? 'UTC';
  const result = await change('edit-people', (scope, session, ctx) =>
    linkByHand(ctx, scope, id, {}, actorOf(session)),
  );
  return result.ok
    ? { problem: null, link: result.value.link, until: fullDay(result.value.expires, zone) }
    : { problem: sentence(result.reason) };
}
