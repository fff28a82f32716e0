import pg from 'pg';
import { databaseUrl } from '@/db/kit/orm';
import { writeDemo } from '@/demo/file';
import { playStory } from '@/demo/make';
import { DemoWorld } from '@/demo/world';
import { migrate } from '@/services/migrate';
import { registerWorker } from '@/services/delivery/register-worker';
import { makeContext } from '@/services/context';

/** Plays the demo's fourteen weeks through the real engines and writes the file that ships. */
const [path] = process.argv.slice(2);
// Noon in Denver on a Monday; loading moves the story next to today. In the past, so that ids of later rows sort after.
const START = Date.UTC(2026, 7, 17, 18, 0);
const orm = DemoWorld.open(databaseUrl());
await migrate(orm);
const listener = new pg.Client({ connectionString: databaseUrl() });
await listener.connect();
const workerId = await registerWorker(
  makeContext(orm, () => START),
  listener,
);
const world = new DemoWorld(orm, START, `http://127.0.0.1:${process.env.WREN_BENCH_PORT}`, workerId);
const began = Date.now();
await playStory(world, START, (line) => console.log(`${line}, ${Math.round((Date.now() - began) / 1000)} s`));
await writeDemo(orm, path!, world.at);
await listener.end();
await world.close();
process.exit(0);
