import { log } from '@/log/log';
import { VALIDITY } from '@/core/delivery/failure';
import { MediaFile } from '@/db/media/entities';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import type { Relay } from '@/gateways/mm7/relay';
import type { OutgoingPicture } from '@/gateways/mm7/submit';
import type { Context } from '@/services/kit/context';
import { bytesIn, smallKey } from '@/services/media/store';
import { claimDue, type Handed, type Leaving, type Way } from './claim-due';
import { dueTexts } from './send-due-texts';

/** A picture message that is committed as `submitting` and must now be handed over. */
export interface LeavingPicture extends Leaving {
  number: string;
  senderNumber: string;
  body: string;
  media: readonly string[];
}

const LINE = { channel: 'sms', carriage: 'pictures' } as const;

const PICTURES: Way<LeavingPicture> = {
  ...LINE,
  due: (crossing, at, room) => dueTexts(crossing, LINE, at, room),
  leave: ({ text, clearance }, facts) => {
    const sender = facts.allSenders.find(({ id }) => id === clearance.senderId)!;
    return {
      ...{ id: text.id, workspaceId: text.workspace_id, senderId: sender.id, reference: null },
      ...{ attempts: text.attempts + 1, number: text.address, senderNumber: sender.number },
      ...{ body: text.body, media: text.media! },
    };
  },
};

export const claimDuePictures = (ctx: Context, worker: number, room: number): Promise<LeavingPicture[]> =>
  claimDue(ctx, worker, room, PICTURES);

/** Hands one over. Never throws: what cannot be put together was not written. */
export async function handOverPicture(
  ctx: Context,
  relay: Relay,
  text: LeavingPicture,
): Promise<Handed<LeavingPicture>> {
  try {
    const files = await inWorkspace(ctx.orm, text.workspaceId, (scope) => filesOf(scope, text.media));
    const at = ctx.now();
    const picture: OutgoingPicture = {
      ...{ transactionId: `${text.id}.${text.attempts}`, from: text.senderNumber, to: text.number },
      ...{ text: text.body, files, at: new Date(at), expires: new Date(at + VALIDITY) },
    };
    return { text, parts: [await relay.send(picture)] };
  } catch (error) {
    log.error({ err: error }, 'A picture message could not be put together; it waits.');
    return { text, parts: [{ kind: 'refused', reason: 'carrier-error', status: 0 }] };
  }
}

type FileOut = OutgoingPicture['files'][number];

/** Files never change under their id: those of a broadcast are read once, not for each of its people. */
const kept = new Map<string, FileOut>();
const MOST_KEPT = 24;

async function filesOf(scope: Scope, ids: readonly string[]): Promise<FileOut[]> {
  const files: FileOut[] = [];
  for (const id of ids) files.push(kept.get(id) ?? (await readFile(scope, id)));
  return files;
}

async function readFile(scope: Scope, id: string): Promise<FileOut> {
  const { name, type, smallType } = await scope.em.findOneOrFail(MediaFile, { id });
  const bytes = await bytesIn(scope, smallType ? smallKey(id) : id);
  if (!bytes) throw new Error(`The bytes of file ${id} are missing`);
  const file = { name, type: smallType ?? type, bytes };
  kept.set(id, file);
  if (kept.size > MOST_KEPT) kept.delete(kept.keys().next().value!);
  return file;
}
