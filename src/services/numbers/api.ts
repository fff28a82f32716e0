import { ok } from '@/core/shared/result';
import { get, type Endpoint } from '@/services/kit/api';
import type { Scope } from '@/db/kit/scope';
import { SenderNumberRow } from '@/db/numbers/entities';
import { senderView } from './views';

export async function listSenders(scope: Scope) {
  const rows = await scope.em.find(SenderNumberRow, {}, { orderBy: { id: 'asc' } });
  return { items: rows.map(senderView) };
}

export const NUMBERS_API: readonly Endpoint[] = [
  get('/sender-numbers', 'Sender numbers', ({ scope }) => listSenders(scope).then(ok)),
];
