import { log } from '@/log/log';
import pg from 'pg';
import { getOrm, databaseUrl } from '@/db/kit/orm';
import { DUE_CHANNEL } from '@/db/delivery/texts';
import { beginSending, registerWorker } from '@/services/delivery/register-worker';
import { makeContext, type Context } from '@/services/context';
import { HELD_WORDS, keepAlive, openInstallation, readHold } from '@/services/delivery/installation';
import { listenForMail, type MailListener } from '@/gateways/mail/listener';
import { resolverOf } from '@/gateways/mail/proof';
import { smtpMail } from '@/gateways/mail/sender';
import { mm7Relay } from '@/gateways/mm7/relay';
import { mailboxes } from '@/services/mailboxes';
import {
  callHosts,
  chatHosts,
  chatsAtOnce,
  mailDoor,
  mailSettings,
  nameServers,
  openClock,
  relaySettings,
  usesRealCarrier,
  voicemailsAtOnce,
  workerDoes,
} from '@/services/kit/settings';
import { workThrough, type Queue } from '@/services/kit/trouble';
import { apart } from './apart';
import { Links } from './links';
import { chatNetwork } from '@/gateways/chat/network';
import { voicemailDropper } from '@/gateways/voicemail/dropper';
import { chats, letters, pictures, voicemails } from './ways';
import { every, type Timer } from './every';
import { Pulse } from './pulse';
import { reading } from '@/db/kit/scope';
import { HAPPENED_CHANNEL } from '@/db/kit/happenings';
import { readStir } from '@/db/kit/stir';
import { together } from '@/db/kit/together';
import type { Tick } from '@/services/kit/room';
import { CONSUMERS, HAPPENING_QUEUE } from '@/services/follow';
import { followAll, whoIsBehind, type Consumer, type Lag } from '@/services/kit/happenings';
import { ROOMS } from '@/services/rooms';
import { forgetSettledTroubles } from '@/services/stuck';
import { Lanes } from './lanes';

/** Who follows what happens is woken when something did; and looks by itself now and then. */
const LOOK_AROUND_MS = 30_000;

/** Who is behind is asked as soon as something happened, but not more often than this. */
const APART_MS = 50;
const LOOK_BEHIND_MS = 2_000;

/** What queues ask within this time is asked as one. */
const TOGETHER_MS = 10;

/** Delivery, timers, and three for each import under way. */
const CONNECTIONS = 24;

/** The background process: delivery, schedules, jobs, or a part of them. Run as many as needed against one database. */
async function main(): Promise<void> {
  const clock = await openClock();
  const ctx = makeContext(getOrm(databaseUrl(), CONNECTIONS), clock.now);
  const listener = await connected();
  // Losing the database connection loses the lock that says we live: better to end and be started again.
  listener.on('error', (error) => end(`The database connection was lost: ${error.message}`));
  const workerId = await registerWorker(ctx, listener);
  await untilMaySend(ctx);
  await beginSending(listener, workerId);
  const { sends, rest } = workerDoes();
  const ask = reading(ctx.orm);
  const pulse = new Pulse(ctx.now, (before) => readStir(ask, sends ? before : null));
  pulse.start();
  const ways = sends ? openWays(ctx, pulse, workerId) : null;
  const wakeWays = () => ways?.all.forEach((way) => way.wake());
  const { timers, heard } = rest
    ? startTimers(ctx, pulse, wakeWays)
    : { timers: [], heard: new Map<string, Timer[]>() };
  const door = rest && mailSettings() ? keepDoor(ctx) : null;
  const alive = every(5_000, async () => {
    const hold = await keepAlive(ctx, usesRealCarrier());
    if (hold) end(`Nothing is sent any more: ${HELD_WORDS[hold.because]}`);
  });
  // What arrives wakes who reads it; only what is due wakes delivery.
  listener.on('notification', ({ channel }) => {
    heard.get(channel)?.forEach((timer) => timer.wake());
    if (channel === DUE_CHANNEL) wakeWays();
  });
  for (const channel of [DUE_CHANNEL, ...heard.keys()]) await listener.query(`listen ${channel}`);
  await ways?.start();
  log.info({ ready: 'worker', id: workerId });
  const stop = async () => {
    [...timers, alive, pulse].forEach((timer) => timer.stop());
    await Promise.all([ways?.stop(), door?.close()]);
    process.exit(0);
  };
  process.once('SIGTERM', () => void stop());
  process.once('SIGINT', () => void stop());
}

/** Every way messages leave by. */
function openWays(ctx: Context, pulse: Pulse, workerId: number) {
  const links = new Links(ctx, workerId, pulse);
  const settings = mailSettings();
  const relay = relaySettings();
  const others = [
    ...(settings ? [letters(ctx, workerId, pulse, smtpMail(settings))] : []),
    ...(relay ? [pictures(ctx, workerId, pulse, mm7Relay(relay))] : []),
    chats(ctx, workerId, pulse, chatNetwork(chatHosts()), chatsAtOnce()),
    voicemails(ctx, workerId, pulse, voicemailDropper(callHosts()), voicemailsAtOnce()),
  ];
  const running = others.map((way) => way.run());
  return {
    all: [links, ...others],
    start: () => links.start(),
    async stop() {
      others.forEach((way) => way.stop());
      await Promise.all([links.stop(), ...running]);
    },
  };
}

/** Letters to us. Looks again and again whether the door is free: a process that finds it taken leaves it to who holds it. */
function keepDoor(ctx: Context): { close(): Promise<void> } {
  const { port, host } = mailDoor();
  let open: MailListener | null = null;
  const timer = every(2_000, async () => {
    open ??= await listenForMail(port, host, mailboxes(ctx), resolverOf(nameServers()));
  });
  return {
    async close() {
      timer.stop();
      await open?.close();
    },
  };
}

/** A connection, as soon as the database answers: while it is away a worker waits, instead of ending over and over. */
async function connected(): Promise<pg.Client> {
  for (;;) {
    const client = new pg.Client({ connectionString: databaseUrl() });
    try {
      await client.connect();
      return client;
    } catch (error) {
      log.error(`The database cannot be reached (${(error as Error).message}); trying again.`);
      await new Promise((resolve) => setTimeout(resolve, 1_000));
    }
  }
}

/** A copy, or what may be one, speaks to no carrier and begins nothing before somebody says go. */
async function untilMaySend(ctx: Context): Promise<void> {
  const hold = await openInstallation(ctx, !usesRealCarrier());
  if (!hold) return;
  log.error(`Nothing is sent: ${HELD_WORDS[hold.because]} See “npm run restored”.`);
  log.info({ held: hold.because });
  while (await readHold(ctx)) await new Promise((resolve) => setTimeout(resolve, 1_000));
}

/** Things that become due by the clock, which may be moved: they are looked for, not scheduled. */
function startTimers(
  ctx: Context,
  pulse: Pulse,
  wakeWays: () => void,
): { timers: Timer[]; heard: Map<string, Timer[]> } {
  const regularly = (ms: number, work: () => Promise<void>): Timer => every(ms, work, pulse);
  const ask = together(reading(ctx.orm), TOGETHER_MS);
  const waking = (wakes: true | undefined, done: number) => void (wakes && done > 0 && wakeWays());
  const ofQueue = (queue: Queue): Timer => {
    const lanes = queue.lanes ? new Lanes(ctx, queue, queue.lanes, ask) : null;
    return regularly(queue.everyMs, async () => {
      if (lanes) return lanes.fill();
      let done = await workThrough(ctx, queue, ask);
      waking(queue.wakes, done);
      while (queue.untilDone && done > 0) done = await workThrough(ctx, queue);
    });
  };
  const ofTick = ({ everyMs, run, wakes }: Tick): Timer =>
    regularly(everyMs, async () => waking(wakes, await run(ctx)));
  const ticks = ROOMS.flatMap((room) => room.ticks ?? []).map((tick) => ({ tick, timer: ofTick(tick) }));
  const following = ticks.filter(({ tick }) => tick.follows);
  // What was found for those that are woken.
  const lags = new Map<Consumer, Lag>();
  const consumers = new Map(
    CONSUMERS.map((consumer) => [
      consumer,
      every(LOOK_AROUND_MS, async () => {
        const known = lags.get(consumer);
        lags.delete(consumer);
        if (await followAll(ctx, consumer, known)) following.forEach(({ timer }) => timer.wake());
      }),
    ]),
  );
  // One question for all of them: few have something to take.
  let asked = -APART_MS;
  const happened = regularly(LOOK_BEHIND_MS, async () => {
    await apart(asked, APART_MS);
    asked = performance.now();
    for (const [consumer, lag] of await whoIsBehind(ctx, CONSUMERS)) {
      lags.set(consumer, lag);
      consumers.get(consumer)!.wake();
    }
  });
  const heard = new Map<string, Timer[]>([[HAPPENED_CHANNEL, [happened]]]);
  const queues = [HAPPENING_QUEUE, ...ROOMS.flatMap((room) => room.queues ?? [])].map((queue) => {
    const timer = ofQueue(queue);
    // Several queues may listen to one channel.
    if (queue.channel) heard.set(queue.channel, [...(heard.get(queue.channel) ?? []), timer]);
    return timer;
  });
  const timers = [
    ...queues,
    ...consumers.values(),
    happened,
    ...ticks.map(({ timer }) => timer),
    every(5_000, async () => void (await forgetSettledTroubles(ctx))),
  ];
  return { timers, heard };
}

function end(why: string): never {
  log.fatal(why);
  process.exit(1);
}

main().catch((error: Error) => end(error.message));
