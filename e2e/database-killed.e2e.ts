import { mkdtempSync, readFileSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { execFileSync } from 'node:child_process';
import pg from 'pg';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { onCluster } from '@/db/testing/database';
import { ROOT, until } from './support/app';
import { Series } from './support/series';
import { Works } from './support/works';

/*
 * A cluster of its own, with fsync on: what it has said yes to must be there after a crash. One of its processes dies
 * by signal 9 while it works on a slice; PostgreSQL then ends all the others at once and recovers from its log.
 */

const PEOPLE = 400;
let folder: string;
let url: string;
let logFile: string;
let works: Works;

const script = (...args: string[]): string =>
  execFileSync('bash', ['scripts/postgres.sh', ...args], { cwd: ROOT, encoding: 'utf8' }).trim();

beforeAll(async () => {
  folder = join(mkdtempSync(join(tmpdir(), 'wren-crash-')), 'db');
  url = script('ensure', folder, '5520', 'safe');
  works = await Works.start(4551, url);
  logFile = join(await dataDirectory(), '../server.log');
});
afterAll(async () => {
  await works?.close();
  script('stop', folder);
  rmSync(dirname(logFile), { recursive: true, force: true });
  rmSync(dirname(folder), { recursive: true, force: true });
});

/** Kills the process of the database that is writing for a worker, the moment there is one; waits until it is back. */
async function crash(series: Series): Promise<void> {
  const client = new pg.Client({ connectionString: url });
  client.on('error', () => {});
  await client.connect();
  const [writing] = await until(
    async () =>
      (
        await client.query<{ pid: number }>(
          `select pid from pg_stat_activity where backend_type = 'client backend' and backend_xid is not null and pid <> pg_backend_pid()`,
        )
      ).rows,
    (rows) => rows.length > 0,
    20_000,
    1,
  );
  const ended = works.workerEnds();
  process.kill(writing!.pid, 'SIGKILL');
  await ended;
  await until(
    () => series.enrolled().catch(() => null),
    (n) => n !== null,
    30_000,
  );
}

describe('the database killed in the middle of slices', () => {
  it(`gives each of ${PEOPLE} people each line of a sequence once, and loses nobody`, async () => {
    const series = await Series.begin(works, PEOPLE);
    const crashesBefore = recoveries();
    for (let round = 0; round < 5; round++) {
      await works.startWorker();
      await crash(series);
      if (round === 2) await works.bench.advance('PT1M');
    }
    expect(recoveries() - crashesBefore).toBe(5);
    await works.startTwo();
    await series.expectOnceEach();
  });
});

/** The script may keep the cluster elsewhere than it was asked to. */
const dataDirectory = async (): Promise<string> =>
  onCluster(url, async (client) => (await client.query(`show data_directory`)).rows[0].data_directory);

/** How often PostgreSQL came back from a crash, as its own log says. */
const recoveries = (): number =>
  readFileSync(logFile, 'utf8').split('automatic recovery in progress').length - 1;
