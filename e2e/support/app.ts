import { patiently } from './patience';
import { spawn, type ChildProcess } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import pg from 'pg';
import { onCluster, testCluster } from '@/db/testing/database';

export const ROOT = fileURLToPath(new URL('../../', import.meta.url));

export interface App {
  web: string;
  bench: Bench;
  databaseUrl: string;
  /** Runs a query on the application's database: to look, never to make what is tested. */
  query<T extends object>(sql: string, values?: unknown[]): Promise<T[]>;
  apiKey(): Promise<string>;
  /** Runs one of the commands of package.json on its database; what it says. */
  command(...args: string[]): Promise<string>;
  /** The process of this name that `npm start` runs for it. */
  process(name: 'sender' | 'worker' | 'web' | 'bench'): number;
  /** What the start command said. */
  said(): string;
  stop(): Promise<void>;
}

/** An empty database, or a copy of another. */
export async function scratchDatabase(name: string, template?: string): Promise<string> {
  const cluster = testCluster();
  await onCluster(cluster, async (client) => {
    await client.query(`drop database if exists "${name}" with (force)`);
    await client.query(
      `create database "${name}"${template ? ` template "${template}" strategy file_copy` : ''}`,
    );
  });
  return cluster.replace(/\/postgres$/, `/${name}`);
}

/** A database that holds the demo, of which no bench knows yet: filled once a build, copied from then on. */
async function demoDatabase(name: string): Promise<string> {
  const stamp = readFileSync(join(ROOT, '.next/source-stamp'), 'utf8').slice(0, 12);
  const template = `test_demo_${stamp}`;
  await onCluster(testCluster(), async (client) => {
    // Two files begin beside each other: one fills it.
    await client.query(`select pg_advisory_lock(hashtext($1))`, [template]);
    if (!(await hasDatabase(template))) await fillDemo(template);
  });
  return scratchDatabase(name, template);
}

async function fillDemo(name: string): Promise<void> {
  const [databaseUrl, dataDir] = [
    await scratchDatabase(`${name}_new`),
    mkdtempSync(join(tmpdir(), 'wren-demo-')),
  ];
  const env = {
    ...process.env,
    DATABASE_URL: databaseUrl,
    WREN_DATA_DIR: dataDir,
    ...{ WREN_BENCH_PORT: '4920', WREN_SMPP_PORT: '4922', WREN_MAIL_PORT: '4923', WREN_MAIL_IN_PORT: '4924' },
  };
  const bench = spawn(process.execPath, ['dist/bench.js'], {
    ...{ cwd: ROOT, env, stdio: ['ignore', 'pipe', 'pipe'] },
  });
  try {
    await saying(bench, '"ready"', 30_000);
    await output(['dist/demo.js', 'fill'], env);
  } finally {
    await stopped(bench, 'SIGTERM');
    rmSync(dataDir, { recursive: true, force: true });
  }
  await onCluster(testCluster(), (client) =>
    client.query(`alter database "${name}_new" rename to "${name}"`),
  );
}

export const hasDatabase = (name: string): Promise<boolean> =>
  onCluster(
    testCluster(),
    async (client) =>
      (await client.query(`select from pg_database where datname = $1`, [name])).rows.length > 0,
  );

/** The application as `npm start` runs it, with the demo unless `more` says no, on ports and a database of its own, or on one that is given. */
export async function startApp(
  port: number,
  given?: string,
  more: Record<string, string> = {},
): Promise<App> {
  const withDemo = given === undefined && !more.WREN_NO_DEMO;
  const name = `test_app_${port}`;
  const databaseUrl = given ?? (withDemo ? await demoDatabase(name) : await scratchDatabase(name));
  const dataDir = mkdtempSync(join(tmpdir(), 'wren-e2e-'));
  const env = {
    ...process.env,
    DATABASE_URL: databaseUrl,
    WREN_DATA_DIR: dataDir,
    PORT: String(port),
    WREN_BENCH_PORT: String(port + 1),
    WREN_SMPP_PORT: String(port + 2),
    WREN_MAIL_PORT: String(port + 3),
    WREN_MAIL_IN_PORT: String(port + 4),
    ...(withDemo ? { WREN_DEMO: 'open' } : {}),
    ...more,
  };
  const child = spawn(process.execPath, ['scripts/start.mjs'], {
    cwd: ROOT,
    env,
    stdio: ['ignore', 'pipe', 'pipe'],
  });
  let said = '';
  for (const stream of [child.stdout, child.stderr])
    stream.on('data', (chunk: Buffer) => (said += chunk.toString()));
  await saying(child, 'Steady Wren is running', 200_000);
  const client = new pg.Client({ connectionString: databaseUrl });
  // The database may be killed under it.
  client.on('error', () => {});
  await client.connect();
  return {
    web: `http://localhost:${port}`,
    bench: new Bench(`http://127.0.0.1:${port + 1}`),
    databaseUrl,
    query: async <T extends object>(sql: string, values?: unknown[]) =>
      (await client.query<T>(sql, values)).rows,
    apiKey: () => output(['scripts/run-command.mjs', 'api-key', '--workspace', 'juniper-gap'], env),
    command: (...args) => output(['scripts/run-command.mjs', ...args], env),
    process: (name) =>
      name === 'sender' || name === 'worker'
        ? childThat(child.pid!, 'environ', `WREN_WORKER=${name === 'sender' ? 'sends' : 'rest'}`)
        : childThat(child.pid!, 'cmdline', `dist/${name}.js`),
    said: () => said,
    async stop() {
      await client.end();
      await stopped(child, 'SIGTERM');
      rmSync(dataDir, { recursive: true, force: true });
    },
  };
}

/** The child of a process of which the kernel says this. */
export function childThat(parent: number, where: 'cmdline' | 'environ', says: string): number {
  const children = readFileSync(`/proc/${parent}/task/${parent}/children`, 'utf8').trim().split(' ');
  const found = children.find((pid) => readFileSync(`/proc/${pid}/${where}`, 'utf8').includes(says));
  if (!found) throw new Error(`${says} is not running`);
  return Number(found);
}

/** Signals a process and waits until it is gone. */
export function stopped(child: ChildProcess, signal: 'SIGTERM' | 'SIGKILL'): Promise<void> {
  return new Promise((resolve) => {
    child.once('exit', () => resolve());
    child.kill(signal);
  });
}

/** Resolves once a process has said something; rejects with what it said instead. */
export function saying(child: ChildProcess, words: string, patienceMs: number): Promise<string> {
  let said = '';
  return new Promise((resolve, reject) => {
    const late = setTimeout(
      () => reject(new Error(`Nothing of "${words}" in ${patienceMs} ms:\n${said}`)),
      patiently(patienceMs),
    );
    const hear = (chunk: Buffer) => {
      said += chunk.toString();
      if (!said.includes(words)) return;
      clearTimeout(late);
      // What else it says is let go by: whoever measures must not spend time on it.
      for (const stream of [child.stdout, child.stderr]) stream?.off('data', hear).resume();
      resolve(said);
    };
    child.stdout?.on('data', hear);
    child.stderr?.on('data', hear);
    child.once('exit', (code) => (clearTimeout(late), reject(new Error(`Ended with ${code}:\n${said}`))));
  });
}

export function output(args: string[], env: NodeJS.ProcessEnv): Promise<string> {
  return new Promise((resolve, reject) => {
    const child = spawn(process.execPath, args, { cwd: ROOT, env, stdio: ['ignore', 'pipe', 'inherit'] });
    let said = '';
    child.stdout.on('data', (chunk: Buffer) => (said += chunk.toString()));
    child.once('exit', (code) =>
      code === 0 ? resolve(said.trim()) : reject(new Error(`${args.join(' ')} ended with ${code}:\n${said}`)),
    );
  });
}

export interface Received {
  from: string;
  body: string;
  at: string;
  /** Of a chat message: what can be pressed under it. */
  buttons?: { words: string }[];
}

/** The outside world, over its own HTTP API. */
export class Bench {
  constructor(readonly url: string) {}

  async call<T>(method: string, path: string, body?: object): Promise<T> {
    const response = await fetch(`${this.url}${path}`, {
      method,
      headers: { 'content-type': 'application/json' },
      ...(body ? { body: JSON.stringify(body) } : {}),
    });
    const json = (await response.json()) as T;
    if (!response.ok) throw new Error(`${method} ${path}: ${JSON.stringify(json)}`);
    return json;
  }

  handset = (number: string) => this.call('POST', '/handsets', { number });
  text = (from: string, to: string, body: string) =>
    this.call('POST', `/handsets/${encodeURIComponent(from)}/texts`, { to, body });
  texts = async (number: string) =>
    (await this.call<{ texts: Received[] }>('GET', `/handsets/${encodeURIComponent(number)}/texts`)).texts;
  advance = (by: string) => this.call<{ now: string }>('POST', '/clock', { advance: by });
  now = async () => Date.parse((await this.call<{ now: string }>('GET', '/clock')).now);

  /** Waits until a handset has at least this many texts. */
  async received(number: string, atLeast: number, patienceMs = 40_000): Promise<Received[]> {
    return until(
      () => this.texts(number),
      (texts) => texts.length >= atLeast,
      patienceMs,
    );
  }
}

/** Asks again until the answer is good; when it never is, the test fails with the last one. */
export async function until<T>(
  ask: () => Promise<T>,
  good: (answer: T) => boolean,
  patienceMs = 40_000,
  everyMs = 50,
): Promise<T> {
  const end = Date.now() + patiently(patienceMs);
  for (;;) {
    const answer = await ask();
    if (good(answer)) return answer;
    if (Date.now() > end)
      throw new Error(`Not in ${patienceMs} ms; the last answer: ${JSON.stringify(answer)?.slice(0, 2_000)}`);
    await new Promise((resolve) => setTimeout(resolve, everyMs));
  }
}
