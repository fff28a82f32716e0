'use server';
import { redirect } from 'next/navigation';
import { importItems } from '@/services/items/import-items';
import { ItemInput } from '@/services/items/inputs';
import { dropItem, putItem } from '@/services/items/items';
import { invalid, readInput } from '@/services/kit/validation';
import { plural } from '@/ui/kit/numbers';
import type { FormState } from '@/ui/kit/form-state';
import { instantOfLocal } from '../../../draft-question';
import { pressOf } from '../../../press-of';
import { actorOf, change, requireSession } from '../../../session';
import { field, filled, stateOf, typed } from '../../form-result';

export async function putItemAction(_: FormState, data: FormData): Promise<FormState> {
  const { workspaceZone } = await requireSession();
  const values = typed(data);
  const { starts = '', ends = '', all_day: allDay, ...rest } = filled(values);
  const iso = (local: string) => {
    const at = instantOfLocal(local, workspaceZone);
    return at === null ? null : new Date(at).toISOString();
  };
  const input = await readInput(ItemInput, {
    ...{ name: '', ...rest, all_day: allDay === 'on' },
    ...{ starts_at: iso(starts), ends_at: iso(ends) },
  });
  if (!input.ok) return stateOf(input, values, '');
  const result = await change(
    'send',
    (scope, session, ctx) => putItem(ctx, scope, input.value, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, values, 'Kept.');
}

const LARGEST = 2_000_000;

export async function importItemsAction(_: FormState, data: FormData): Promise<FormState> {
  const file = data.get('file');
  if (!(file instanceof File) || file.size === 0)
    return stateOf(invalid('content', 'Choose a file first.'), {}, '');
  if (file.size > LARGEST)
    return stateOf(invalid('content', 'It is larger than 2 MB. Take it in in parts.'), {}, '');
  const bytes = Buffer.from(await file.arrayBuffer());
  const result = await change(
    'send',
    (scope, session, ctx) => importItems(ctx, scope, bytes, actorOf(session)),
    pressOf(data),
  );
  if (!result.ok) return stateOf(result, {}, '');
  const { added, changed, same, refused } = result.value;
  const left = refused.map(({ line, why }) => `${line}: ${why}`).join(' ');
  return stateOf(
    result,
    {},
    `${plural(added, 'one')} added, ${changed} changed, ${same} as before.${left === '' ? '' : ` Left out: ${left}`}`,
  );
}

export async function dropItemAction(_: FormState, data: FormData): Promise<FormState> {
  const result = await change(
    'send',
    (scope, session, ctx) => dropItem(ctx, scope, field(data, 'item'), actorOf(session)),
    pressOf(data),
  );
  if (!result.ok) return stateOf(result, {}, '');
  redirect('/sends/items');
}
