import { Agent, request } from 'node:http';
import { MikroORM } from '@mikro-orm/postgresql';
import { ormConfig } from '@/db/kit/config';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { addSenderNumber, createWorkspace } from '@/services/access/create-workspace';
import { makeContext, type Context } from '@/services/context';
import { createForm, publishForm } from '@/services/forms/forms';
import { migrate } from '@/services/migrate';
import { createProgram } from '@/services/programs/create-program';
import { fictionNumbers } from '@/services/testing/crowd';
import { scratchDatabase, startApp, until, type App } from '../e2e/support/app';
import { ask } from './ask';
import { quantile, round, say } from './report';

const ME = { name: 'bench', accountId: null };
const A_SECOND = 300;
const SECONDS = 15;
const PORT = 4640;

/** A form filled in by three hundred people a second, through the real web process; then again while things die. */
export async function benchForms(): Promise<void> {
  const databaseUrl = await scratchDatabase('bench_forms');
  const orm = MikroORM.initSync(ormConfig(databaseUrl)) as MikroORM;
  await migrate(orm);
  const ctx = makeContext(orm, () => Date.now());
  const { id } = await createWorkspace(ctx, {
    ...{ name: 'Bench', business: 'Bench', contact: 'bench', zone: 'America/Denver', weeklyCap: null },
    ...{ slug: 'bench', credits: 10_000_000 },
  });
  const code = await inWorkspace(orm, id, (scope) => furnish(ctx, scope));
  await orm.close(true);
  const app = await startApp(PORT, databaseUrl, { WREN_NO_DEMO: '1', WREN_TRUST_PROXY: '1' });
  try {
    const numbers = fictionNumbers(A_SECOND * SECONDS * 2 + 1_000);
    await load(code, numbers.slice(-1_000), 'warm', 3);
    const calm = await load(code, numbers.slice(0, A_SECOND * SECONDS), 'calm', SECONDS);
    say('forms sent, a second', figures(calm));
    const dying = load(code, numbers.slice(A_SECOND * SECONDS), 'dying', SECONDS);
    await killThings(app);
    const { answered, ...rest } = figures(await dying);
    const kept = await stored(databaseUrl, 'dying');
    say('forms sent while the worker and the database are killed', { answered, kept, ...rest });
    const waited = performance.now();
    await until(
      () =>
        ask<{ n: number }>(databaseUrl, `select count(*)::int as n from submission where state = 'received'`),
      ([row]) => row!.n === 0,
      300_000,
      500,
    );
    say('until each number was asked or held', { seconds: round((performance.now() - waited) / 1_000) });
  } finally {
    await app.stop();
  }
}

async function furnish(ctx: Context, scope: Scope): Promise<string> {
  await addSenderNumber(ctx, scope, {
    ...{ number: '+17195550110', kind: 'local', registration: 'registered', partsPerSecond: 1_000 },
  });
  await createProgram(ctx, scope, { name: 'Sky', purpose: 'recurring' }, 'bench');
  const form = await createForm(ctx, scope, { name: 'Gate', program: 'Sky' }, ME);
  if (!form.ok) throw new Error('refused');
  const published = await publishForm(ctx, scope, form.value.id, form.value.stamp, ME);
  if (!published.ok) throw new Error('refused');
  return form.value.code;
}

interface Loaded {
  times: number[];
  /** Those that were sent again, since no answer came. */
  again: number;
}

const figures = ({ times, again }: Loaded) => ({
  ...{ answered: times.length, sent_again: again, a_second: A_SECOND },
  ...{ p50_ms: round(quantile(times, 0.5)), p95_ms: round(quantile(times, 0.95)) },
});

/** Sends each at its time, whether the ones before were answered or not; what fails is sent again with the same press. */
async function load(
  code: string,
  numbers: readonly string[],
  name: string,
  seconds: number,
): Promise<Loaded> {
  const agent = new Agent({ keepAlive: true, maxSockets: 200 });
  const loaded: Loaded = { times: [], again: 0 };
  const from = performance.now();
  const sending = numbers.slice(0, A_SECOND * seconds).map(async (number, i) => {
    await new Promise((resolve) =>
      setTimeout(resolve, Math.max(0, (i * 1_000) / A_SECOND - (performance.now() - from))),
    );
    const body = new URLSearchParams({
      ...{ name: 'Ana Ruiz', number, agree: 'yes', press: `${name}-${i}`.padEnd(12, '-') },
      drawn: String(Date.now() - 30_000),
    }).toString();
    const address = `10.${(i >> 16) & 255}.${(i >> 8) & 255}.${i & 255}`;
    for (let round = 0; round < 60; round++) {
      const sent = performance.now();
      if ((await post(agent, code, body, address)) === 200) {
        loaded.times.push(performance.now() - sent);
        return;
      }
      loaded.again += 1;
      await new Promise((resolve) => setTimeout(resolve, 500));
    }
    throw new Error('A form was never taken');
  });
  await Promise.all(sending);
  agent.destroy();
  return loaded;
}

const post = (agent: Agent, code: string, body: string, address: string): Promise<number | null> =>
  new Promise((resolve) => {
    const asked = request(
      {
        ...{ agent, host: '127.0.0.1', port: PORT, path: `/f/${code}`, method: 'POST' },
        headers: {
          ...{
            'content-type': 'application/x-www-form-urlencoded',
            'content-length': Buffer.byteLength(body),
          },
          'x-forwarded-for': address,
        },
      },
      (response) => {
        response.resume();
        response.once('end', () => resolve(response.statusCode ?? null));
        response.once('error', () => resolve(null));
      },
    );
    asked.once('error', () => resolve(null));
    asked.end(body);
  });

/** The worker, and then a process of the database: it ends all others and recovers. */
async function killThings(app: App): Promise<void> {
  await new Promise((resolve) => setTimeout(resolve, 4_000));
  process.kill(app.process('worker'), 'SIGKILL');
  await new Promise((resolve) => setTimeout(resolve, 4_000));
  const [one] = await app.query<{ pid: number }>(
    `select pid from pg_stat_activity where backend_type = 'client backend' and datname = current_database() and pid <> pg_backend_pid() limit 1`,
  );
  process.kill(one!.pid, 'SIGKILL');
}

/** How many of a round are kept, each once. */
async function stored(databaseUrl: string, name: string): Promise<number> {
  const rows = await ask<{ n: number; presses: number }>(
    databaseUrl,
    `select count(*)::int as n, count(distinct press)::int as presses from submission where press like '${name}-%'`,
  );
  if (rows[0]!.n !== rows[0]!.presses) throw new Error('A form was kept twice');
  return rows[0]!.n;
}

/** Over a connection of its own: the ones there were are gone with the database. */
