import { log } from '@/log/log';
import { MOST_FILES, SAFE_SIZE } from '@/core/media/kinds';
import { cleanText, cutText } from '@/core/shared/clean-text';
import { MediaFile } from '@/db/media/entities';
import { SenderNumberRow } from '@/db/numbers/entities';
import { acrossWorkspaces, inWorkspace, type Scope } from '@/db/kit/scope';
import type { IncomingPicture } from '@/gateways/mm7/arrivals';
import type { Context } from '@/services/kit/context';
import { storeMade } from '@/services/media/files';
import { makeMedia } from '@/services/media/make-media';
import { receiveText, type Received } from './receive-text';

/**
 * Takes a picture message from a person. Its words are read like a text, since a STOP may be in them; its files are kept
 * first, under the relay's id, so that one the relay brings again is kept once. What cannot be read is left out, and the
 * words count all the same.
 */
export async function receivePicture(ctx: Context, picture: IncomingPicture): Promise<Received> {
  const { carrierId, from, to, text } = picture;
  const sender = await acrossWorkspaces(ctx.orm, (crossing) =>
    crossing.em.findOne(SenderNumberRow, { number: to }, { filters: false }),
  );
  if (sender)
    await inWorkspace(ctx.orm, sender.workspaceId, (scope) => keepFiles(ctx, scope, picture)).catch(
      (error: unknown) => log.error({ err: error }, 'Files of a picture message could not be kept.'),
    );
  return receiveText(ctx, { carrierId, from, to, body: text, concat: null });
}

/** Carriers take about a megabyte; somebody may send somewhat more. */
const MOST_ARRIVING = 8 * SAFE_SIZE;

async function keepFiles(ctx: Context, scope: Scope, { carrierId, files }: IncomingPicture): Promise<void> {
  const arrivedAs = cleanText(carrierId);
  await scope.rows(`select pg_advisory_xact_lock(hashtext(:workspace || :arrivedAs))`, { arrivedAs });
  if ((await scope.em.count(MediaFile, { arrivedAs })) > 0) return;
  for (const { name, bytes } of files.slice(0, 2 * MOST_FILES)) {
    if (bytes.length > MOST_ARRIVING) continue;
    const made = await makeMedia(bytes);
    if (!made.ok) continue;
    await storeMade(ctx, scope, made.value, {
      ...{ name: cutText(cleanText(name), 120) || 'file', alt: '', arrivedAs, madeBy: null },
    });
  }
}
