'use server';
import { pressOf } from '../../press-of';
import { isScope, SCOPES } from '@/core/access/scopes';
import { createApiKey, revokeApiKey } from '@/services/access/api-keys';
import { invalid, notFound } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import { change, requireSession } from '../../session';
import { field, stateOf } from '../form-result';

export async function createKeyAction(_: FormState, data: FormData): Promise<FormState> {
  await requireSession();
  const name = field(data, 'name').trim();
  if (name === '' || name.length > 80)
    return stateOf(
      invalid('name', 'name: give the key a name of at most 80 characters, such as Website form.'),
      { name },
      '',
    );
  const chosen = data.getAll('scope').map(String).filter(isScope);
  if (chosen.length === 0)
    return stateOf(invalid('scopes', 'scopes: choose at least one thing the key may do.'), { name }, '');
  const scopes = chosen.length === SCOPES.length ? null : chosen;
  const result = await change<string | null>(
    'manage-keys',
    async (scope, session, ctx) => ({
      ok: true as const,
      value: await createApiKey(ctx, scope, name, session.accountId, scopes),
    }),
    pressOf(data),
  );
  return stateOf(result, { name }, result.ok ? keyWords(result.value) : '');
}

/** Null: pressed twice; the key itself is kept nowhere. */
const keyWords = (key: string | null): string =>
  key === null ? 'It was made already, and was shown once.' : `Copy it now, it is shown once: ${key}`;

export async function revokeKeyAction(_: FormState, data: FormData): Promise<FormState> {
  const id = field(data, 'key');
  const result = await change(
    'manage-keys',
    async (scope, session, ctx) =>
      (await revokeApiKey(ctx, scope, id, session.accountId))
        ? { ok: true as const, value: null }
        : notFound('key'),
    pressOf(data),
  );
  return stateOf(result, {}, 'Revoked.');
}
