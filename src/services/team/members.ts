import { ROLE_WORDS, type Role } from '@/core/access/roles';
import { ok, type Result } from '@/core/shared/result';
import { Membership } from '@/db/access/entities';
import { forgetMember, lockTeam } from '@/db/access/team';
import type { Scope } from '@/db/kit/scope';
import { ownsPeople } from '@/services/access/teammates';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';

const LAST_OWNER =
  'role: they are the only owner. Make somebody else an owner first, so that the workspace is not shut out of itself.';

/** Gives a teammate another role. */
export async function changeRole(
  ctx: Context,
  scope: Scope,
  accountId: string,
  role: Role,
  actor: Actor,
): Promise<Result<null, Refusal>> {
  const before = await roleOf(scope, accountId);
  if (!before) return notFound('teammate');
  if (role === 'counter' && (await ownedBy(ctx, scope, accountId)).length > 0)
    return conflict(
      'role',
      `role: a ${ROLE_WORDS.counter.word} sees no people. Hand over what is theirs first.`,
    );
  if (before.role === 'owner' && role !== 'owner' && before.owners === 1) return conflict('role', LAST_OWNER);
  await scope.em.nativeUpdate(Membership, { accountId }, { role });
  await writeAudit(ctx, scope, actor.name, 'team.role', accountId, { from: before.role, to: role });
  return ok(null);
}

async function roleOf(scope: Scope, accountId: string): Promise<{ role: Role; owners: number } | null> {
  const team = await lockTeam(scope);
  const found = team.find(({ account_id: id }) => id === accountId);
  return found ? { role: found.role, owners: team.filter(({ role }) => role === 'owner').length } : null;
}

/** Something that is somebody's: `214 people`. */
export interface Owns {
  words: [one: string, several: string];
  n: number;
}

/** What would be without somebody if this account left; empty: nothing. */
export async function ownedBy(ctx: Context, scope: Scope, accountId: string): Promise<Owns[]> {
  const owns: Owns[] = [];
  for (const { words, count } of ctx.rooms.flatMap(({ owned = [] }) => owned)) {
    const [row] = await scope.rows<{ n: number }>(count, { from: accountId });
    if (row!.n > 0) owns.push({ words, n: row!.n });
  }
  return owns;
}

/** Gives what is one teammate's to another, or to nobody where nobody may have it. Gives how much moved. */
export async function handOver(
  ctx: Context,
  scope: Scope,
  accountId: string,
  to: string | null,
  actor: Actor,
): Promise<Result<{ moved: number }, Refusal>> {
  if (to !== null && (to === accountId || !(await ownsPeople(scope, to))))
    return invalid('to', 'to: must be the account of another teammate here who answers.');
  const heir = to ?? actor.accountId;
  let moved = 0;
  for (const { move } of ctx.rooms.flatMap(({ owned = [] }) => owned)) {
    if (move.includes(':heir') && heir === null)
      return invalid('to', 'to: somebody must take their segments: name an account.');
    moved += await scope.run(move, {
      from: accountId,
      ...(move.includes(':to') ? { to } : {}),
      ...(move.includes(':heir') ? { heir } : {}),
    });
  }
  await writeAudit(ctx, scope, actor.name, 'team.handed-over', accountId, { to, moved });
  return ok({ moved });
}

/** Ends somebody's work here: what was theirs is handed over, and they are signed out. Their account stays, for other workspaces. */
export async function endMembership(
  ctx: Context,
  scope: Scope,
  accountId: string,
  to: string | null,
  actor: Actor,
): Promise<Result<{ moved: number }, Refusal>> {
  const before = await roleOf(scope, accountId);
  if (!before) return notFound('teammate');
  if (before.role === 'owner' && before.owners === 1) return conflict('role', LAST_OWNER);
  const handed = await handOver(ctx, scope, accountId, to, actor);
  if (!handed.ok) return handed;
  await forgetMember(scope, accountId);
  await writeAudit(ctx, scope, actor.name, 'team.left', accountId, { role: before.role });
  return handed;
}
