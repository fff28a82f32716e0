import type { Condition } from '@/core/audience/condition';
import type { Scope } from '@/db/kit/scope';
import { changeSegment, createSegment } from '@/services/audience/segments';
import type { Actor } from '@/services/kit/actor';
import type { Context } from '@/services/kit/context';
import { findProgram } from '@/services/programs/find-program';
import { must } from './world';

/** The cuts a team keeps. `missed` is the broadcast whose missing is asked for. */
export async function keepSegments(ctx: Context, scope: Scope, missed: string, me: Actor): Promise<void> {
  const program = (await findProgram(scope, 'Clear Sky Alerts'))!;
  const alerts: Condition = { ask: 'consent', program: program.id, state: 'in', has: true };
  const replied: Condition = { ask: 'did', has: true, act: 'replied', of: {}, days: 90 };
  const colorado: Condition = { ask: 'field', field: 'place', test: 'is', value: 'CO' };
  const keep = async (name: string, all: Condition[], pinned: boolean) => {
    const made = must(await createSegment(ctx, scope, { name, condition: JSON.stringify({ all }) }, me));
    must(await changeSegment(ctx, scope, made.id, { verb: 'share', shared: 'all', accounts: [] }, me));
    if (pinned) must(await changeSegment(ctx, scope, made.id, { verb: 'pin', on: true }, me));
  };
  await keep(
    'Colorado, missed Saturn week',
    [alerts, colorado, { ask: 'sent', has: false, outcome: 'got', of: { broadcast: missed } }],
    true,
  );
  await keep('Quiet for 90 days', [alerts, { none: [replied] }], true);
  await keep('Texted too often', [{ ask: 'texts', test: 'at-least', count: 2, days: 7 }], false);
}
