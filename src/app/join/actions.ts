'use server';
import { redirect } from 'next/navigation';
import { cutText } from '@/core/shared/clean-text';
import { signIn } from '@/services/access/sessions';
import { readInput } from '@/services/kit/validation';
import { getContext } from '@/services/runtime';
import { moveIn } from '@/services/team/first-door';
import { AcceptInput, MoveInInput } from '@/services/team/inputs';
import { acceptInvitation, readInvitation } from '@/services/team/invitations';
import type { FormState } from '@/ui/kit/form-state';
import { field, filled, stateOf, typed } from '../(app)/form-result';
import { keepSession, originOf } from '../open-session';

/** Accepts an invitation, and signs in. */
export async function joinAction(_: FormState, data: FormData): Promise<FormState> {
  const ctx = await getContext();
  const key = field(data, 'key');
  const password = cutText(field(data, 'password'), 500);
  const open = await readInvitation(ctx, key);
  const shown = { name: field(data, 'name') };
  // Whoever has an account gives its password, however short it once was allowed to be.
  const input = open?.known
    ? { ok: true as const, value: { name: open.name, password } }
    : await readInput(AcceptInput, { name: shown.name, password });
  if (!input.ok) return stateOf(input, shown, '');
  const origin = await originOf();
  const accepted = await acceptInvitation(ctx, key, input.value, origin);
  if (!accepted.ok) return stateOf(accepted, shown, '');
  await enter(accepted.value, password);
  redirect('/');
}

/** The first owner moves in, and is signed in. */
export async function beginAction(_: FormState, data: FormData): Promise<FormState> {
  const ctx = await getContext();
  const { key = '', password = '', credits, country = '', ...values } = typed(data);
  const shown = { ...values, country, ...(credits ? { credits } : {}) };
  const input = await readInput(MoveInInput, {
    ...filled(values),
    ...{ country: country.trim().toUpperCase(), password },
    ...(credits?.trim() ? { credits: Number(credits.replace(/[\s,.]/g, '')) } : {}),
  });
  if (!input.ok) return stateOf(input, shown, '');
  const moved = await moveIn(ctx, key, input.value);
  if (!moved.ok) return stateOf(moved, shown, '');
  await enter(moved.value, password);
  redirect('/moving-in');
}

async function enter(
  { email, workspaceId }: { email: string; workspaceId: string },
  password: string,
): Promise<void> {
  const signedIn = await signIn(await getContext(), email, password, await originOf(), workspaceId);
  if (signedIn.ok) await keepSession(signedIn.value);
}
