import { mergeFields } from '@/services/audience/merge-fields';
import type { Context } from '@/services/kit/context';
import { answerValues } from './word-answer';
import type { Scope } from '@/db/kit/scope';
import { pauseWish } from '@/core/reply/pause';
import type { Millis } from '@/core/shared/instant';
import { shownAt } from '@/core/shared/zone';
import { Workspace } from '@/db/access/entities';
import { consentsByAddress } from '@/db/consent/consent';
import { standingPause, type PauseRow } from '@/db/consent/pauses';
import { Leaving } from '@/db/inbox/entities';
import { Program } from '@/db/programs/entities';
import { lastInbound } from './thread';
import { waitingThreads } from '@/db/inbox/threads';

export const readThreads = (scope: Scope) => waitingThreads(scope, { most: 200, asking: false });

/** Whoever waits after somebody, in the order of the inbox, the first after the last; null: nobody else does. */
export async function nextThread(scope: Scope, personId: string) {
  const threads = await readThreads(scope);
  const at = threads.findIndex(({ id }) => id === personId);
  return threads[at + 1] ?? threads.find(({ id }) => id !== personId) ?? null;
}

/** What an answer to somebody can be written with. */
export async function readAnswering(ctx: Context, scope: Scope, personId: string, answering: string) {
  return {
    fields: await mergeFields(scope),
    values: await answerValues(ctx, scope, personId, answering.split(' ')[0] ?? null),
  };
}

/** How somebody may be taken out or paused, and what of that is under way. */
export interface LeaveScreen {
  /** Programs they are in. */
  programs: { id: string; name: string }[];
  /** They are being opted out, and it can be taken back until then. */
  pending: { program: string | null; dueAt: Date } | null;
  pause: PauseRow | null;
  /** The day on which texts may go again that is proposed, with the words of theirs that say so. */
  proposed: { day: string; words: string | null };
  /** They wrote a text the final text could answer. */
  mayConfirm: boolean;
}

export async function readLeaving(scope: Scope, personId: string, now: Millis): Promise<LeaveScreen> {
  const { zone } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const inbound = await lastInbound(scope, personId);
  const wish = pauseWish(inbound?.body ?? '', inbound?.at.getTime() ?? now, zone);
  const until = wish.until > now ? wish.until : pauseWish('', now, zone).until;
  const leaving = await scope.em.findOne(Leaving, { personId });
  const states = await consentsByAddress(scope, personId);
  const named = await scope.em.find(Program, { archivedAt: null }, { orderBy: { name: 'asc' } });
  const nameOf = (id: string | null) => named.find((program) => program.id === id)?.name ?? null;
  return {
    programs: named.filter(({ id }) => states.some((one) => one.programId === id && one.state === 'in')),
    pending: leaving && { program: nameOf(leaving.programId), dueAt: leaving.dueAt },
    pause: await standingPause(scope, personId, new Date(now)),
    proposed: { day: shownAt(zone, until).slice(0, 10), words: until === wish.until ? wish.words : null },
    mayConfirm: inbound?.sender_id != null,
  };
}
