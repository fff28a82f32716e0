import { run as runJobs, type Runner } from 'graphile-worker';
import pg from 'pg';
import { getOrm, databaseUrl } from '@/db/orm';
import { DUE_CHANNEL } from '@/db/queries/texts';
import { registerWorker, saveLinkState } from '@/services/register-worker';
import { searchDuplicates } from '@/services/duplicates';
import { advanceImports } from '@/services/import-engine';
import { runBatchSlice } from '@/services/batches';
import { SmppLink } from '@/gateways/smpp/link';
import { makeContext, type Context } from '@/services/context';
import {
  beginDueBroadcasts,
  finishBroadcasts,
  prepareBroadcast,
  resumePreparing,
} from '@/services/prepare-broadcast';
import { loseTextsOfDeadWorkers, settleLongSilence } from '@/services/recover';
import { carrierSettings, lineLookup, openClock } from '@/services/settings';
import { Delivery } from './delivery';
import { every } from './every';

/** The background process: delivery, schedules, jobs. Run as many as needed against one database. */
async function main(): Promise<void> {
  const clock = await openClock();
  const ctx = makeContext(getOrm(), clock.now);
  const listener = new pg.Client({ connectionString: databaseUrl() });
  await listener.connect();
  // Losing the database connection loses the lock that says we live: better to end and be started again.
  listener.on('error', (error) => end(`The database connection was lost: ${error.message}`));
  const workerId = await registerWorker(ctx, listener);
  const delivery = new Delivery(ctx, workerId, (state) => void saveLinkState(ctx, workerId, state));
  listener.on('notification', () => delivery.wake());
  await listener.query(`listen ${DUE_CHANNEL}`);
  const jobs = await startJobs(ctx);
  const timers = startTimers(ctx, delivery);
  const delivering = delivery.run(new SmppLink(carrierSettings(), delivery.events()));
  console.log(JSON.stringify({ ready: 'worker', id: workerId }));
  const stop = async () => {
    timers.forEach((timer) => timer.stop());
    delivery.stop();
    await Promise.all([delivering, jobs.stop()]);
    process.exit(0);
  };
  process.once('SIGTERM', () => void stop());
  process.once('SIGINT', () => void stop());
  await delivering;
}

function startJobs(ctx: Context): Promise<Runner> {
  return runJobs({
    connectionString: databaseUrl(),
    concurrency: 2,
    noHandleSignals: true,
    pollInterval: 1_000,
    taskList: {
      'prepare-broadcast': async (payload) => {
        const { workspaceId, broadcastId } = payload as { workspaceId: string; broadcastId: string };
        await prepareBroadcast(ctx, workspaceId, broadcastId);
      },
    },
  });
}

/** Things that become due by the clock, which may be moved: they are looked for, not scheduled. */
function startTimers(ctx: Context, delivery: Delivery) {
  const lookup = lineLookup();
  return [
    every(200, async () => void (await beginDueBroadcasts(ctx))),
    every(500, async () => void (await finishBroadcasts(ctx))),
    every(1_000, () => resumePreparing(ctx)),
    every(300, async () => {
      while (await runBatchSlice(ctx));
    }),
    every(400, () => advanceImports(ctx, lookup)),
    every(1_000, async () => void (await searchDuplicates(ctx))),
    every(1_000, async () => {
      if ((await loseTextsOfDeadWorkers(ctx)) > 0) delivery.wake();
    }),
    every(2_000, async () => {
      if ((await settleLongSilence(ctx)) > 0) delivery.wake();
    }),
  ];
}

function end(why: string): never {
  console.error(why);
  process.exit(1);
}

main().catch((error: Error) => end(error.message));
