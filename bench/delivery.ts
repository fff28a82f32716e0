import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { MikroORM } from '@mikro-orm/postgresql';
import { UNCHECKED } from '@/core/wording/settings';
import { ormConfig } from '@/db/kit/config';
import { HOUR, SECOND } from '@/core/shared/instant';
import { inWorkspace } from '@/db/kit/scope';
import { SmppLink } from '@/gateways/smpp/link';
import { createBroadcast, sendBroadcast } from '../src/services/sends/broadcasts';
import { makeContext } from '@/services/context';
import { createKeyword, createProgram } from '@/services/programs/create-program';
import { addSenderNumber, createWorkspace } from '@/services/access/create-workspace';
import { migrate } from '@/services/migrate';
import { addCrowd, fictionNumbers } from '@/services/testing/crowd';
import { Bench, ROOT, saying, scratchDatabase, stopped, until } from '../e2e/support/app';
import { quantile, round, say } from './report';

const PORT = 4571;
const TEXTS = 20_000;
const SINGLE = 200;
const NUMBER = '+17195550110';
const OTHER_NUMBER = '+17195550111';

/** The adapter alone, the whole delivery, the two reaction times and the memory, against one bench process. */
export async function benchDelivery(): Promise<void> {
  const databaseUrl = await scratchDatabase('bench_delivery');
  const dataDir = mkdtempSync(join(tmpdir(), 'wren-bench-'));
  const env = {
    ...process.env,
    NODE_ENV: 'production' as const,
    DATABASE_URL: databaseUrl,
    WREN_DATA_DIR: dataDir,
    WREN_BENCH_PORT: String(PORT),
    WREN_SMPP_PORT: String(PORT + 1),
    PORT: String(PORT + 2),
  };
  const start = async (file: string) => {
    const child = spawn(process.execPath, [file], {
      cwd: ROOT,
      env,
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    await saying(child, '"ready"', 30_000);
    return child;
  };
  const children: ChildProcess[] = [await start('dist/bench.js')];
  const orm = MikroORM.initSync(ormConfig(databaseUrl)) as MikroORM;
  try {
    await migrate(orm);
    const bench = new Bench(`http://127.0.0.1:${PORT}`);
    await toNoon(bench);
    const before = await adapterAlone();
    const worker = await start('dist/worker.js');
    children.push(worker);
    const fromSend = await wholeDelivery(await makeHouse(orm, bench, 'send', NUMBER), sendNow);
    const world = await makeHouse(orm, bench, 'queue', OTHER_NUMBER);
    const fromQueue = await wholeDelivery(world, queueFirst);
    await reactions(world);
    const web = await start('dist/web.js');
    children.push(web);
    for (let i = 0; i < 20; i++)
      await fetch(`http://127.0.0.1:${PORT + 2}/sign-in`).then((response) => response.text());
    say('memory', { worker_mb: residentMb(worker), web_mb: residentMb(web) });
    await stopped(worker, 'SIGTERM');
    // A machine's speed changes from minute to minute: the adapter is measured before and after.
    const alone = (before + (await adapterAlone())) / 2;
    const told = (rate: number) => ({
      texts_per_second: Math.round(rate),
      ratio_to_adapter: round(rate / alone),
    });
    say('whole delivery, from queued to delivered', { ...told(fromQueue), asked: 0.34, goal: 0.5 });
    say('whole delivery, from Send to delivered', told(fromSend));
  } finally {
    for (const child of children) child.kill();
    await orm.close(true);
    rmSync(dataDir, { recursive: true, force: true });
  }
}

async function toNoon(bench: Bench): Promise<void> {
  const hour = Number(
    new Date(await bench.now()).toLocaleString('sv-SE', { timeZone: 'America/Denver' }).slice(11, 13),
  );
  await bench.advance(`PT${(24 + 12 - hour) % 24}H`);
}

/** Texts a second through the window, from the first submit to the last answer; receipts are acknowledged at once. */
export async function adapterAlone(port = PORT + 1): Promise<number> {
  let up: () => void = () => {};
  const bound = new Promise<void>((resolve) => (up = resolve));
  const link = new SmppLink(
    {
      host: '127.0.0.1',
      port,
      systemId: 'wren',
      password: 'bench',
      window: 200,
      responseTimeoutMs: 20_000,
      enquireEveryMs: 15_000,
    },
    {
      receipt: async () => {},
      text: async () => {},
      settled: () => {},
      link: (state) => state === 'up' && up(),
    },
  );
  await bound;
  const numbers = fictionNumbers(TEXTS);
  const from = performance.now();
  let next = 0;
  const lane = async () => {
    for (let i = next++; i < TEXTS; i = next++)
      await link.submit({
        from: NUMBER,
        to: numbers[i]!,
        body: 'Juniper Gap Observatory: clear tonight. Reply STOP to stop.',
        alphabet: 'GSM-7',
        concat: null,
        userReference: i & 0xffff,
        validitySeconds: 14_400,
      });
  };
  await Promise.all(Array.from({ length: 200 }, lane));
  const rate = TEXTS / ((performance.now() - from) / 1_000);
  // Receipts still on their way must not weigh on what is measured next.
  await new Promise((resolve) => setTimeout(resolve, 1_500));
  await link.close();
  say('SMPP adapter alone', { texts_per_second: Math.round(rate), window: 200 });
  return rate;
}

interface House {
  bench: Bench;
  number: string;
  within<T>(work: Parameters<typeof inWorkspace<T>>[2]): Promise<T>;
  ctx: ReturnType<typeof makeContext>;
}

async function makeHouse(orm: MikroORM, bench: Bench, slug: string, number: string): Promise<House> {
  const ctx = makeContext(orm, () => Date.now());
  const workspace = await createWorkspace(ctx, {
    slug,
    name: 'Bench',
    business: 'Bench',
    contact: 'x',
    zone: 'America/Denver',
    weeklyCap: null,
    wording: UNCHECKED,
    credits: 10_000_000,
  });
  const within: House['within'] = (work) => inWorkspace(orm, workspace.id, work);
  await within((scope) =>
    addSenderNumber(ctx, scope, {
      number,
      kind: 'short-code',
      registration: 'registered',
      partsPerSecond: 1_000_000,
    }),
  );
  const program = await within((scope) =>
    createProgram(ctx, scope, { name: 'Sky', purpose: 'utility' }, 'bench'),
  );
  if (!program.ok) throw new Error('no program');
  await within((scope) => createKeyword(ctx, scope, { program: 'Sky', word: 'sky' }, 'bench'));
  await within((scope) => addCrowd(scope, program.value.id, TEXTS, { name: slug }));
  return { bench, number, within, ctx };
}

/** Begins a broadcast and gives the instant from which its texts are counted. */
type Begin = (house: House, send: () => Promise<void>) => Promise<number>;

/** What somebody waits for who presses Send: the audience is cleared and queued while its first texts leave. */
const sendNow: Begin = async ({ bench }, send) => {
  const from = await instant(bench);
  await send();
  return from;
};

/** Every text is queued before the first may leave: delivery alone. */
const queueFirst: Begin = async ({ bench, within }, send) => {
  const freeFrom = (at: Date) =>
    within((scope) =>
      scope.run(`update sender_number set next_free_at = :at where workspace_id = :workspace`, { at }),
    );
  await freeFrom(new Date((await instant(bench)) + HOUR));
  await send();
  await until(
    () => broadcastState(within),
    (state) => state === 'sending',
    180_000,
    200,
  );
  const from = await instant(bench);
  await freeFrom(new Date(from));
  return from;
};

/** Texts a second until every receipt is stored. */
async function wholeDelivery(house: House, begin: Begin): Promise<number> {
  const { ctx, within } = house;
  const actor = { name: 'bench', accountId: null };
  const from = await begin(house, () =>
    within(async (scope) => {
      const made = await createBroadcast(
        ctx,
        scope,
        {
          program: 'Sky',
          name: 'Bench',
          body: 'Hi {$person.first_name :wren:field fallback=friend}, clear tonight. Reply STOP to stop.',
        },
        actor,
      );
      if (made.ok) await sendBroadcast(ctx, scope, made.value.id, {}, actor);
    }),
  );
  // Looking costs the database something too: the broadcast's own state first, the texts once.
  await until(
    () => broadcastState(within),
    (state) => state === 'finished',
    180_000,
    500,
  );
  const look = () =>
    within((scope) =>
      scope.rows<{ delivered: number; last: Date }>(
        `select count(*) filter (where state = 'delivered')::int as delivered, max(settled_at) as last from message where workspace_id = :workspace`,
      ),
    );
  const [end] = await until(look, ([row]) => row!.delivered === TEXTS, 30_000, 500);
  return TEXTS / ((end!.last.getTime() - from) / SECOND);
}

/** The workers' clock. */
const instant = async (bench: Bench): Promise<number> => new Date(await bench.now()).getTime();

const broadcastState = (within: House['within']): Promise<string> =>
  within(async (scope) => {
    const [row] = await scope.rows<{ state: string }>(
      `select state from broadcast where workspace_id = :workspace`,
    );
    return row!.state;
  });

async function reactions({ bench, number: to, within }: House): Promise<void> {
  const numbers = fictionNumbers(TEXTS + SINGLE).slice(TEXTS);
  const confirmed: number[] = [];
  const suppressed: number[] = [];
  for (const number of numbers) {
    const from = performance.now();
    await bench.text(number, to, 'sky');
    await pollUntil(async () => (await bench.texts(number)).length > 0);
    confirmed.push(performance.now() - from);
  }
  for (const number of numbers) {
    const from = performance.now();
    await bench.text(number, to, 'STOP');
    await pollUntil(async () => {
      const rows = await within((scope) =>
        scope.rows(
          `select 1 as found from person where workspace_id = :workspace and number = :number and stopped_at is not null`,
          { number },
        ),
      );
      return rows.length > 0;
    });
    suppressed.push(performance.now() - from);
  }
  say('keyword to confirmation', {
    p50_ms: Math.round(quantile(confirmed, 0.5)),
    p95_ms: Math.round(quantile(confirmed, 0.95)),
    times: confirmed.length,
  });
  say('STOP to suppressed', {
    p50_ms: Math.round(quantile(suppressed, 0.5)),
    p95_ms: Math.round(quantile(suppressed, 0.95)),
    times: suppressed.length,
  });
}

async function pollUntil(good: () => Promise<boolean>): Promise<void> {
  while (!(await good())) await new Promise((resolve) => setTimeout(resolve, 2));
}

const residentMb = (child: ChildProcess): number =>
  Math.round(
    Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${child.pid}/status`, 'utf8'))?.[1] ?? 0) / 1_024,
  );
