import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { MikroORM } from '@mikro-orm/postgresql';
import { afterAll, afterEach, beforeAll, describe, expect, it } from 'vitest';
import { ormConfig } from '@/db/kit/config';
import { inWorkspace } from '@/db/kit/scope';
import { createBroadcast, sendBroadcast } from '../src/services/sends/broadcasts';
import { makeContext } from '@/services/context';
import { createProgram } from '@/services/programs/create-program';
import { setMailFrom } from '@/services/email/settings';
import { addSenderNumber, createWorkspace } from '@/services/access/create-workspace';
import { migrate } from '@/services/migrate';
import { findOrMakeLabel, setLabel } from '@/services/people/labels';
import { createSequence, publishSequence } from '@/services/sequences/sequences';
import { addCrowd, fictionNumbers } from '@/services/testing/crowd';
import { Bench, ROOT, saying, scratchDatabase, stopped, until } from './support/app';

const PEOPLE = 2_000;
const LETTERS = 600;
const IN_SEQUENCE = 400;
const ME = { name: 'test', accountId: null };
const BENCH_PORT = 4531;

let bench: Bench;
let benchProcess: ChildProcess;
let worker: ChildProcess | null = null;
let second: ChildProcess | null = null;
let orm: MikroORM;
let env: NodeJS.ProcessEnv;
let dataDir: string;

beforeAll(async () => {
  dataDir = mkdtempSync(join(tmpdir(), 'wren-kill-'));
  const databaseUrl = await scratchDatabase('test_kill');
  env = {
    ...process.env,
    DATABASE_URL: databaseUrl,
    WREN_DATA_DIR: dataDir,
    WREN_BENCH_PORT: String(BENCH_PORT),
    WREN_SMPP_PORT: String(BENCH_PORT + 1),
    WREN_MAIL_PORT: String(BENCH_PORT + 2),
    WREN_MAIL_IN_PORT: String(BENCH_PORT + 3),
    WREN_SMPP_WINDOW: '50',
  };
  orm = MikroORM.initSync(ormConfig(databaseUrl)) as MikroORM;
  await migrate(orm);
  benchProcess = spawn(process.execPath, ['dist/bench.js'], {
    cwd: ROOT,
    env,
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  await saying(benchProcess, '"ready"', 20_000);
  bench = new Bench(`http://127.0.0.1:${BENCH_PORT}`);
});
afterEach(() => {
  worker?.kill('SIGKILL');
  second?.kill('SIGKILL');
});
afterAll(async () => {
  worker?.kill('SIGKILL');
  second?.kill('SIGKILL');
  benchProcess?.kill();
  await orm?.close(true);
  rmSync(dataDir, { recursive: true, force: true });
});

async function startWorker(): Promise<void> {
  worker = spawn(process.execPath, ['dist/worker.js'], { cwd: ROOT, env, stdio: ['ignore', 'pipe', 'pipe'] });
  await saying(worker, '"ready"', 30_000);
}

/** Noon in Denver is open from the Atlantic to Hawaii. */
async function toNoon(): Promise<void> {
  const hour = new Date(await bench.now()).toLocaleString('sv-SE', { timeZone: 'America/Denver' });
  await bench.advance(`PT${(24 + 12 - Number(hour.slice(11, 13))) % 24}H`);
}

/** A workspace of its own in Denver. */
async function house(slug: string) {
  const ctx = makeContext(orm, () => Date.now());
  const workspace = await createWorkspace(ctx, {
    ...{ slug, name: slug, business: slug, contact: 'x', zone: 'America/Denver' },
    ...{ weeklyCap: null, credits: 100_000 },
  });
  const within = <T>(work: Parameters<typeof inWorkspace<T>>[2]) => inWorkspace(orm, workspace.id, work);
  return { ctx, within };
}

describe('a worker killed in the middle of a broadcast', () => {
  it(`texts each of ${PEOPLE} people exactly once, and loses none`, async () => {
    const { ctx, within } = await house('kill');
    await within((scope) =>
      addSenderNumber(ctx, scope, {
        number: '55501',
        kind: 'short-code',
        registration: 'registered',
        partsPerSecond: 350,
      }),
    );
    const program = await within((scope) =>
      createProgram(ctx, scope, { name: 'Sky', purpose: 'utility' }, 'test'),
    );
    if (!program.ok) throw new Error('no program');
    await within((scope) => addCrowd(scope, program.value.id, PEOPLE));
    const state = () =>
      within((scope) =>
        scope.rows<{ state: string; n: number }>(
          `select state, count(*)::int as n from message where workspace_id = :workspace group by state`,
        ),
      );
    await toNoon();
    const sent = await within(async (scope) => {
      const made = await createBroadcast(
        ctx,
        scope,
        { program: 'Sky', name: 'Kill', body: 'Clear tonight.' },
        ME,
      );
      if (!made.ok) throw new Error('no broadcast');
      return sendBroadcast(ctx, scope, made.value.id, {}, ME);
    });
    expect(sent.ok).toBe(true);
    const underWay = async () => (await state()).find((row) => row.state === 'submitting')?.n ?? 0;
    // Killed while preparing, and again and again while sending: at moments nobody chose, and as texts are on their way.
    const kills: number[] = [];
    for (let round = 0; round < 7; round++) {
      await startWorker();
      if (round % 2 === 0)
        await new Promise((resolve) => setTimeout(resolve, 60 + Math.random() * (round === 0 ? 300 : 900)));
      else await until(underWay, (n) => n > 0, 20_000, 5);
      await stopped(worker!, 'SIGKILL');
      kills.push(await underWay());
    }
    // Two to the end: receipts come over one's link while the answers come over the other's.
    await startWorker();
    second = worker;
    await startWorker();
    await until(
      state,
      (rows) =>
        rows.every((row) => row.state === 'delivered' || row.state === 'unconfirmed') &&
        rows.reduce((sum, row) => sum + row.n, 0) === PEOPLE,
      60_000,
    );
    // What the carrier never took stays unconfirmed until its silence proves it: after the validity and a margin.
    await bench.advance('PT4H20M');
    await new Promise((resolve) => setTimeout(resolve, 2_500));
    await bench.advance('PT15M');
    const end = await until(state, (rows) => rows.length === 1 && rows[0]!.state === 'delivered', 60_000);
    expect(end, `texts on the way at the kills: ${kills.join(', ')}`).toEqual([
      { state: 'delivered', n: PEOPLE },
    ]);
    const counts = new Map<number, number>();
    for (const number of fictionNumbers(PEOPLE)) {
      const got = (await bench.texts(number)).length;
      counts.set(got, (counts.get(got) ?? 0) + 1);
    }
    expect([...counts.entries()]).toEqual([[1, PEOPLE]]);
    // No receipt lies beside the part it is about.
    expect(
      await within((scope) =>
        scope.rows(
          `select 1 from orphan_receipt o join text_part p on p.carrier_id = o.carrier_id where p.workspace_id = :workspace`,
        ),
      ),
    ).toEqual([]);
    // The test is worth something only if a kill found texts on their way.
    expect(Math.max(...kills)).toBeGreaterThan(0);
  });
});

describe('a worker killed in the middle of letters', () => {
  it(`writes to each of ${LETTERS} mailboxes once at most, and says of each letter whether it came`, async () => {
    const { ctx, within } = await house('letters');
    const program = await within(async (scope) => {
      await setMailFrom(ctx, scope, { from: 'sky@example.org', postal_address: '1 Hill Road' }, ME);
      return createProgram(ctx, scope, { name: 'Letters', purpose: 'utility' }, 'test');
    });
    if (!program.ok) throw new Error('no program');
    await within((scope) =>
      addCrowd(scope, program.value.id, LETTERS, { name: 'letters', channel: 'email' }),
    );
    const letters = () =>
      within((scope) =>
        scope.rows<{ address: string; state: string }>(
          `select address, state from message where workspace_id = :workspace`,
        ),
      );
    await within(async (scope) => {
      const made = await createBroadcast(
        ctx,
        scope,
        {
          ...{ program: 'Letters', name: 'Letters', channel: 'email' },
          ...{ subject: 'Clear', body: 'Clear tonight.' },
        },
        ME,
      );
      if (!made.ok) throw new Error(JSON.stringify(made.reason));
      return sendBroadcast(ctx, scope, made.value.id, {}, ME);
    });
    const underWay = async () => (await letters()).filter(({ state }) => state === 'submitting').length;
    const kills: number[] = [];
    for (let round = 0; round < 5; round++) {
      await startWorker();
      await until(underWay, (n) => n > 0, 20_000, 5);
      await stopped(worker!, 'SIGKILL');
      kills.push(await underWay());
    }
    await startWorker();
    const end = await until(
      letters,
      (rows) =>
        rows.length === LETTERS &&
        rows.every(({ state }) => state === 'delivered' || state === 'unconfirmed'),
      60_000,
    );
    const { mailboxes } = await bench.call<{ mailboxes: { address: string; mails: number }[] }>(
      'GET',
      '/mailboxes',
    );
    expect(mailboxes.filter(({ mails }) => mails !== 1)).toEqual([]);
    // Nothing is written again on a guess: what may have come stays open, what came is known by its notice.
    const came = new Set(mailboxes.map(({ address }) => address));
    expect(
      end.filter(({ address, state }) => state !== (came.has(address) ? 'delivered' : 'unconfirmed')),
    ).toEqual([]);
    expect(came.size).toBeGreaterThanOrEqual(LETTERS - kills.reduce((sum, n) => sum + n, 0));
    expect(Math.max(...kills)).toBeGreaterThan(0);
  });
});

describe('a worker killed in the middle of a sequence', () => {
  it(`gives each of ${IN_SEQUENCE} people each of its lines once, and loses nobody`, async () => {
    const { ctx, within } = await house('series');
    await toNoon();
    await within((scope) =>
      addSenderNumber(ctx, scope, {
        ...{ number: '55502', kind: 'short-code', registration: 'registered', partsPerSecond: 350 },
      }),
    );
    const label = await within(async (scope) => {
      const program = await createProgram(ctx, scope, { name: 'Series', purpose: 'utility' }, 'test');
      const tag = await findOrMakeLabel(ctx, scope, 'tag', 'series', 'test');
      if (!program.ok || !tag.ok) throw new Error('refused');
      await addCrowd(scope, program.value.id, IN_SEQUENCE, { name: 'series' });
      const text = (id: string, when: object, body: string) => ({
        ...{ id, when, late: 'go', what: { do: 'text', body } },
      });
      const document = {
        ...{ format: 'steady-wren/sequence/1', name: 'Series', program: program.value.id, hours: null },
        ...{ begins: [{ on: 'tag', label: tag.value.id }], only: null, again: { rule: 'never' } },
        ...{ grace_minutes: 0, ends: [] },
        lines: [
          text('a', { at: 'once' }, 'First line.'),
          text('b', { at: 'after', minutes: 1, from: 'before' }, 'Second line.'),
        ],
      };
      const made = await createSequence(ctx, scope, { document }, ME);
      if (!made.ok) throw new Error(JSON.stringify(made.reason));
      const published = await publishSequence(ctx, scope, made.value.id, { stamp: 1 }, ME);
      if (!published.ok) throw new Error(JSON.stringify(published.reason));
      return tag.value.id;
    });
    await within(async (scope) => {
      const people = await scope.rows<{ id: string }>(
        `select id from person where workspace_id = :workspace`,
      );
      await setLabel(
        ctx,
        scope,
        label,
        people.map(({ id }) => id),
        true,
      );
    });
    const lines = () =>
      within((scope) =>
        scope.rows<{ state: string; n: number }>(
          `select state, count(*)::int as n from message where workspace_id = :workspace group by state`,
        ),
      );
    const enrolled = async () =>
      (
        await within((scope) =>
          scope.rows<{ n: number }>(
            `select count(*)::int as n from enrolment where workspace_id = :workspace`,
          ),
        )
      )[0]!.n;
    // Killed as they come in, as their texts are queued, and as these leave.
    await startWorker();
    await until(enrolled, (n) => n > 0, 20_000, 2);
    await stopped(worker!, 'SIGKILL');
    for (let round = 0; round < 6; round++) {
      await startWorker();
      await new Promise((resolve) => setTimeout(resolve, 100 + Math.random() * 700));
      await stopped(worker!, 'SIGKILL');
      if (round === 2) await bench.advance('PT1M');
    }
    await startWorker();
    second = worker;
    await startWorker();
    const settled = (rows: { state: string; n: number }[], n: number) =>
      rows.every(({ state }) => state === 'delivered' || state === 'unconfirmed') &&
      rows.reduce((sum, row) => sum + row.n, 0) === n;
    for (let minute = 0; minute < 3; minute++) {
      await bench.advance('PT1M');
      await new Promise((resolve) => setTimeout(resolve, 1_500));
    }
    await until(lines, (rows) => settled(rows, 2 * IN_SEQUENCE), 60_000);
    const got = await Promise.all(
      fictionNumbers(IN_SEQUENCE).map(async (number) => {
        const bodies = (await bench.texts(number)).map(({ body }) => body);
        return ['First line.', 'Second line.'].map((one) => bodies.filter((body) => body === one).length);
      }),
    );
    const counts = new Map<string, number>();
    for (const one of got) counts.set(one.join(), (counts.get(one.join()) ?? 0) + 1);
    // What a kill met on its way is not sent again on a guess; whether it came shows in what the handset has.
    expect(await enrolled()).toBe(IN_SEQUENCE);
    expect([...counts.keys()].every((key) => key.split(',').every((n) => Number(n) <= 1))).toBe(true);
    const unconfirmed = (await lines()).find(({ state }) => state === 'unconfirmed')?.n ?? 0;
    const came = got.flat().reduce((sum, n) => sum + n, 0);
    expect(came).toBeGreaterThanOrEqual(2 * IN_SEQUENCE - unconfirmed);
  });
});
