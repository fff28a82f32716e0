import { MikroORM } from '@mikro-orm/postgresql';
import { MAPPING } from '@/services/testing/inquiries';
import { FORMAT } from '@/core/sequence/document';
import { parseMapping } from '@/core/inquiry/parse';
import { UNCHECKED } from '@/core/wording/settings';
import { ormConfig } from '@/db/kit/config';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { addSenderNumber, createWorkspace } from '@/services/access/create-workspace';
import { makeContext, type Context } from '@/services/context';
import { tryMapping } from '@/services/inquiries/screen';
import { changeSource, createSource } from '@/services/inquiries/sources';
import { migrate } from '@/services/migrate';
import { createProgram } from '@/services/programs/create-program';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { createSequence, publishSequence } from '@/services/sequences/sequences';
import { addCrowd } from '@/services/testing/crowd';
import { must } from '@/services/testing/people';
import { scratchDatabase, startApp, until } from '../e2e/support/app';
import { ask } from './ask';
import { quantile, round, say } from './report';

const PORT = 4680;
/** As many as there are fictional numbers: a broadcast of a hundred thousand has no more of them. */
const CROWD = 36_000;
const ME = { name: 'bench', accountId: null };

/** How soon an inquiry is answered, alone and while a broadcast leaves; how many a door takes; how fast a mapping is tried. */
export async function benchInquiries(): Promise<void> {
  const databaseUrl = await scratchDatabase('bench_inquiries');
  const orm = MikroORM.initSync(ormConfig(databaseUrl)) as MikroORM;
  await migrate(orm);
  // A broadcast leaves by day: the world's clock stands at noon of the mountains, whenever this runs.
  const ahead = Math.ceil((new Date().setUTCHours(43, 0, 0, 0) - Date.now()) / 60_000) % 1_440;
  const ctx = makeContext(orm, () => Date.now() + ahead * 60_000);
  const { id } = await createWorkspace(ctx, {
    ...{ name: 'Bench', business: 'Bench', contact: 'bench', zone: 'America/Denver', weeklyCap: null },
    ...{ slug: 'bench', credits: 10_000_000, wording: UNCHECKED },
  });
  const { key, sourceId } = await inWorkspace(orm, id, (scope) => furnish(ctx, scope));
  const app = await startApp(PORT, databaseUrl, { WREN_NO_DEMO: '1' });
  const hook = `${app.web}/in/${key}`;
  try {
    await app.bench.advance(`PT${ahead}M`);
    await asked(hook, 20, 5, 0);
    await answered(databaseUrl, 20);
    await asked(hook, 200, 10, 1_000);
    say('inquiry to the carrier, alone', await latency(databaseUrl, 1_000, 200));
    await inWorkspace(orm, id, (scope) => broadcast(ctx, scope));
    await until(
      () => ask<{ n: number }>(databaseUrl, LEFT),
      ([row]) => row!.n > 1_000,
      300_000,
      500,
    );
    await asked(hook, 200, 10, 2_000);
    const [leaving] = await ask<{ n: number }>(databaseUrl, WAITING);
    say('inquiry to the carrier, while a broadcast leaves', {
      ...(await latency(databaseUrl, 2_000, 200)),
      still_waiting: leaving!.n,
    });
    await until(
      () => ask<{ n: number }>(databaseUrl, WAITING),
      ([row]) => row!.n === 0,
      600_000,
      2_000,
    );
    const times = await asked(hook, 18_000, 300, 10_000);
    const kept = await until(
      () => ask<{ kept: number; taken: number }>(databaseUrl, KEPT),
      ([row]) => row!.taken === row!.kept,
      1_200_000,
      2_000,
    );
    say('inquiries taken in, 300 a second for a minute', {
      ...{ sent: times.length, kept: kept[0]!.kept, twice: kept[0]!.kept - times.length },
      ...{ p50_ms: round(quantile(times, 0.5)), p95_ms: round(quantile(times, 0.95)) },
    });
    const mapping = parseMapping(MAPPING, []);
    if (!mapping.ok) throw new Error(mapping.reason);
    const began = performance.now();
    const tried = await inWorkspace(orm, id, (scope) => tryMapping(scope, sourceId, mapping.value, 1_000));
    say('a mapping tried on samples', { samples: tried.length, ms: round(performance.now() - began) });
  } finally {
    await app.stop();
    await orm.close(true);
  }
}

const LEFT = `select count(*)::int as n from message where kind = 'broadcast' and submitted_at is not null`;
const WAITING = `select count(*)::int as n from message where kind = 'broadcast' and state in ('queued', 'submitting')`;
const KEPT = `select count(*)::int as kept, (count(*) filter (where state = 'taken'))::int as taken from arrival where content ->> 'batch' = '10000'`;

async function furnish(ctx: Context, scope: Scope): Promise<{ key: string; sourceId: string }> {
  for (const [number, partsPerSecond] of [
    ['+17195550110', 1_000],
    ['+17195550111', 1_000],
  ] as const)
    await addSenderNumber(ctx, scope, {
      ...{ number, kind: 'short-code', registration: 'registered', partsPerSecond },
    });
  const sky = must(
    await createProgram(
      ctx,
      scope,
      { name: 'Sky', purpose: 'recurring', sender_numbers: ['+17195550110'] },
      'bench',
    ),
  );
  await addCrowd(scope, sky.id, CROWD);
  const visits = must(
    await createProgram(
      ctx,
      scope,
      { name: 'Visits', purpose: 'inquiry', sender_numbers: ['+17195550111'] },
      'bench',
    ),
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

async function broadcast(ctx: Context, scope: Scope): Promise<void> {
  const made = must(
    await createBroadcast(ctx, scope, { program: 'Sky', name: 'Many', body: 'Bench: clear tonight.' }, ME),
  );
  must(await sendBroadcast(ctx, scope, made.id, {}, ME));
}

/** Posts inquiries of different people at a pace; gives how long each answer of the door took, in milliseconds. */
async function asked(hook: string, count: number, aSecond: number, batch: number): Promise<number[]> {
  const times: Promise<number>[] = [];
  const began = performance.now();
  for (let i = 0; i < count; i += 1) {
    const wait = began + (i * 1_000) / aSecond - performance.now();
    if (wait > 0) await new Promise((resolve) => setTimeout(resolve, wait));
    times.push(post(hook, batch, i));
  }
  return Promise.all(times);
}

async function post(hook: string, batch: number, i: number): Promise<number> {
  const began = performance.now();
  const response = await fetch(hook, {
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
  });
  if (response.status !== 202) throw new Error(`${response.status}: ${await response.text()}`);
  await response.arrayBuffer();
  return performance.now() - began;
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
    inquiries: times.length,
    p50_ms: round(quantile(times, 0.5)),
    p95_ms: round(quantile(times, 0.95)),
  };
}
