import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { MikroORM } from '@mikro-orm/postgresql';
import { expect } from 'vitest';
import { UNCHECKED } from '@/core/wording/settings';
import { ormConfig } from '@/db/kit/config';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { addSenderNumber, createWorkspace } from '@/services/access/create-workspace';
import { makeContext } from '@/services/context';
import type { Context } from '@/services/kit/context';
import { migrate } from '@/services/migrate';
import { findOrMakeLabel, setLabel } from '@/services/people/labels';
import { createProgram } from '@/services/programs/create-program';
import { createSequence, publishSequence } from '@/services/sequences/sequences';
import { addCrowd, fictionNumbers } from '@/services/testing/crowd';
import { Bench, ROOT, saying, stopped, until } from './app';

export const ME = { name: 'test', accountId: null };

/** A workspace of its own in Denver. */
export interface House {
  ctx: Context;
  within<T>(work: (scope: Scope) => Promise<T>): Promise<T>;
}

/** A bench and workers that are started and killed, without pages, on a database that is given. */
export class Works {
  worker: ChildProcess | null = null;
  second: ChildProcess | null = null;

  private constructor(
    readonly bench: Bench,
    readonly orm: MikroORM,
    private readonly benchProcess: ChildProcess,
    private readonly env: NodeJS.ProcessEnv,
  ) {}

  static async start(port: number, databaseUrl: string): Promise<Works> {
    const env = {
      ...process.env,
      DATABASE_URL: databaseUrl,
      WREN_DATA_DIR: mkdtempSync(join(tmpdir(), 'wren-kill-')),
      WREN_BENCH_PORT: String(port),
      WREN_SMPP_PORT: String(port + 1),
      WREN_MAIL_PORT: String(port + 2),
      WREN_MAIL_IN_PORT: String(port + 3),
      WREN_SMPP_WINDOW: '50',
    };
    const orm = MikroORM.initSync(ormConfig(databaseUrl)) as MikroORM;
    await migrate(orm);
    const benchProcess = spawn(process.execPath, ['dist/bench.js'], {
      ...{ cwd: ROOT, env, stdio: ['ignore', 'pipe', 'pipe'] },
    });
    await saying(benchProcess, '"ready"', 20_000);
    return new Works(new Bench(`http://127.0.0.1:${port}`), orm, benchProcess, env);
  }

  async startWorker(): Promise<void> {
    this.worker = spawn(process.execPath, ['dist/worker.js'], {
      ...{ cwd: ROOT, env: this.env, stdio: ['ignore', 'pipe', 'pipe'] },
    });
    await saying(this.worker, '"ready"', 30_000);
  }

  /** Two workers at once, as when one is being replaced. */
  async startTwo(): Promise<void> {
    await this.startWorker();
    this.second = this.worker;
    await this.startWorker();
  }

  killWorker = (): Promise<void> => stopped(this.worker!, 'SIGKILL');

  /** Resolves when the worker has ended by itself. */
  workerEnds = (): Promise<void> => new Promise((resolve) => this.worker!.once('exit', () => resolve()));

  killWorkers(): void {
    this.worker?.kill('SIGKILL');
    this.second?.kill('SIGKILL');
  }

  /** Noon in Denver is open from the Atlantic to Hawaii. */
  async toNoon(): Promise<void> {
    const hour = new Date(await this.bench.now()).toLocaleString('sv-SE', { timeZone: 'America/Denver' });
    await this.bench.advance(`PT${(24 + 12 - Number(hour.slice(11, 13))) % 24}H`);
  }

  async house(slug: string): Promise<House> {
    const ctx = makeContext(this.orm, () => Date.now());
    const workspace = await createWorkspace(ctx, {
      ...{ slug, name: slug, business: slug, contact: 'x', zone: 'America/Denver' },
      ...{ weeklyCap: null, credits: 100_000, wording: UNCHECKED },
    });
    return { ctx, within: (work) => inWorkspace(this.orm, workspace.id, work) };
  }

  async close(): Promise<void> {
    this.killWorkers();
    this.benchProcess.kill();
    await this.orm.close(true);
    rmSync(this.env.WREN_DATA_DIR!, { recursive: true, force: true });
  }
}

/** Somebody goes through two lines, a minute apart: as many people as are said, begun by a tag that all of them have. */
export class Series {
  private constructor(
    private readonly works: Works,
    private readonly house: House,
    private readonly people: number,
  ) {}

  static async begin(works: Works, people: number): Promise<Series> {
    const house = await works.house('series');
    const { ctx, within } = house;
    await works.toNoon();
    await within((scope) =>
      addSenderNumber(ctx, scope, {
        ...{ number: '55502', kind: 'short-code', registration: 'registered', partsPerSecond: 350 },
      }),
    );
    const label = await within(async (scope) => {
      const program = await createProgram(ctx, scope, { name: 'Series', purpose: 'utility' }, 'test');
      const tag = await findOrMakeLabel(ctx, scope, 'tag', 'series', 'test');
      if (!program.ok || !tag.ok) throw new Error('refused');
      await addCrowd(scope, program.value.id, people, { name: 'series' });
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
    return new Series(works, house, people);
  }

  /** How many messages there are in each state. */
  messages = () =>
    this.house.within((scope) =>
      scope.rows<{ state: string; n: number }>(
        `select state, count(*)::int as n from message where workspace_id = :workspace group by state`,
      ),
    );

  enrolled = async () =>
    (
      await this.house.within((scope) =>
        scope.rows<{ n: number }>(`select count(*)::int as n from enrolment where workspace_id = :workspace`),
      )
    )[0]!.n;

  /** Lets the minutes pass until nothing is on its way; then everybody had each line once at most, and nobody was lost. */
  async expectOnceEach(): Promise<void> {
    const { bench } = this.works;
    for (let minute = 0; minute < 3; minute++) {
      await bench.advance('PT1M');
      await new Promise((resolve) => setTimeout(resolve, 1_500));
    }
    const settled = (rows: { state: string; n: number }[], n: number) =>
      rows.every(({ state }) => state === 'delivered' || state === 'unconfirmed') &&
      rows.reduce((sum, row) => sum + row.n, 0) === n;
    await until(this.messages, (rows) => settled(rows, 2 * this.people), 60_000);
    const got = await Promise.all(
      fictionNumbers(this.people).map(async (number) => {
        const bodies = (await bench.texts(number)).map(({ body }) => body);
        return ['First line.', 'Second line.'].map((one) => bodies.filter((body) => body === one).length);
      }),
    );
    // What a kill met on its way is not sent again on a guess; whether it came shows in what the handset has.
    expect(await this.enrolled()).toBe(this.people);
    expect(Math.max(...got.flat())).toBe(1);
    const unconfirmed = (await this.messages()).find(({ state }) => state === 'unconfirmed')?.n ?? 0;
    const came = got.flat().reduce((sum, n) => sum + n, 0);
    expect(came).toBeGreaterThanOrEqual(2 * this.people - unconfirmed);
  }
}
