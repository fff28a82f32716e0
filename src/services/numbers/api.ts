import { ok } from '@/core/shared/result';
import { act, get, post, viewed, type Endpoint } from '@/services/kit/api';
import type { Scope } from '@/db/kit/scope';
import { SenderNumberRow } from '@/db/numbers/entities';
import { ChangeSenderInput, SenderNumberInput } from './inputs';
import { changeNumber, enterNumber, releaseNumber } from './sender-numbers';
import { senderView } from './views';

export async function listSenders(scope: Scope) {
  const rows = await scope.em.find(SenderNumberRow, { releasedAt: null }, { orderBy: { id: 'asc' } });
  return { items: rows.map(senderView) };
}

export const NUMBERS_API: readonly Endpoint[] = [
  get('/sender-numbers', 'Sender numbers', ({ scope }) => listSenders(scope).then(ok)),
  post(
    '/sender-numbers',
    'Enter a number that the carrier gave',
    SenderNumberInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      viewed(await enterNumber(ctx, scope, input, actor.name), senderView),
  ),
  post(
    '/sender-numbers/{id}',
    'Change what is known of a number',
    ChangeSenderInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await changeNumber(ctx, scope, id, input, actor.name), senderView),
  ),
  act(
    '/sender-numbers/{id}/release',
    'Give a number back: nothing leaves from it any more',
    async ({ ctx, scope, id, actor }) => viewed(await releaseNumber(ctx, scope, id, actor.name), senderView),
  ),
];
