import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { ElementHandle } from 'puppeteer-core';
import { MINUTE } from '@/core/shared/instant';
import { callbackRate } from '@/core/voicemail/callbacks';
import { planWaves } from '@/core/voicemail/waves';
import { addSenderNumber } from '@/services/access/create-workspace';
import { createProgram } from '@/services/programs/create-program';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import type { CreateBroadcastInput } from '@/services/sends/inputs';
import { addCrowd, fictionNumbers } from '@/services/testing/crowd';
import { must } from '@/services/testing/people';
import { SAID, spoken, spokenWave } from '@/services/testing/voicemail';
import { connectVoicemail } from '@/services/voicemail/accounts';
import { createVoiceMessage } from '@/services/voicemail/messages';
import { openBrowser, signIn } from '../e2e/support/browser';
import { scratchDatabase, startApp, until } from '../e2e/support/app';
import { ME, Works, type House } from '../e2e/support/works';
import { quantile, round, say } from './report';

const PORT = 4660;
const DROPS = 20_000;
const KILLS = 2;

/** The plan of waves, drops by two workers of which one is killed, and a recording made ready in the browser. */
export async function benchVoicemail(parts: readonly string[]): Promise<void> {
  const wanted = (part: string) => parts.length === 0 || parts.includes(part);
  if (wanted('plan')) benchPlan();
  if (wanted('drops')) await benchDrops();
  if (wanted('browser')) await benchBrowser();
}

function benchPlan(): void {
  const from = Date.UTC(2026, 10, 24, 17, 0);
  const open = (at: number) => ((at - from) % (24 * 60 * MINUTE) < 8 * 60 * MINUTE ? 12 : 0);
  const times = Array.from({ length: 60 }, () => {
    const began = performance.now();
    planWaves({
      ...{ people: 10_000, from, mayDrop: (at: number) => open(at) > 0 },
      rate: callbackRate({ exposed: 400, called: 30, byQuarter: [14, 6, 3], later: 7 }),
      phones: { at: open, callTakes: 4 * MINUTE, mayBeBusy: 0.05 },
      left: [{ at: from - 20 * MINUTE, people: 60 }],
    });
    return performance.now() - began;
  });
  say('plan of waves for ten thousand people', { p95_ms: round(quantile(times, 0.95)), asked_ms: 50 });
}

async function benchDrops(): Promise<void> {
  const works = await Works.start(PORT, await scratchDatabase('bench_voicemail'));
  try {
    const house = await works.house('voice', 10_000_000);
    await works.toNoon();
    const recording = await furnish(house);
    await works.startTwo();
    await until(
      () =>
        house.within((scope) =>
          scope.rows<{ state: string }>(
            `select state from voicemail_account where workspace_id = :workspace`,
          ),
        ),
      ([row]) => row?.state === 'open',
    );
    const from = Date.now();
    await house.within(async (scope) => {
      const input = { program: 'Sky', name: 'Twenty thousand', channel: 'voicemail', recording };
      const made = must(await createBroadcast(house.ctx, scope, input as CreateBroadcastInput, ME));
      must(await sendBroadcast(house.ctx, scope, made.id, {}, ME));
    });
    const onTheWay: number[] = [];
    for (let kill = 1; kill <= KILLS; kill++) {
      await until(
        () => count(house, TAKEN),
        (n) => n > (kill * DROPS) / (KILLS + 1),
        300_000,
        100,
      );
      await works.killWorker();
      onTheWay.push(await count(house, `state = 'submitting'`));
      await works.startWorker();
    }
    await until(
      () => count(house, `${TAKEN} or state = 'unconfirmed'`),
      (n) => n === DROPS,
      300_000,
      200,
    );
    const seconds = (Date.now() - from) / 1_000;
    const unconfirmed = await count(house, `state = 'unconfirmed'`);
    // What a dead worker left is asked about a minute later.
    await works.bench.advance('PT2M');
    await until(
      () => count(house, TAKEN),
      (n) => n === DROPS,
      120_000,
      200,
    );
    const heard = await onHandsets(works);
    say('twenty thousand voicemails, two workers, one killed twice', {
      ...{ drops: DROPS, seconds: round(seconds), drops_per_second: Math.round(DROPS / seconds), asked: 300 },
      ...{ on_the_way_at_kills: onTheWay, unconfirmed, heard_once: heard.once, heard_twice: heard.twice },
    });
  } finally {
    await works.close();
  }
}

const TAKEN = `state in ('submitted', 'delivered')`;

const furnish = ({ ctx, within }: House): Promise<string> =>
  within(async (scope) => {
    await addSenderNumber(ctx, scope, {
      ...{ number: '+17195550110', kind: 'local', registration: 'registered', partsPerSecond: 10 },
    });
    const input = { name: 'Sky', purpose: 'utility' as const, sender_numbers: ['+17195550110'] };
    const program = must(await createProgram(ctx, scope, input, 'bench'));
    await addCrowd(scope, program.id, DROPS, { name: 'voice', channel: 'voicemail' });
    const account = { url: `http://127.0.0.1:${PORT}/voicemail`, account: 'juniper', token: 'bench' };
    must(await connectVoicemail(ctx, scope, account, ME));
    const words = SAID.replace('Juniper Gap Observatory', 'voice');
    const kept = must(
      await createVoiceMessage(ctx, scope, { name: 'Saturn', words, wave: spokenWave(5) }, ME),
    );
    return kept.recording.id;
  });

const count = async ({ within }: House, which: string): Promise<number> =>
  (
    await within((scope) =>
      scope.rows<{ n: number }>(
        `select count(*)::int as n from message where workspace_id = :workspace and channel = 'voicemail' and (${which})`,
      ),
    )
  )[0]!.n;

async function onHandsets({ bench }: Works): Promise<{ once: number; twice: number }> {
  let [once, twice] = [0, 0];
  for (const number of fictionNumbers(DROPS)) {
    const texts = (await bench.texts(number)) as unknown as { voicemail?: object }[];
    const heard = texts.filter(({ voicemail }) => voicemail !== undefined).length;
    if (heard === 1) once += 1;
    else if (heard > 1) twice += 1;
  }
  return { once, twice };
}

/** Notes in the page the longest time between two of its pictures. As text: nothing of ours is known in the page. */
const LOOK = `
  window.seen = { last: performance.now(), most: 0 };
  window.look = () => {
    const now = performance.now();
    window.seen.most = Math.max(window.seen.most, now - window.seen.last);
    window.seen.last = now;
    requestAnimationFrame(window.look);
  };
  window.look();`;

/** A minute of stereo as a file, made ready by the page: how long it takes, and for how long the page stood still. */
async function benchBrowser(): Promise<void> {
  const app = await startApp(PORT + 10, await scratchDatabase('bench_recorder'));
  const folder = mkdtempSync(join(tmpdir(), 'wren-recorder-'));
  const { browser, close } = await openBrowser();
  try {
    const path = join(folder, 'minute.wav');
    writeFileSync(path, stereoWave(59));
    const page = await browser.newPage();
    await signIn(page, app.web, 'odile@juniper-gap.example.org');
    await page.goto(`${app.web}/sends/voice-messages/new`, { waitUntil: 'load' });
    await page.waitForFunction(() => document.body.innerText.includes('What there is to mend'));
    const times: number[] = [];
    const stood: number[] = [];
    for (let i = 0; i < 4; i++) {
      await page.evaluate(LOOK);
      const field = (await page.waitForSelector('input[type=file]')) as ElementHandle<HTMLInputElement>;
      const from = Date.now();
      await field.uploadFile(path);
      await page.waitForFunction(() => document.body.innerText.includes('Making it ready'));
      await page.waitForFunction(() => document.body.innerText.includes('As a phone plays it'), {
        polling: 30,
      });
      times.push(Date.now() - from);
      stood.push(await page.evaluate(() => (window as unknown as { seen: { most: number } }).seen.most));
    }
    say('a minute made ready in the browser', {
      ...{ ms: Math.round(quantile(times, 0.5)), most_ms: Math.max(...times), asked_ms: 3_000 },
      page_stood_still_ms: Math.round(Math.max(...stood)),
    });
  } finally {
    await close();
    await app.stop();
    rmSync(folder, { recursive: true, force: true });
  }
}

/** Two channels of 48 kHz with 16 bits. */
function stereoWave(seconds: number): Buffer {
  const one = spoken(seconds, { rate: 48_000 });
  const wave = Buffer.alloc(44 + one.length * 4);
  wave.write('RIFF', 0);
  wave.writeUInt32LE(wave.length - 8, 4);
  wave.write('WAVEfmt ', 8);
  wave.writeUInt32LE(16, 16);
  wave.writeUInt16LE(1, 20);
  wave.writeUInt16LE(2, 22);
  wave.writeUInt32LE(48_000, 24);
  wave.writeUInt32LE(48_000 * 4, 28);
  wave.writeUInt16LE(4, 32);
  wave.writeUInt16LE(16, 34);
  wave.write('data', 36);
  wave.writeUInt32LE(one.length * 4, 40);
  one.forEach((sample, i) => {
    wave.writeInt16LE(Math.round(sample * 32_767), 44 + i * 4);
    wave.writeInt16LE(Math.round(sample * 30_000), 46 + i * 4);
  });
  return wave;
}
