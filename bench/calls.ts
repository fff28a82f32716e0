import { createOutcome } from '@/services/calls/outcomes';
import { connectSwitchboard, mapSwitchboard } from '@/services/calls/switchboards';
import type { Scope } from '@/db/kit/scope';
import type { Context } from '@/services/context';
import { createProgram } from '@/services/programs/create-program';
import { must } from '@/services/testing/people';
import { until } from '../e2e/support/app';
import { ask } from './ask';
import { atPace, FREE, ME, startBusy } from './busy';
import { quantile, round, say } from './report';

const PORT = 4690;
/** Two a second are more than a house with thirty telephones has. */
const CALLS = 80;
const A_SECOND = 2;

/** How soon the outcome of a call is followed by its text at the carrier, alone and while a broadcast leaves. */
export async function benchCalls(): Promise<void> {
  const busy = await startBusy(PORT, 'bench_calls');
  try {
    const door = `${busy.app.web}/calls/${await busy.within((scope) => furnish(busy.ctx, scope))}`;
    await told(door, 20, 5, 0);
    await latency(busy.databaseUrl, 0, 20);
    await told(door, CALLS, A_SECOND, 1_000);
    say('outcome of a call to the text at the carrier, alone', {
      ...(await latency(busy.databaseUrl, 1_000, CALLS)),
      asked_p95_ms: 1_000,
    });
    await busy.leave();
    await told(door, CALLS, A_SECOND, 2_000);
    const still_waiting = await busy.waiting();
    say('outcome of a call to the text at the carrier, while a broadcast leaves', {
      ...(await latency(busy.databaseUrl, 2_000, CALLS)),
      ...{ asked_p95_ms: 1_000, still_waiting },
    });
  } finally {
    await busy.close();
  }
}

/** A telephone system and an outcome that says a text; gives the key of its door. */
async function furnish(ctx: Context, scope: Scope): Promise<string> {
  const input = { name: 'Visits', purpose: 'inquiry' as const, sender_numbers: [FREE] };
  must(await createProgram(ctx, scope, input, 'bench'));
  const outcome = { name: 'Wants to come', program: 'Visits', body: 'Bench: thank you for calling.' };
  must(await createOutcome(ctx, scope, outcome, ME));
  const board = must(await connectSwitchboard(ctx, scope, { name: 'House', signs: 'none' }, ME));
  const mapping = {
    ...{ id: '/id', state: '/event', direction: '/direction', from: '/caller', to: '/called' },
    ...{ teammate: '/agent', outcome: '/disposition' },
  };
  must(await mapSwitchboard(ctx, scope, board.id, { mapping }, ME));
  return board.doorKey;
}

/** Calls of different people, each told by one event with its outcome. */
const told = (door: string, count: number, aSecond: number, batch: number): Promise<number[]> =>
  atPace(count, aSecond, async (i) => {
    const n = batch + i;
    const response = await fetch(door, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({
        ...{ id: `${batch} ${i}`, event: 'ended', direction: 'inbound', called: FREE, agent: 'Ada' },
        caller: `+1${212 + Math.floor(n / 1_000)}555${2_000 + (n % 1_000)}`,
        disposition: 'Wants to come',
      }),
    });
    if (!response.ok) throw new Error(`${response.status}: ${await response.text()}`);
    await response.arrayBuffer();
    return response.status;
  });

async function latency(databaseUrl: string, batch: number, count: number) {
  const rows = await until(
    () =>
      ask<{ ms: number }>(
        databaseUrl,
        `select extract(epoch from m.submitted_at - e.at)::float8 * 1000 as ms from call_event e join call c on c.outside_id = e.content ->> 'id' join call_text t on t.call_id = c.id join message m on m.id = t.message_id
          where c.outside_id like '${batch} %' and m.submitted_at is not null`,
      ),
    (found) => found.length >= count,
    120_000,
    500,
  );
  const times = rows.map(({ ms }) => ms);
  return {
    ...{ calls: times.length, a_second: A_SECOND },
    ...{ p50_ms: round(quantile(times, 0.5)), p95_ms: round(quantile(times, 0.95)) },
  };
}
