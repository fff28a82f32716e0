import type { Scope } from '@/db/kit/scope';
import { lookAtDates } from '@/db/sequences/dates';
import { Sequence } from '@/db/sequences/entities';
import { dueIn, lockEnrolments } from '@/db/sequences/enrolments';
import type { Context } from '@/services/kit/context';
import { log } from '@/log/log';
import { moveAll } from './enter';
import { moveSequence } from './sequences';
import { todayIn } from '@/services/kit/today';

const SLICE = 500;
const WHO = { name: 'restored', accountId: null };

/**
 * In a restored copy every sequence that ran waits until a human lets it go on. What fell due since the copy may have gone from
 * the original: those lines are behind people, and so is today for whoever begins by a date.
 */
export async function restoreSequences(ctx: Context, scope: Scope): Promise<Record<string, number>> {
  const ran = await scope.em.find(Sequence, { state: 'running' }, { orderBy: { id: 'asc' } });
  const counts = { passed: 0, left: 0 };
  for (const { id } of ran) {
    await moveSequence(ctx, scope, id, 'pause', WHO);
    await passWhatIsDue(ctx, scope, id, counts);
  }
  await lookAtDates(scope, (await todayIn(scope, ctx.now())).day, null);
  return {
    'sequences paused': ran.length,
    'people in sequences passed over what had fallen due': counts.passed,
    'people in sequences could not be passed over what had fallen due: look at them before it goes on':
      counts.left,
  };
}

async function passWhatIsDue(
  ctx: Context,
  scope: Scope,
  sequenceId: string,
  counts: { passed: number; left: number },
): Promise<void> {
  const at = new Date(ctx.now());
  const pass = (ids: readonly string[]) =>
    scope.attempt(async () => {
      const held = await lockEnrolments(scope, ids);
      await moveAll(
        ctx,
        scope,
        held.map((one) => ({ one, trigger: { on: 'elsewhere' }, at: at.getTime() })),
      );
    });
  for (let after = ''; ;) {
    const ids = await dueIn(scope, { sequenceId, at, after, most: SLICE });
    if ((await pass(ids)).ok) counts.passed += ids.length;
    else
      for (const id of ids) {
        const one = await pass([id]);
        counts[one.ok ? 'passed' : 'left']++;
        if (!one.ok)
          log.error({ err: one.error, row: id }, 'An enrolment could not be passed over what fell due.');
      }
    if (ids.length < SLICE) return;
    after = ids.at(-1)!;
  }
}
