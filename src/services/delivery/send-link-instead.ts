import { withPage } from '@/core/media/carriage';
import { withLinkBelow } from '@/core/link/shorten';
import { Workspace } from '@/db/access/entities';
import { Message } from '@/db/delivery/entities';
import { rewordPictures } from '@/db/delivery/reword';
import type { Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import { codeLinks, keepCodes, type Coded } from '@/services/links/make-links';
import { linkBase } from '@/services/links/plan';
import { mediaPlan } from '@/services/media/files';
import { sizeOf } from './new-text';

/**
 * Lets a picture message that was refused for being one leave again as words with a link to its files. It stays the same
 * message: what stops the others stops it, it is cleared when it leaves, and what was paid for it is not paid again.
 */
export async function sendLinkInstead(ctx: Context, scope: Scope, messageId: string): Promise<void> {
  const message = await scope.em.findOneOrFail(Message, { id: messageId });
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const plan = await mediaPlan(scope, workspace, message.media);
  if (!plan) return;
  const { body, codes } = message.sendId
    ? codeLinks(ctx, withLinkBelow({ text: message.body, links: [] }, plan.page, linkBase(workspace)))
    : plain(withPage(message.body, plan));
  const at = new Date(ctx.now());
  if (!(await rewordPictures(scope, { id: messageId, body, ...sizeOf(body, workspace) }, at))) return;
  if (message.sendId) await keepCodes(ctx, scope, message.sendId, [{ messageId, codes }]);
}

/** Codes belong to sends: what is written to one person has the whole address. */
const plain = (body: string): Coded => ({ body, codes: [] });
