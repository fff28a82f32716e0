import { addDays, type Day } from '@/core/audience/days';
import { anniversariesOn } from '@/core/happening/dates';
import { instantAt } from '@/core/shared/zone';
import { MINUTE } from '@/core/shared/instant';
import { ok } from '@/core/shared/result';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { lookAtDates, sequencesWithDates } from '@/db/sequences/dates';
import { Sequence } from '@/db/sequences/entities';
import { peopleByDate } from '@/db/sequences/people';
import type { Context } from '@/services/kit/context';
import { asDue, type Queue } from '@/services/kit/trouble';
import { enterPeople } from './enter';
import { todayIn } from '@/services/kit/today';
import { versionOf } from './versions';

const PAGE = 1_000;

/** Sequences begin for whose date it is, on each new day of their workspace. */
export const DATES_QUEUE: Queue = {
  name: 'sequence-dates',
  rows: {
    named: `(select name from sequence s where s.workspace_id = :workspace and s.id = x.row_id)`,
    waits: `exists (select 1 from sequence s where s.id = x.row_id and s.state in ('running', 'paused'))`,
  },
  everyMs: MINUTE,
  due: async (reading, untroubled, at) => asDue(await sequencesWithDates(reading, untroubled('s.id'), at)),
  work: (ctx, { id, workspaceId }) => inWorkspace(ctx.orm, workspaceId!, (scope) => beginDay(ctx, scope, id)),
  // Tomorrow it is looked at again.
  giveUp: async (ctx, scope, id) => ok(await lookAtDates(scope, (await todayIn(scope, ctx.now())).day, id)),
};

/** Days that were missed while nothing ran are not begun late: a birthday greeting next week is none. */
async function beginDay(ctx: Context, scope: Scope, id: string): Promise<boolean> {
  const { day, zone } = await todayIn(scope, ctx.now());
  if (!(await lookAtDates(scope, day, id))) return false;
  const { state, version } = await scope.em.findOneOrFail(Sequence, { id });
  if (state === 'stopped') return true;
  const ready = await versionOf(scope, id, version!);
  for (const begins of ready?.document.begins ?? [])
    if (begins.on === 'date') await beginFor(ctx, scope, id, begins, day, zone);
  return true;
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
