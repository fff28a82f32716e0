import { MAPPING } from '@/services/testing/inquiries';
import { FORMAT } from '@/core/sequence/document';
import { parseMapping } from '@/core/inquiry/parse';
import type { Scope } from '@/db/kit/scope';
import type { Context } from '@/services/context';
import { tryMapping } from '@/services/inquiries/screen';
import { changeSource, createSource } from '@/services/inquiries/sources';
import { createProgram } from '@/services/programs/create-program';
import { createSequence, publishSequence } from '@/services/sequences/sequences';
import { must } from '@/services/testing/people';
import { until } from '../e2e/support/app';
import { ask } from './ask';
import { atPace, FREE, ME, startBusy } from './busy';
import { quantile, round, say } from './report';

const PORT = 4680;
/** Two a second are 170,000 a day. */
const INQUIRIES = 80;
const A_SECOND = 2;

/** How soon an inquiry is answered, alone and while a broadcast leaves; how many a door takes; how fast a mapping is tried. */
export async function benchInquiries(parts: readonly string[]): Promise<void> {
  const wanted = (part: string) => parts.length === 0 || parts.includes(part);
  const busy = await startBusy(PORT, 'bench_inquiries');
  const { databaseUrl, within } = busy;
  try {
    const { key, sourceId } = await within((scope) => furnish(busy.ctx, scope));
    const hook = `${busy.app.web}/in/${key}`;
    await asked(hook, 20, 5, 0);
    await answered(databaseUrl, 20);
    if (wanted('busy')) {
      await asked(hook, INQUIRIES, A_SECOND, 1_000);
      say('inquiry to the carrier, alone', await latency(databaseUrl, 1_000, INQUIRIES));
      await busy.leave();
      await asked(hook, INQUIRIES, A_SECOND, 2_000);
      const still_waiting = await busy.waiting();
      say('inquiry to the carrier, while a broadcast leaves', {
        ...(await latency(databaseUrl, 2_000, INQUIRIES)),
        still_waiting,
      });
      await until(busy.waiting, (n) => n === 0, 600_000, 2_000);
    }
    if (wanted('intake')) await benchIntake(databaseUrl, hook);
    if (!wanted('mapping')) return;
    // As many samples as are tried, whatever was measured before.
    await asked(hook, 1_000, 100, 30_000);
    const mapping = parseMapping(MAPPING, []);
    if (!mapping.ok) throw new Error(mapping.reason);
    const began = performance.now();
    const tried = await within((scope) => tryMapping(scope, sourceId, mapping.value, 1_000));
    say('a mapping tried on samples', { samples: tried.length, ms: round(performance.now() - began) });
  } finally {
    await busy.close();
  }
}

/** How soon the door answers, whether it keeps each once, and how many the worker reads meanwhile and after. */
async function benchIntake(databaseUrl: string, hook: string): Promise<void> {
  const times = await asked(hook, 18_000, 300, 10_000);
  const look = async () => (await ask<{ kept: number; taken: number }>(databaseUrl, KEPT))[0]!;
  const [{ kept, taken }, from] = [await look(), performance.now()];
  await new Promise((resolve) => setTimeout(resolve, 30_000));
  const after = await look();
  say('inquiries taken in, 300 a second for a minute', {
    ...{ sent: times.length, kept, lost_or_twice: kept - times.length },
    ...{ p50_ms: round(quantile(times, 0.5)), p95_ms: round(quantile(times, 0.95)) },
    read_a_second: round((after.taken - taken) / ((performance.now() - from) / 1_000)),
  });
}

const KEPT = `select count(*)::int as kept, (count(*) filter (where state = 'taken'))::int as taken from arrival where content ->> 'batch' = '10000'`;

async function furnish(ctx: Context, scope: Scope): Promise<{ key: string; sourceId: string }> {
  const visits = must(
    await createProgram(ctx, scope, { name: 'Visits', purpose: 'inquiry', sender_numbers: [FREE] }, 'bench'),
  );
  const document = {
    ...{
      format: FORMAT,
      name: 'Answer',
      program: visits.id,
      begins: [{ on: 'request' as const }],
      only: null,
    },
    ...{ again: { rule: 'never' as const }, grace_minutes: 5, hours: null, ends: [] },
    lines: [
      {
        ...{ id: 'a', when: { at: 'once' as const }, late: 'go' as const },
        what: {
          do: 'text' as const,
          body: 'Bench: hi {$person.first_name :wren:field fallback=friend}! Reply STOP to stop.',
        },
      },
    ],
  };
  const sequence = must(await createSequence(ctx, scope, { document }, ME));
  must(await publishSequence(ctx, scope, sequence.id, { stamp: sequence.draftStamp }, ME));
  const source = must(await createSource(ctx, scope, { name: 'Portal', program: 'Visits' }, ME));
  const begins = [{ sequence: sequence.id, kind: '' }];
  must(await changeSource(ctx, scope, source.id, { stamp: 0, mapping: MAPPING, begins }, ME));
  return { key: source.key, sourceId: source.id };
}

/** Posts inquiries of different people at a pace; gives how long each answer of the door took, in milliseconds. */
const asked = (hook: string, count: number, aSecond: number, batch: number): Promise<number[]> =>
  atPace(count, aSecond, (i) => post(hook, batch, i));

async function post(hook: string, batch: number, i: number): Promise<number> {
  const began = performance.now();
  const send = () => fetch(hook, requestOf(batch, i));
  // A connection that stood idle may be closed as it is used again: whoever sends does so again, and is known by its id.
  const response = await send().catch(send);
  if (response.status !== 202) throw new Error(`${response.status}: ${await response.text()}`);
  await response.arrayBuffer();
  return performance.now() - began;
}

function requestOf(batch: number, i: number): RequestInit {
  return {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify({
      ...{
        id: `${batch} ${i}`,
        batch: String(batch),
        name: `Ana Orr${i}`,
        about: 'Class trip',
        text: 'Hello',
      },
      phone: `+1${212 + Math.floor((batch + i) / 1_000)}555${String(2_000 + ((batch + i) % 1_000)).padStart(4, '0')}`,
    }),
  };
}

const answered = (databaseUrl: string, count: number) =>
  until(
    () =>
      ask<{ n: number }>(
        databaseUrl,
        `select count(*)::int as n from message where kind = 'sequence-answer' and submitted_at is not null`,
      ),
    ([row]) => row!.n >= count,
    120_000,
    200,
  );

async function latency(databaseUrl: string, batch: number, count: number) {
  const rows = await until(
    () =>
      ask<{ ms: number }>(
        databaseUrl,
        `select extract(epoch from t.submitted_at - i.at)::float8 * 1000 as ms from inquiry i join message t on t.person_id = i.person_id and t.kind = 'sequence-answer'
          where i.sender_id like '${batch} %' and t.submitted_at is not null`,
      ),
    (found) => found.length >= count,
    120_000,
    500,
  );
  const times = rows.map(({ ms }) => ms);
  return {
    ...{ inquiries: times.length, a_second: A_SECOND },
    p50_ms: round(quantile(times, 0.5)),
    p95_ms: round(quantile(times, 0.95)),
  };
}
