import { acrossWorkspaces, inWorkspace } from '@/db/kit/scope';
import { RegistrarAccount, Registration } from '@/db/registration/entities';
import { readRegistrarTold } from '@/gateways/registrar/registrar';
import type { Context } from '@/services/kit/context';

/** The account whose door this is. */
export interface RegistrarDoor {
  id: string;
  workspaceId: string;
  secret: string;
}

export const registrarDoorOf = (ctx: Context, key: string): Promise<RegistrarDoor | null> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    const account = await crossing.em.findOne(
      RegistrarAccount,
      { doorKey: key, removedAt: null },
      { filters: false },
    );
    return account && { id: account.id, workspaceId: account.workspaceId, secret: account.secret };
  });

/**
 * What a registrar tells is only a reason to ask: how it stands is read from the registrar itself, so that what comes twice or in
 * the wrong order does no harm.
 */
export async function askAnew(
  ctx: Context,
  door: RegistrarDoor,
  body: string,
): Promise<'kept' | 'unreadable'> {
  const told = readRegistrarTold(body);
  if (!told) return 'unreadable';
  const dueAt = new Date(ctx.now());
  await inWorkspace(ctx.orm, door.workspaceId, async (scope) => {
    if (told.account) await scope.em.nativeUpdate(RegistrarAccount, { id: door.id }, { dueAt });
    if (told.references.length > 0)
      await scope.em.nativeUpdate(
        Registration,
        { id: { $in: told.references }, state: { $nin: ['draft', 'waiting'] } },
        { dueAt },
      );
  });
  return 'kept';
}
