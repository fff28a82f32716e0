import { log } from '@/log/log';
import pg from 'pg';
import { getOrm, databaseUrl } from '@/db/kit/orm';
import { DUE_CHANNEL } from '@/db/delivery/texts';
import { registerWorker } from '@/services/delivery/register-worker';
import { makeContext, type Context } from '@/services/context';
import { HELD_WORDS, keepAlive, openInstallation, readHold } from '@/services/delivery/installation';
import { listenForMail, type MailListener } from '@/gateways/mail/listener';
import { smtpMail } from '@/gateways/mail/sender';
import { mm7Relay } from '@/gateways/mm7/relay';
import { mailboxes } from '@/services/mailboxes';
import {
  callHosts,
  chatHosts,
  chatsAtOnce,
  mailDoor,
  mailSettings,
  openClock,
  relaySettings,
  usesRealCarrier,
  voicemailsAtOnce,
} from '@/services/kit/settings';
import { workThrough, type Queue } from '@/services/kit/trouble';
import { Links } from './links';
import { chatNetwork } from '@/gateways/chat/network';
import { voicemailDropper } from '@/gateways/voicemail/dropper';
import { chats, letters, pictures, voicemails } from './ways';
import { every, type Timer } from './every';
import type { Tick } from '@/services/kit/room';
import { CONSUMERS, HAPPENING_QUEUE } from '@/services/follow';
import { follow, type Consumer } from '@/services/kit/happenings';
import { ROOMS } from '@/services/rooms';
import { forgetSettledTroubles } from '@/services/stuck';
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
  const links = new Links(ctx, workerId);
  const { timers, heard } = startTimers(ctx, links);
  const mails = openMail(ctx, workerId);
  const relay = relaySettings();
  const pictured = relay && pictures(ctx, workerId, mm7Relay(relay));
  const sendingPictures = pictured?.run();
  const chatting = chats(ctx, workerId, chatNetwork(chatHosts()), chatsAtOnce());
  const sendingChats = chatting.run();
  const dropping = voicemails(ctx, workerId, voicemailDropper(callHosts()), voicemailsAtOnce());
  const sendingVoicemails = dropping.run();
  // What arrives wakes who reads it; only what is due wakes delivery.
  listener.on('notification', ({ channel }) => {
    heard.get(channel)?.wake();
    if (channel === DUE_CHANNEL)
      [links, mails.delivery, pictured, chatting, dropping].forEach((delivery) => delivery?.wake());
  });
  for (const channel of [DUE_CHANNEL, ...heard.keys()]) await listener.query(`listen ${channel}`);
  await links.start();
  log.info({ ready: 'worker', id: workerId });
  const stop = async () => {
    timers.forEach((timer) => timer.stop());
    pictured?.stop();
    chatting.stop();
    dropping.stop();
    await Promise.all([links.stop(), mails.stop(), sendingPictures, sendingChats, sendingVoicemails]);
    process.exit(0);
  };
  process.once('SIGTERM', () => void stop());
  process.once('SIGINT', () => void stop());
}

/** Letters out, and letters to us. A process that finds the door taken leaves it to the one that holds it. */
function openMail(ctx: Context, workerId: number) {
  const settings = mailSettings();
  if (!settings) return { delivery: null, stop: () => Promise.resolve() };
  const delivery = letters(ctx, workerId, smtpMail(settings));
  const delivering = delivery.run();
  const door = keepDoor(ctx);
  return {
    delivery,
    stop: async () => {
      delivery.stop();
      await door.close();
      await delivering;
    },
  };
}

/** Looks again and again whether the door is free: whoever held it may have ended. */
function keepDoor(ctx: Context): { close(): Promise<void> } {
  const { port, host } = mailDoor();
  let open: MailListener | null = null;
  const timer = every(2_000, async () => {
    open ??= await listenForMail(port, host, mailboxes(ctx));
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
  const hold = await openInstallation(ctx);
  if (!hold) return;
  log.error(`Nothing is sent: ${HELD_WORDS[hold.because]} See “npm run restored”.`);
  log.info({ held: hold.because });
  while (await readHold(ctx)) await new Promise((resolve) => setTimeout(resolve, 1_000));
}

/** Things that become due by the clock, which may be moved: they are looked for, not scheduled. */
function startTimers(ctx: Context, links: Links): { timers: Timer[]; heard: Map<string, Timer> } {
  const waking = (wakes: true | undefined, done: number) => void (wakes && done > 0 && links.wake());
  const ofQueue = (queue: Queue): Timer => {
    const lanes = queue.lanes ? new Lanes(ctx, queue, queue.lanes) : null;
    return every(queue.everyMs, async () => {
      if (lanes) return lanes.fill();
      let done = await workThrough(ctx, queue);
      waking(queue.wakes, done);
      if (queue.tells && done > 0) consumers.forEach((timer) => timer.wake());
      while (queue.untilDone && done > 0) done = await workThrough(ctx, queue);
    });
  };
  const ofTick = ({ everyMs, run, wakes }: Tick): Timer =>
    every(everyMs, async () => waking(wakes, await run(ctx)));
  const ticks = ROOMS.flatMap((room) => room.ticks ?? []).map((tick) => ({ tick, timer: ofTick(tick) }));
  const following = ticks.filter(({ tick }) => tick.follows);
  const consumers = CONSUMERS.map((consumer) =>
    every(400, async () => {
      if ((await followAll(ctx, consumer)) > 0) following.forEach(({ timer }) => timer.wake());
    }),
  );
  const heard = new Map<string, Timer>();
  const queues = [HAPPENING_QUEUE, ...ROOMS.flatMap((room) => room.queues ?? [])].map((queue) => {
    const timer = ofQueue(queue);
    if (queue.channel) heard.set(queue.channel, timer);
    return timer;
  });
  const timers = [
    ...queues,
    ...consumers,
    ...ticks.map(({ timer }) => timer),
    every(5_000, async () => void (await forgetSettledTroubles(ctx))),
    every(5_000, async () => {
      const hold = await keepAlive(ctx, usesRealCarrier());
      if (hold) end(`Nothing is sent any more: ${HELD_WORDS[hold.because]}`);
    }),
  ];
  return { timers, heard };
}

/** All that happened, until there is no more. Gives how many slices there were. */
async function followAll(ctx: Context, consumer: Consumer): Promise<number> {
  let slices = 0;
  while ((await follow(ctx, consumer)) > 0) slices += 1;
  return slices;
}

function end(why: string): never {
  log.fatal(why);
  process.exit(1);
}

main().catch((error: Error) => end(error.message));
