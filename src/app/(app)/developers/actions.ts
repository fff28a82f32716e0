'use server';
import { createApiKey, revokeApiKey } from '@/services/api-keys';
import { invalid, notFound } from '@/services/validation';
import type { FormState } from '@/ui/form-state';
import { change } from '../../session';
import { stateOf } from '../form-result';

export async function createKeyAction(_: FormState, data: FormData): Promise<FormState> {
  const name = String(data.get('name') ?? '').trim();
  if (name === '' || name.length > 80 || name.includes('\u0000'))
    return stateOf(
      invalid('name', 'name: give the key a name of at most 80 characters, such as Website form.'),
      { name },
      '',
    );
  const result = await change('manage-keys', async (scope, session, ctx) => ({
    ok: true as const,
    value: await createApiKey(ctx, scope, name, session.accountId),
  }));
  return stateOf(result, { name }, result.ok ? `Copy it now, it is shown once: ${result.value}` : '');
}

export async function revokeKeyAction(_: FormState, data: FormData): Promise<FormState> {
  const id = String(data.get('key') ?? '');
  const result = await change('manage-keys', async (scope, session, ctx) =>
    (await revokeApiKey(ctx, scope, id, session.accountId))
      ? { ok: true as const, value: null }
      : notFound('key'),
  );
  return stateOf(result, {}, 'Revoked.');
}
