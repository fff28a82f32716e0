import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { setPriority, tmpdir } from 'node:os';
import { join } from 'node:path';
import { MikroORM } from '@mikro-orm/postgresql';
import { UNCHECKED } from '@/core/wording/settings';
import { ormConfig } from '@/db/kit/config';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { createWorkspace } from '@/services/access/create-workspace';
import { makeContext } from '@/services/context';
import type { Context } from '@/services/kit/context';
import { migrate } from '@/services/migrate';
import { Bench, ROOT, saying, stopped } from './app';

/** As the start command gives way to whoever waits for a page. */
const SENDER_NICE = 5;

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
  web: ChildProcess | null = null;

  private constructor(
    readonly bench: Bench,
    readonly orm: MikroORM,
    private readonly benchProcess: ChildProcess,
    private readonly env: NodeJS.ProcessEnv,
  ) {}

  /** `window`: texts on their way at once; few, where a kill shall meet what waits and what is on its way. */
  static async start(port: number, databaseUrl: string, window = 50): Promise<Works> {
    const env = {
      ...process.env,
      DATABASE_URL: databaseUrl,
      WREN_DATA_DIR: mkdtempSync(join(tmpdir(), 'wren-kill-')),
      WREN_BENCH_PORT: String(port),
      WREN_SMPP_PORT: String(port + 1),
      WREN_MAIL_PORT: String(port + 2),
      WREN_MAIL_IN_PORT: String(port + 3),
      WREN_SMPP_WINDOW: String(window),
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
    this.worker = await this.start('worker', 30_000);
  }

  private async start(
    what: 'worker' | 'web',
    patienceMs: number,
    more: Record<string, string> = {},
  ): Promise<ChildProcess> {
    const child = spawn(process.execPath, [`dist/${what}.js`], {
      ...{ cwd: ROOT, env: { ...this.env, ...more }, stdio: ['ignore', 'pipe', 'pipe'] },
    });
    await saying(child, '"ready"', patienceMs).catch((error: unknown) => {
      child.kill('SIGKILL');
      throw error;
    });
    return child;
  }

  /** Two workers at once, as when one is being replaced. */
  async startTwo(): Promise<void> {
    await this.startWorker();
    this.second = this.worker;
    await this.startWorker();
  }

  /** As `npm start` runs them: one hands messages over, the other does all else. Killed is the first. */
  async startHalves(): Promise<void> {
    this.second = await this.start('worker', 30_000, { WREN_WORKER: 'rest' });
    await this.startSender();
  }

  async startSender(): Promise<void> {
    this.worker = await this.start('worker', 30_000, { WREN_WORKER: 'sends' });
    setPriority(this.worker.pid!, SENDER_NICE);
  }

  /** The pages, where they are wanted. */
  async startWeb(port: number): Promise<void> {
    this.web = await this.start('web', 60_000, { NODE_ENV: 'production', PORT: String(port) });
  }

  killWeb = (): Promise<void> => stopped(this.web!, 'SIGKILL');

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

  async house(slug: string, credits = 100_000): Promise<House> {
    const ctx = makeContext(this.orm, () => Date.now());
    const workspace = await createWorkspace(ctx, {
      ...{ slug, name: slug, business: slug, contact: 'x', zone: 'America/Denver' },
      ...{ weeklyCap: null, credits, wording: UNCHECKED },
    });
    return { ctx, within: (work) => inWorkspace(this.orm, workspace.id, work) };
  }

  async close(): Promise<void> {
    this.killWorkers();
    this.web?.kill('SIGKILL');
    this.benchProcess.kill();
    await this.orm.close(true);
    rmSync(this.env.WREN_DATA_DIR!, { recursive: true, force: true });
  }
}
