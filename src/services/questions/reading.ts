import { dayOf } from '@/core/audience/days';
import type { DateOrder } from '@/core/people/values';
import type { AnswerContext } from '@/core/question/read-answer';
import type { Millis } from '@/core/shared/instant';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';

/** Where the month is written first. */
const orderIn = (zone: string): DateOrder =>
  /^(?:America|US)\/|^Pacific\/Honolulu/.test(zone) ? 'month-day' : 'day-month';

/** What somebody wrote at an instant is read against this, in a workspace of that zone. */
export const readingIn = (zone: string, at: Millis, partial: string | null = null): AnswerContext => ({
  today: dayOf(at, zone),
  order: orderIn(zone),
  partial,
});

/** The same, in this workspace. */
export async function readingAt(
  scope: Scope,
  at: Millis,
  partial: string | null = null,
): Promise<AnswerContext> {
  const { zone } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  return readingIn(zone, at, partial);
}
