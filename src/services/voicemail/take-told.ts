import { VoicemailAccount } from '@/db/voicemail/entities';
import { leftVoicemails } from '@/db/voicemail/voicemails';
import { acrossWorkspaces, inWorkspace } from '@/db/kit/scope';
import { dropIdOf } from '@/gateways/voicemail/dropper';
import type { DropTold } from '@/gateways/voicemail/told';
import { storeToldReceipts } from '@/services/delivery/told-receipts';
import type { Context } from '@/services/kit/context';

/** The account whose door this is. */
export interface VoicemailDoor {
  id: string;
  workspaceId: string;
  secret: string;
}

export const voicemailDoorOf = (ctx: Context, key: string): Promise<VoicemailDoor | null> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    const account = await crossing.em.findOne(
      VoicemailAccount,
      { doorKey: key, removedAt: null },
      { filters: false },
    );
    return account && { id: account.id, workspaceId: account.workspaceId, secret: account.secret };
  });

/** Stores what became of voicemails, before the account hears that we know. */
export async function keepDropsTold(
  ctx: Context,
  door: VoicemailDoor,
  told: readonly DropTold[],
): Promise<void> {
  if (told.some(({ kind }) => kind === 'account'))
    await inWorkspace(ctx.orm, door.workspaceId, (scope) =>
      scope.em.nativeUpdate(VoicemailAccount, { id: door.id }, { dueAt: new Date(ctx.now()) }),
    );
  const receipts = told.flatMap((one) =>
    one.kind === 'account'
      ? []
      : [
          {
            ...{ reference: one.reference, stat: one.kind },
            failure: one.kind === 'failed' ? one.failure : null,
          },
        ],
  );
  if (receipts.length === 0) return;
  await storeToldReceipts(ctx, dropIdOf, receipts, (crossing) =>
    leftVoicemails(
      crossing,
      door.id,
      receipts.map(({ reference }) => reference),
    ),
  );
}
