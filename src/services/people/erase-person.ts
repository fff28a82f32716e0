import { ok, type Result } from '@/core/shared/result';
import { addressesOf } from '@/db/people/addresses';
import { Person } from '@/db/people/entities';
import { erasePersonRows, mergedInto } from '@/db/people/erase';
import { eraseBy } from '@/db/kit/erasure';
import { quiet } from '@/db/kit/happenings';
import { announce, cancelQueued } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { addressHash } from './suppression';
import { notFound, type Refusal } from '@/services/kit/validation';

/**
 * Erases people: names, numbers, words written and received, evidence. What stays is that they opted out, the audit,
 * and a hash of each address, so that no import and no colleague brings them back; counts of what was sent stay true.
 */
export async function erasePeople(
  ctx: Context,
  scope: Scope,
  ids: readonly string[],
  actor: string,
): Promise<void> {
  if (ids.length === 0) return;
  const all = [...ids, ...(await mergedInto(scope, ids))];
  const at = new Date(ctx.now());
  for (const id of all) await cancelQueued(scope, id, at);
  const addresses = (await addressesOf(scope, all)).map(({ value }) => value);
  await scope.run(
    `insert into suppression (workspace_id, number_hash, since) select :workspace, hash, :at from unnest(:hashes::text[]) as u (hash) on conflict do nothing`,
    { hashes: addresses.map((address) => addressHash(scope.workspaceId, address)), at },
  );
  await quiet(scope);
  for (const room of ctx.rooms) await room.erase?.(scope, all);
  await eraseBy(
    scope,
    ctx.rooms.flatMap(({ erasures = [] }) => erasures),
    { ids: all, addresses },
  );
  await erasePersonRows(scope, all, at);
  for (const id of ids) await writeAudit(ctx, scope, actor, 'person.erased', id);
}

export async function erasePerson(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: string,
): Promise<Result<null, Refusal>> {
  const person = await scope.em.findOne(Person, { id, erasedAt: null });
  if (!person) return notFound('person');
  await erasePeople(ctx, scope, [id], actor);
  await announce(scope, false);
  return ok(null);
}
