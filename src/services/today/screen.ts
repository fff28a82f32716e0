import { dayOf } from '@/core/audience/days';
import { waitingReviews } from '@/db/chat/used';
import type { Scope } from '@/db/kit/scope';
import { DAY, type Millis } from '@/core/shared/instant';
import { heldByForm, nearlyTyped, partCounts, todayCounts, type PartCounts } from '@/db/today/today';
import { partsBefore, usualOf } from '@/core/results/usual-day';
import { goingOut, waitingSends } from '@/db/sends/broadcasts';
import { startOfDay } from '@/services/shell/screen';
import { heldWords } from '@/services/sends/watch-limits';
import { readSends } from '@/services/sends/screen';
import { readOpenQuestions } from '@/services/registration/screen';
import { rowsWithStanding } from '@/services/numbers/screen';
import { Workspace } from '@/db/access/entities';
import { unreadTexts } from '@/db/inbox/unread';
import { readTroubles } from '@/services/stuck';
import { troubledSources } from '@/services/inquiries/board';
import { noticesFor } from '@/services/inbox/notices';
import { readFirst } from '@/services/inbox/screen';

/** What is usual by this time on such a day; null: there were too few. */
async function usualByNow(
  scope: Scope,
  now: Millis,
  zone: string,
  since: Date,
): Promise<Record<keyof PartCounts, number> | null> {
  const counts = await partCounts(scope, partsBefore(now, zone, since.getTime()));
  const usual = (of: keyof PartCounts) => usualOf(counts.map((one) => one[of]));
  const [sent, replies, joined, left] = [usual('sent'), usual('replies'), usual('joined'), usual('left')];
  return sent === null ? null : { sent, replies: replies!, joined: joined!, left: left! };
}

export async function readToday(scope: Scope, now: Millis, zone: string, accountId: string) {
  const counts = await todayCounts(scope, dayOf(now, zone), new Date(startOfDay(now, zone)));
  const { rows: threads, counts: waiting } = await readFirst(scope, { accountId, now, most: 8 });
  const recent = (await readSends(scope, '', 8)).rows.filter((row) => row.begun_at !== null);
  const senders = await rowsWithStanding(scope, now);
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const unread = await unreadTexts(scope);
  return {
    unread,
    notices: await noticesFor(scope, accountId),
    stuck: (await readTroubles(scope)).filter(({ queue }) => queue !== 'unread-text'),
    counts,
    usual: await usualByNow(scope, now, zone, workspace.createdAt),
    threads,
    waiting,
    near: await nearlyTyped(scope),
    held: await heldByForm(scope),
    sources: await troubledSources(scope, now),
    reviews: await waitingReviews(scope, new Date(now - 7 * DAY)),
    asked: await readOpenQuestions(scope),
    goingOut: await goingOut(scope),
    sends: (await waitingSends(scope)).map(({ held, ...send }) => ({
      ...send,
      why: held ? `held: ${heldWords(held)}` : 'its rest waits until a wording is chosen or really better.',
    })),
    recent: recent.slice(0, 4),
    senders,
    credits: { left: Number(workspace.creditBalance), enoughUntil: workspace.enoughUntil },
  };
}
