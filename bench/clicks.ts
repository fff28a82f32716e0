import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { Agent, request } from 'node:http';
import { MikroORM } from '@mikro-orm/postgresql';
import { ormConfig } from '@/db/kit/config';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { UNCHECKED } from '@/core/wording/settings';
import { addSenderNumber, createWorkspace } from '@/services/access/create-workspace';
import { makeContext, type Context } from '@/services/context';
import { migrate } from '@/services/migrate';
import { createProgram } from '@/services/programs/create-program';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { addCrowd } from '@/services/testing/crowd';
import { scratchDatabase, startApp, until } from '../e2e/support/app';
import { ask } from './ask';
import { quantile, round, say } from './report';

const PORT = 4650;
const BARE_PORT = 4659;
const PEOPLE = 10_000;
const A_SECOND = 500;
const SECONDS = 10;
const ROUND = 20_000;
const PHONE = 'Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Mobile/15E148';

/** Links of a broadcast followed by many at once, held against a bare redirect of the same machine in the same run. */
export async function benchClicks(): Promise<void> {
  const databaseUrl = await scratchDatabase('bench_clicks');
  const orm = MikroORM.initSync(ormConfig(databaseUrl)) as MikroORM;
  await migrate(orm);
  const ctx = makeContext(orm, () => Date.now());
  const { id } = await createWorkspace(ctx, {
    ...{ name: 'Bench', business: 'Bench', contact: 'bench', zone: 'America/Denver', weeklyCap: null },
    ...{ slug: 'bench', credits: 10_000_000, wording: UNCHECKED },
  });
  await inWorkspace(orm, id, (scope) => furnish(ctx, scope));
  const app = await startApp(PORT, databaseUrl, { WREN_NO_DEMO: '1', WREN_TRUST_PROXY: '1' });
  const bare = spawn(process.execPath, ['-e', BARE, String(BARE_PORT)], {
    stdio: ['ignore', 'pipe', 'inherit'],
  });
  try {
    await send(ctx, orm, id, 'first');
    const codes = await codesOnce(databaseUrl, PEOPLE);
    await once(bare.stdout, 'data');
    // What cannot leave yet waits for its hours; the rest is gone before anything is measured.
    await until(
      () => ask<{ n: number }>(databaseUrl, LEAVING),
      ([row]) => row!.n === 0,
      180_000,
      1_000,
    );
    await asFastAsPossible(BARE_PORT, codes, 2_000);
    await asFastAsPossible(PORT, codes, 2_000);
    const redirect = await asFastAsPossible(BARE_PORT, codes, ROUND);
    const links = await asFastAsPossible(PORT, codes, ROUND);
    say('links followed, a second', {
      ...{ links: round(links), bare_redirect: round(redirect), ratio: round(links / redirect) },
    });
    const before = await visits(databaseUrl);
    await send(ctx, orm, id, 'second');
    const times = await atAPace(codes);
    say('links followed while the worker sends', {
      ...{ a_second: A_SECOND, answered: times.length, kept: (await visits(databaseUrl)) - before },
      ...{ p50_ms: round(quantile(times, 0.5)), p95_ms: round(quantile(times, 0.95)) },
    });
  } finally {
    bare.kill();
    await app.stop();
    await orm.close(true);
  }
}

const LEAVING = `select count(*)::int as n from message where state = 'submitting' or not_before < now() or (state = 'submitted' and submitted_at > now() - interval '3 seconds')`;

const BARE = `require('node:http').createServer((q, r) => r.writeHead(302, { location: 'https://sky.example.org/', 'cache-control': 'no-store' }).end()).listen(Number(process.argv[1]), '127.0.0.1', () => console.log('up'))`;

async function furnish(ctx: Context, scope: Scope): Promise<void> {
  await addSenderNumber(ctx, scope, {
    ...{ number: '+17195550110', kind: 'short-code', registration: 'registered', partsPerSecond: 2_000 },
  });
  const program = await createProgram(ctx, scope, { name: 'Sky', purpose: 'recurring' }, 'bench');
  if (!program.ok) throw new Error('refused');
  await addCrowd(scope, program.value.id, PEOPLE);
}

const send = (ctx: Context, orm: MikroORM, workspaceId: string, name: string): Promise<void> =>
  inWorkspace(orm, workspaceId, async (scope) => {
    const me = { name: 'bench', accountId: null };
    const input = { program: 'Sky', name, body: `Bench ${name}: https://sky.example.org/${name}` };
    const made = await createBroadcast(ctx, scope, input, me);
    if (!made.ok || !(await sendBroadcast(ctx, scope, made.value.id, {}, me)).ok) throw new Error('refused');
  });

const visits = async (databaseUrl: string): Promise<number> =>
  (await ask<{ n: number }>(databaseUrl, `select count(*)::int as n from link_visit`))[0]!.n;

/** The codes once every message has one. */
async function codesOnce(databaseUrl: string, count: number): Promise<string[]> {
  const rows = await until(
    () => ask<{ code: string }>(databaseUrl, `select code from short_link order by code`),
    (codes) => codes.length === count,
    120_000,
    500,
  );
  return rows.map(({ code }) => code);
}

const follow = (agent: Agent, port: number, code: string, i: number): Promise<number> =>
  new Promise((resolve, reject) => {
    const asked = request(
      {
        ...{ agent, host: '127.0.0.1', port, path: `/l/${code}` },
        headers: {
          'user-agent': PHONE,
          'x-forwarded-for': `10.${(i >> 16) & 255}.${(i >> 8) & 255}.${i & 255}`,
        },
      },
      (response) => {
        response.resume();
        response.once('end', () => resolve(response.statusCode ?? 0));
      },
    );
    asked.once('error', reject);
    asked.end();
  });

/** A hundred at a time, each after the one before; how many a second. */
async function asFastAsPossible(port: number, codes: readonly string[], count: number): Promise<number> {
  const agent = new Agent({ keepAlive: true, maxSockets: 100 });
  const from = performance.now();
  let next = 0;
  await Promise.all(
    Array.from({ length: 100 }, async () => {
      for (let i = next++; i < count; i = next++)
        if ((await follow(agent, port, codes[i % codes.length]!, i)) !== 302)
          throw new Error('It led nowhere');
    }),
  );
  agent.destroy();
  return (count / (performance.now() - from)) * 1_000;
}

/** Each at its time, whether the ones before were answered or not; how long each took. */
async function atAPace(codes: readonly string[]): Promise<number[]> {
  const agent = new Agent({ keepAlive: true, maxSockets: 200 });
  const times: number[] = [];
  const from = performance.now();
  await Promise.all(
    Array.from({ length: A_SECOND * SECONDS }, async (_, i) => {
      const wait = (i * 1_000) / A_SECOND - (performance.now() - from);
      await new Promise((resolve) => setTimeout(resolve, Math.max(0, wait)));
      const sent = performance.now();
      if ((await follow(agent, PORT, codes[i % codes.length]!, i)) === 302)
        times.push(performance.now() - sent);
    }),
  );
  agent.destroy();
  return times;
}
