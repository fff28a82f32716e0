import { Temporal } from 'temporal-polyfill';
import { HOUR, toIso } from '@/core/shared/instant';
import type { Scope } from '@/db/kit/scope';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import type { Context } from '@/services/kit/context';
import { must, SENDERS } from './world';

/** A broadcast for the coming evening at six, made by the services like any other. */
export async function scheduleEvening(
  ctx: Context,
  scope: Scope,
  accountId: string,
  zone: string,
): Promise<void> {
  const now = Temporal.Instant.fromEpochMilliseconds(ctx.now()).toZonedDateTimeISO(zone);
  const evening = now.withPlainTime('18:00');
  const at = evening.epochMilliseconds - ctx.now() > HOUR ? evening : evening.add({ days: 1 });
  const body =
    'Juniper Gap Observatory: Hi {$person.first_name :wren:field fallback=|sky friend|}, the dome is quiet tonight and the sky is not. Last tour at nine. Reply STOP to stop.';
  const actor = { name: accountId, accountId };
  const draft = must(
    await createBroadcast(
      ctx,
      scope,
      { program: 'Clear Sky Alerts', name: 'Quiet dome tonight', body },
      actor,
    ),
  );
  must(await sendBroadcast(ctx, scope, draft.id, { at: toIso(at.epochMilliseconds) }, actor));
}

const QUESTIONS = [
  'Is the Saturday walk fine for a pushchair?',
  'Can we bring our own telescope?',
  'Do you still have places on Friday?',
  'My daughter wants to know if Pluto counts again 🙂',
  'Which gate do we take?',
  'Is it possible to stop these for a month?',
];
const NEWCOMERS = ['+17205550180', '+17205550181', '+17205550182', '+17205550183'];

/**
 * What waits for a person when the demo is opened: replies, an unclear one, a near miss, people who just joined.
 * They are texted from handsets of the bench and taken by the engines once the worker is up.
 */
export async function textTonight(scope: Scope, benchUrl: string): Promise<void> {
  const members = await scope.rows<{ number: string; sender: string }>(
    `select p.number, s.number as sender from consent_state c join person p on p.id = c.person_id
       join sender_assignment a on a.person_id = p.id and a.program_id = c.program_id join sender_number s on s.id = a.sender_id
      where c.workspace_id = :workspace and c.state = 'in' and p.first_name is not null and p.number_state = 'in-service' order by p.id limit 400`,
  );
  const send = (from: string, to: string, body: string) =>
    fetch(`${benchUrl}/handsets/${from}/texts`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ to, body }),
    });
  for (const [i, body] of QUESTIONS.entries()) {
    const member = members[(i + 1) * 37];
    if (member) await send(member.number, member.sender, body);
  }
  await send('+17205550188', SENDERS[0], 'METEROR');
  for (const number of NEWCOMERS) await send(number, SENDERS[0], 'Sky');
}
