import { Temporal } from 'temporal-polyfill';
import { HOUR, toIso } from '@/core/shared/instant';
import type { Scope } from '@/db/scope';
import { createBroadcast, sendBroadcast } from '@/services/broadcasts';
import type { Context } from '@/services/context';
import { must } from './world';

/** A broadcast for the coming evening at six, made by the services like any other. */
export async function scheduleEvening(ctx: Context, scope: Scope, accountId: string, zone: string): Promise<void> {
  const now = Temporal.Instant.fromEpochMilliseconds(ctx.now()).toZonedDateTimeISO(zone);
  const evening = now.withPlainTime('18:00');
  const at = evening.epochMilliseconds - ctx.now() > HOUR ? evening : evening.add({ days: 1 });
  const body = 'Juniper Gap Observatory: Hi {$person.first_name :wren:field fallback=|sky friend|}, the dome is quiet tonight and the sky is not. Last tour at nine. Reply STOP to stop.';
  const actor = { name: accountId, accountId };
  const draft = must(await createBroadcast(ctx, scope, { program: 'Clear Sky Alerts', name: 'Quiet dome tonight', body }, actor));
  must(await sendBroadcast(ctx, scope, draft.id, { at: toIso(at.epochMilliseconds) }, actor));
}
