import { addDays, dayOf, type Day } from '@/core/audience/days';
import { anniversariesOn } from '@/core/happening/dates';
import { instantAt } from '@/core/shared/zone';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import { lookAtDates, workspacesWithDates } from '@/db/sequences/dates';
import { Sequence } from '@/db/sequences/entities';
import { peopleByDate } from '@/db/sequences/people';
import type { Context } from '@/services/kit/context';
import { inEach } from '@/services/kit/in-each';
import { enterPeople } from './enter';
import { versionOf } from './versions';

const PAGE = 1_000;

/** Begins sequences for whose date it is, on each new day of a workspace. Gives how many came in. */
export async function beginByDates(ctx: Context): Promise<number> {
  const workspaces = await acrossWorkspaces(ctx.orm, (crossing) =>
    workspacesWithDates(crossing, new Date(ctx.now())),
  );
  const zones = new Map(workspaces.map(({ id, zone }) => [id, zone]));
  return inEach(ctx, zones.keys(), 'Sequences could not begin by dates; it is tried again.', (scope) =>
    beginDays(ctx, scope, zones.get(scope.workspaceId)!),
  );
}

/** Days that were missed while nothing ran are not begun late: a birthday greeting next week is none. */
async function beginDays(ctx: Context, scope: Scope, zone: string): Promise<number> {
  const today = dayOf(ctx.now(), zone);
  if (!(await lookAtDates(scope, today))) return 0;
  const running = await scope.em.find(Sequence, { state: ['running', 'paused'], version: { $ne: null } });
  let came = 0;
  for (const { id, version } of running) {
    const ready = await versionOf(scope, id, version!);
    for (const begins of ready?.document.begins ?? [])
      if (begins.on === 'date') came += await beginFor(ctx, scope, id, begins, today, zone);
  }
  return came;
}

async function beginFor(
  ctx: Context,
  scope: Scope,
  sequenceId: string,
  { field, days, yearly, time }: { field: string; days: number; yearly: boolean; time: string },
  today: Day,
  zone: string,
): Promise<number> {
  // Three days before their date means: today is the day three days before it.
  const day = addDays(today, -days);
  const key = field.replace(/^own\./, '');
  const at = instantAt(today, time, zone);
  let came = 0;
  for (let after = ''; ;) {
    const monthDays = yearly ? anniversariesOn(day) : null;
    const people = await peopleByDate(scope, { key, monthDays, day, after, most: PAGE });
    const entered = await enterPeople(
      ctx,
      scope,
      sequenceId,
      people.map((personId) => ({
        personId,
        at: Math.max(at, ctx.now()),
        by: 'date',
        prompted: false,
        grace: false,
      })),
    );
    came += entered.length;
    if (people.length < PAGE) return came;
    after = people.at(-1)!;
  }
}
