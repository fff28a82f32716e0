import { HOUSE } from '@/core/delivery/carrier-profile';
import { VALIDITY } from '@/core/delivery/failure';
import { afterParts, roomNow } from '@/core/delivery/pacing';
import { SECOND, type Millis } from '@/core/shared/instant';
import { splitParts } from '@/core/text/measure';
import {
  lockDueSenders,
  lockDueTexts,
  lockUnsentTexts,
  paceSenders,
  type DueText,
  type Line,
} from '@/db/delivery/due-texts';
import { PRIORITIES } from '@/db/delivery/texts';
import type { Crossing } from '@/db/kit/scope';
import type { Carrier, SubmitOutcome } from '@/gateways/carrier';
import type { ProgramFacts } from '@/services/clearance/clearance-facts';
import type { Context } from '@/services/kit/context';
import { claimDue, type Handed, type Leaving, type Verdict, type Way } from './claim-due';

/** A text that is committed as `submitting` and must now be written to the link. */
export interface LeavingText extends Leaving {
  senderId: string;
  senderNumber: string;
  number: string;
  body: string;
  parts: number;
  reference: number;
}

const textsOf = (carrier: string): Way<LeavingText> => {
  const line = { channel: 'sms', carriage: 'words', carrier } as const;
  return { ...line, due: (crossing, at, room) => dueTexts(crossing, line, at, room), leave: leavingText };
};

/** Texts of the numbers of one carrier, and of none. */
export const claimDueTexts = (
  ctx: Context,
  worker: number,
  room: number,
  carrier: string = HOUSE,
): Promise<LeavingText[]> => claimDue(ctx, worker, room, textsOf(carrier));

/** What nobody may wait for behind others: that they left, and help. */
const URGENT = PRIORITIES.slice(0, 1);
const REST = PRIORITIES.slice(1);

/** Texts that are given a number in one go. */
const NUMBERED = 500;

/**
 * Due texts of every sender number that has some: what is urgent of all of them, then the rest. The room is shared: who has
 * little to send, or sends slowly, takes it first, and nobody takes more than an equal part of what is left, so that a short
 * code with a hundred thousand texts does not keep another workspace's confirmation waiting. With them come texts that found
 * no number when they were queued: they are cleared, and leave from the number that clearance finds, within its pace.
 */
export async function dueTexts(crossing: Crossing, line: Line, at: Millis, room: number): Promise<DueText[]> {
  const found = await lockDueSenders(crossing, line, new Date(at));
  const due = found.unnumbered ? await lockUnsentTexts(crossing, line, new Date(at), NUMBERED) : [];
  const senders = found.senders.map((sender) => ({
    ...{ id: sender.id, priorities: sender.priorities, taken: 0 },
    pace: { partsPerSecond: sender.parts_per_second, nextFreeAt: sender.next_free_at.getTime() },
  }));
  let left = room;
  for (const priorities of [URGENT, REST]) {
    const some = senders
      .filter((sender) => sender.priorities.some((priority) => priorities.includes(priority)))
      .map((sender) => ({ sender, room: roomNow(sender.pace, at) - sender.taken }))
      .sort((a, b) => a.room - b.room);
    for (const [i, { sender, room: paced }] of some.entries()) {
      const most = Math.min(paced, Math.ceil(left / (some.length - i)));
      if (most <= 0) continue;
      const texts = withinParts(
        await lockDueTexts(crossing, sender.id, line.carriage, priorities, new Date(at), most),
        most,
      );
      const parts = texts.reduce((sum, text) => sum + text.parts, 0);
      sender.taken += parts;
      due.push(...texts);
      left -= parts;
    }
  }
  const paced = senders.filter(({ taken }) => taken > 0);
  const freeAt = paced.map(({ id, pace, taken }) => [id, new Date(afterParts(pace, at, taken))] as const);
  if (freeAt.length > 0) await paceSenders(crossing, new Map(freeAt));
  return due;
}

/** As many as fit into `parts`; always one, so that a long text cannot wait for ever. */
function withinParts(texts: DueText[], parts: number): DueText[] {
  let sum = 0;
  return texts.filter((text, i) => (sum += text.parts) <= parts || i === 0);
}

function leavingText(
  { text, clearance }: Verdict,
  facts: ProgramFacts,
  ctx: Context,
): Omit<LeavingText, 'departure'> {
  const sender = facts.allSenders.find(({ id }) => id === clearance.senderId)!;
  return {
    id: text.id,
    workspaceId: text.workspace_id,
    senderId: sender.id,
    senderNumber: sender.number,
    number: text.address,
    body: text.body,
    parts: text.parts,
    // The low four bits are free for the part.
    reference: Math.floor(ctx.chance() * 4096) << 4,
    attempts: text.attempts + 1,
  };
}

export type TextOutcome = Handed<LeavingText>;

/** The carrier asks for less. */
export const isThrottle = (part: SubmitOutcome): boolean =>
  part.kind === 'refused' && (part.reason === 'throttled' || part.reason === 'carrier-busy');

/** Writes a text's parts to the link, all at once and in order. Never throws. */
export async function submitText(carrier: Carrier, text: LeavingText): Promise<TextOutcome> {
  const { alphabet, parts } = splitParts(text.body);
  const outcomes = parts.map((body, i) =>
    carrier.submit({
      from: text.senderNumber,
      to: text.number,
      body,
      alphabet,
      concat:
        parts.length > 1
          ? { reference: (text.reference >> 4) & 0xff, total: parts.length, index: i + 1 }
          : null,
      userReference: text.reference | i,
      validitySeconds: VALIDITY / SECOND,
    }),
  );
  return { text, parts: await Promise.all(outcomes) };
}
