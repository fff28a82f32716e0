import { addDays, dayOf, type Day } from '@/core/audience/days';
import { anniversariesOn } from '@/core/happening/dates';
import type { Millis } from '@/core/shared/instant';
import { lookedUpTo, noteLook, tellDates, workspacesToLookAt } from '@/db/people/dates';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import { inEach } from '@/services/kit/in-each';

/** After a longer absence older days are passed over: a birthday wish of last month is none. */
const MOST_DAYS = 7;

/**
 * Tells of the dates of people that came: each day of each workspace once, when it begins there. Gives how many dates
 * were told.
 */
export async function tellDatesReached(ctx: Context): Promise<number> {
  const now = ctx.now();
  const workspaces = await acrossWorkspaces(ctx.orm, (crossing) =>
    workspacesToLookAt(crossing, new Date(now)),
  );
  const zones = new Map(workspaces.map(({ id, zone }) => [id, zone]));
  return inEach(ctx, zones.keys(), 'Dates of people could not be told; it is tried again.', (scope) =>
    tellDays(scope, now, zones.get(scope.workspaceId)!),
  );
}

async function tellDays(scope: Scope, now: Millis, zone: string): Promise<number> {
  const today = dayOf(now, zone);
  const last = await lookedUpTo(scope, today);
  // A workspace begins with the day on which it is first looked at.
  if (last !== null && last >= today) return 0;
  let reached = 0;
  for (const day of last === null ? [today] : daysAfter(last, today))
    reached += await tellDates(scope, { day, anniversaries: anniversariesOn(day), at: new Date(now) });
  await noteLook(scope, today);
  return reached;
}

/** The days after one up to another, at most so many and the latest of them. */
function daysAfter(day: Day, last: Day): Day[] {
  const days: Day[] = [];
  for (let next = addDays(day, 1); next <= last; next = addDays(next, 1)) days.push(next);
  return days.slice(-MOST_DAYS);
}
