import pg from 'pg';
import { getOrm, databaseUrl } from '@/db/kit/orm';
import { DUE_CHANNEL } from '@/db/delivery/texts';
import { registerWorker, saveLinkState } from '@/services/delivery/register-worker';
import { BATCH_QUEUE } from '@/services/batches/batches';
import { DUPLICATE_QUEUE } from '@/services/people/duplicates';
import { importQueue } from '@/services/imports/engine';
import { SmppLink } from '@/gateways/smpp/link';
import { makeContext, type Context } from '@/services/kit/context';
import { BEGIN_QUEUE, FINISH_QUEUE, PREPARE_QUEUE } from '@/services/sends/prepare-broadcast';
import { HELD_WORDS, keepAlive, openInstallation, readHold } from '@/services/delivery/installation';
import { dropForgottenFiles } from '@/services/imports/imports';
import { forgetPresses } from '@/services/kit/press';
import { forgetSettledTroubles, RECEIPT_QUEUE } from '@/services/queues';
import { readExpiredParts } from '@/services/inbox/receive-text';
import { loseTextsOfDeadWorkers, settleLongSilence } from '@/services/delivery/recover';
import { carrierSettings, lineLookup, openClock, usesRealCarrier } from '@/services/kit/settings';
import { dropOldReceipts, joinReceipts } from '@/services/delivery/store-answers';
import { workThrough, type Queue } from '@/services/kit/trouble';
import { UNREAD_QUEUE } from '@/services/inbox/unread-texts';
import { Delivery } from './delivery';
import { every } from './every';
import { Lanes } from './lanes';

/** Delivery, timers, and three for each import under way. */
const CONNECTIONS = 24;

/** The background process: delivery, schedules, jobs. Run as many as needed against one database. */
async function main(): Promise<void> {
  const clock = await openClock();
  const ctx = makeContext(getOrm(databaseUrl(), CONNECTIONS), clock.now);
  const listener = await connected();
  // Losing the database connection loses the lock that says we live: better to end and be started again.
  listener.on('error', (error) => end(`The database connection was lost: ${error.message}`));
  const workerId = await registerWorker(ctx, listener);
  await untilMaySend(ctx);
  const delivery = new Delivery(ctx, workerId, (state) => void saveLinkState(ctx, workerId, state));
  listener.on('notification', () => delivery.wake());
  await listener.query(`listen ${DUE_CHANNEL}`);
  const timers = startTimers(ctx, delivery);
  const delivering = delivery.run(new SmppLink(carrierSettings(), delivery.events()));
  console.log(JSON.stringify({ ready: 'worker', id: workerId }));
  const stop = async () => {
    timers.forEach((timer) => timer.stop());
    delivery.stop();
    await delivering;
    process.exit(0);
  };
  process.once('SIGTERM', () => void stop());
  process.once('SIGINT', () => void stop());
  await delivering;
}

/** A connection, as soon as the database answers: while it is away a worker waits, instead of ending over and over. */
async function connected(): Promise<pg.Client> {
  for (;;) {
    const client = new pg.Client({ connectionString: databaseUrl() });
    try {
      await client.connect();
      return client;
    } catch (error) {
      console.error(`The database cannot be reached (${(error as Error).message}); trying again.`);
      await new Promise((resolve) => setTimeout(resolve, 1_000));
    }
  }
}

/** A copy, or what may be one, speaks to no carrier and begins nothing before somebody says go. */
async function untilMaySend(ctx: Context): Promise<void> {
  const hold = await openInstallation(ctx);
  if (!hold) return;
  console.error(`Nothing is sent: ${HELD_WORDS[hold.because]} See “npm run restored”.`);
  console.log(JSON.stringify({ held: hold.because }));
  while (await readHold(ctx)) await new Promise((resolve) => setTimeout(resolve, 1_000));
}

/** Imports take long: so many are under way at once, of different workspaces. */
const IMPORTS_AT_ONCE = 3;

/** Things that become due by the clock, which may be moved: they are looked for, not scheduled. */
function startTimers(ctx: Context, delivery: Delivery) {
  const through = (ms: number, queue: Queue) => every(ms, async () => void (await workThrough(ctx, queue)));
  const imports = new Lanes(ctx, importQueue(lineLookup()), IMPORTS_AT_ONCE);
  const waking = (ms: number, work: () => Promise<number>) =>
    every(ms, async () => {
      if ((await work()) > 0) delivery.wake();
    });
  return [
    through(200, BEGIN_QUEUE),
    through(200, PREPARE_QUEUE),
    through(500, FINISH_QUEUE),
    every(300, async () => {
      while ((await workThrough(ctx, BATCH_QUEUE)) > 0);
    }),
    every(400, () => imports.fill()),
    through(1_000, DUPLICATE_QUEUE),
    waking(1_000, () => workThrough(ctx, UNREAD_QUEUE)),
    waking(5_000, () => readExpiredParts(ctx)),
    through(1_000, RECEIPT_QUEUE),
    waking(1_000, () => loseTextsOfDeadWorkers(ctx)),
    waking(1_000, () => joinReceipts(ctx)),
    waking(2_000, () => settleLongSilence(ctx)),
    every(5_000, async () => {
      const hold = await keepAlive(ctx, usesRealCarrier());
      if (hold) end(`Nothing is sent any more: ${HELD_WORDS[hold.because]}`);
    }),
    every(5_000, async () => void (await forgetSettledTroubles(ctx))),
    every(3_600_000, async () => void (await forgetPresses(ctx))),
    every(3_600_000, async () => void (await dropForgottenFiles(ctx))),
    every(3_600_000, async () => void (await dropOldReceipts(ctx))),
  ];
}

function end(why: string): never {
  console.error(why);
  process.exit(1);
}

main().catch((error: Error) => end(error.message));
