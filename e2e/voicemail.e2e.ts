import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, ElementHandle, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { SAID, spokenWave } from '@/services/testing/voicemail';
import { apiOf, choosing, pressing } from './support/acts';
import { startApp, until, type App } from './support/app';
import { violations } from './support/axe';
import { openBrowser, signIn } from './support/browser';
import { keysOf, type Keys } from './support/keys';

const folder = mkdtempSync(join(tmpdir(), 'wren-voice-'));
const VOICE = join(folder, 'voice.wav');

let app: App;
let browser: Browser;
let closeBrowser: () => Promise<void>;
let page: Page;
let keys: Keys;
let api: Awaited<ReturnType<typeof apiOf>>;
let ours: string;

const press = pressing(() => page);
const choose = choosing(() => page);
const open = (path: string) => page.goto(`${app.web}${path}`, { waitUntil: 'load' });
/** Numbers of the mountains that nobody of the story has. */
let free: string[] = [];
const number = (i: number): string => free[i]!;

beforeAll(async () => {
  writeFileSync(VOICE, spokenWave(30));
  app = await startApp(4740);
  // What the microphone hears is played from a file.
  ({ browser, close: closeBrowser } = await openBrowser([
    '--use-fake-device-for-media-stream',
    '--use-fake-ui-for-media-stream',
    `--use-file-for-fake-audio-capture=${VOICE}`,
  ]));
  page = await browser.newPage();
  await page.setViewport({ width: 1280, height: 1_000 });
  keys = keysOf(page);
  api = await apiOf(app);
  await signIn(page, app.web, 'odile@juniper-gap.example.org');
  const all = ['303', '505', '719', '720', '801', '970'].flatMap((code) =>
    Array.from({ length: 100 }, (_, i) => `+1${code}5550${100 + i}`),
  );
  const known = await app.query<{ value: string }>(
    `select value from address where kind = 'number' union select number from sender_number`,
  );
  const taken = new Set(known.map(({ value }) => value));
  free = all.filter((one) => !taken.has(one));
  [{ number: ours }] = (await app.query<{ number: string }>(
    `select number from sender_number where voice and released_at is null order by id limit 1`,
  )) as [{ number: string }];
});
afterAll(async () => {
  await closeBrowser?.();
  await app?.stop();
  rmSync(folder, { recursive: true, force: true });
});

/** Gives a file to the field that takes one. */
async function give(name: string, bytes: Buffer): Promise<void> {
  const path = join(folder, name);
  writeFileSync(path, bytes);
  const field = (await page.waitForSelector('input[type=file]')) as ElementHandle<HTMLInputElement>;
  await field.uploadFile(path);
}

const heard = async (who: string): Promise<number> => {
  const texts = (await app.bench.texts(who)) as unknown as { voicemail?: object }[];
  return texts.filter(({ voicemail }) => voicemail !== undefined).length;
};
const BESIDE = 'I have just left you a voicemail about Saturn.';
const SIGNED = `Juniper Gap Observatory: ${BESIDE} Reply STOP to stop.`;
const textsTo = async (who: string): Promise<number> =>
  (await app.bench.texts(who)).filter(({ body }) => body.includes(BESIDE)).length;
const ring = async (from: string, act: 'answer' | 'miss'): Promise<void> => {
  const { id } = (await app.bench.call('POST', '/switchboard/calls', { from, to: ours })) as { id: string };
  await app.bench.call('POST', `/switchboard/calls/${id}`, { act, agent: 'Tess Nightjar' });
  if (act === 'answer') await app.bench.call('POST', `/switchboard/calls/${id}`, { act: 'hang-up' });
};

describe('a voice message', () => {
  it('is recorded in the page, heard as a phone plays it, checked while it is made, and kept', async () => {
    await open('/sends/voice-messages/new');
    await keys.see('What there is to mend');
    await page.type('input[maxlength="80"]', 'Saturn on Friday');
    await press('Record it');
    await keys.see('16 of 60 seconds');
    await press('Stop');
    await keys.see('As a phone plays it');
    await keys.see('is kept at');
    expect(await page.$$('audio')).toHaveLength(2);
    await page.type('textarea', 'Come and see Saturn.');
    await keys.see('Say at the start who calls');
    await keys.see('Say how to opt out');
    await page.$eval('textarea', (field) => field.select());
    await page.type('textarea', SAID);
    await page.waitForFunction(() => !document.body.innerText.includes('must '));
    expect(await violations(page)).toEqual([]);
    await press('Keep it');
    await keys.see('Version 1');
    expect(await violations(page)).toEqual([]);
    const [kept] = await app.query<{ seconds: number; loudness: number }>(
      `select seconds, (facts ->> 'loudness')::float8 as loudness from voice_recording order by created_at desc limit 1`,
    );
    expect(kept!.seconds).toBeGreaterThan(10);
    expect(Math.abs(kept!.loudness + 16)).toBeLessThan(1.5);
  });

  it('is cut on its waveform by the keyboard alone', async () => {
    await open('/sends/voice-messages/new');
    await give('long.wav', spokenWave(40));
    await keys.see('After 30 most people delete a voicemail');
    await keys.tabTo('Ends at');
    for (let i = 0; i < 18; i++) await page.keyboard.press('PageDown');
    await page.waitForFunction(() => !document.body.innerText.includes('most people delete'));
    await keys.see('22.0 s');
  });

  it.each([
    [
      'a damaged file',
      'broken.mp3',
      Buffer.from('ID3\u0003 nothing that sounds'),
      'cannot be read: the file is damaged',
    ],
    ['a film', 'film.mp4', Buffer.from('....ftypisom'), 'is a film'],
    ['silence', 'silence.wav', silentWave(20), 'Nothing is to be heard in it'],
    ['an empty file', 'empty.wav', Buffer.alloc(0), 'is empty'],
  ])('is none: %s, and says so', async (_, name, bytes, words) => {
    await open('/sends/voice-messages/new');
    await give(name, bytes);
    await keys.see(words);
  });

  it('can be made where the microphone is refused, by a file, and says how', async () => {
    const other = await browser.newPage();
    await other.evaluateOnNewDocument(() => {
      navigator.mediaDevices.getUserMedia = () => Promise.reject(new DOMException('no', 'NotAllowedError'));
    });
    await other.goto(`${app.web}/sends/voice-messages/new`, { waitUntil: 'load' });
    const theirs = keysOf(other);
    await theirs.see('What there is to mend');
    await pressing(() => other)('Record it');
    await theirs.see('does not let this page hear the microphone');
    await other.close();
  });
});

describe('a drop', () => {
  it('shows who gets it and the calls it brings, goes in waves, and each phone rings once', async () => {
    const people: string[] = [];
    for (let i = 1; i <= 20; i++) {
      const made = await api('POST', '/people', {
        ...{ number: number(i), first_name: `Caller${i}` },
        consent: { program: 'Dome Members', channel: 'voicemail', wording: 'You may leave me voicemails.' },
      });
      people.push(String(made.id));
    }
    // Three of them may be texted too.
    for (const person of people.slice(0, 3))
      await api('POST', `/people/${person}/consents`, {
        ...{ program: 'Dome Members', channel: 'sms', wording: 'Text me about the dome.' },
      });
    const batch = await api('POST', '/batches', { name: 'Twenty', action: 'keep', people });
    const audience = encodeURIComponent(JSON.stringify({ ask: 'batch', id: batch.id, has: true }));
    await open(`/sends/new?channel=voicemail&audience=${audience}`);
    await choose('To members of', 'Dome Members');
    await choose('What is heard', 'Saturn on Friday');
    await page.evaluate(() => {
      const label = [...document.querySelectorAll('label')].find((one) =>
        one.textContent?.startsWith('Name, for you'),
      )!;
      document.getElementById(label.htmlFor)!.focus();
    });
    await keys.type('Twenty at the phones');
    await keys.see('Calls it brings back');
    await keys.see('80 credits for 20 voicemails');
    await page.click('section[aria-label="Told beside it"] input[type=checkbox]');
    await page.waitForSelector('section[aria-label="Told beside it"] [role="textbox"]');
    await page.focus('section[aria-label="Told beside it"] [role="textbox"]');
    // Who writes, and how to stop, is missing: it is said when it is sent.
    await keys.type(BESIDE);
    await keys.see('3 people, 3 credits beside its own. 17 people may not be told so.');
    expect(await violations(page)).toEqual([]);
    await press('Send to 20');
    await keys.see('Reply STOP');
    await page.focus('section[aria-label="Told beside it"] [role="textbox"]');
    await page.keyboard.down('Control');
    await page.keyboard.press('a');
    await page.keyboard.up('Control');
    await keys.type(SIGNED);
    await keys.see('3 people, 3 credits beside its own');
    await press('Send to 20');
    await keys.see('What it brought back');
    // Whatever the hour: they are left where they may be, while somebody is at the phones.
    await until(
      async () => {
        await app.bench.advance('PT20M');
        const left = await Promise.all(people.map((_, i) => heard(number(i + 1))));
        return left.reduce((sum, one) => sum + one, 0);
      },
      (left) => left === 20,
      240_000,
      1_200,
    );
    for (let i = 1; i <= 20; i++) expect(await heard(number(i))).toBe(1);
    // What is told after it is told to who may be texted, once.
    const told = await until(
      async () => {
        await app.bench.advance('PT3M');
        return Promise.all(people.map((_, i) => textsTo(number(i + 1))));
      },
      (counts) => counts.slice(0, 3).every((n) => n === 1),
      120_000,
      1_000,
    );
    expect(told.slice(3)).toEqual(told.slice(3).map(() => 0));
    const waves = await app.query<{ people: number }>(
      `select w.people from drop_wave w join broadcast b on b.id = w.send_id where b.name = 'Twenty at the phones'`,
    );
    expect(waves.reduce((sum, one) => sum + one.people, 0)).toBe(20);
  });

  it('finds who called back, shows it with its interval, and who reached nobody stands on the desk', async () => {
    await ring(number(1), 'answer');
    await ring(number(2), 'miss');
    await until(
      () =>
        app.query(
          `select 1 from call where address = any($1) and after_send_id is not null and ended_at is not null`,
          [[number(1), number(2)]],
        ),
      (rows) => rows.length === 2,
    );
    const [send] = await app.query<{ id: string }>(
      `select id from broadcast where name = 'Twenty at the phones'`,
    );
    await open(`/sends/${send!.id}`);
    await page.waitForFunction(() => /rang back\s+2\s+10/.test(document.body.innerText));
    await keys.see('Told 2 minutes after it, 3 so far');
    await keys.see('So few were left that the next drop may turn out quite differently');
    expect(await violations(page)).toEqual([]);
    await open('/inbox/calls');
    await keys.see('Caller2');
    await keys.see('rang back, reached nobody');
    expect(await violations(page)).toEqual([]);
  });
});

describe('the desk for calling back', () => {
  it('notes what a call came to by one key, and the text leaves the number that called', async () => {
    await api('POST', '/people', {
      ...{ number: number(40), first_name: 'Zephyrine' },
      consent: { program: 'Dome Members', wording: 'Text me about the dome.' },
    });
    await app.bench.call('PUT', '/switchboard/moods', { twice_share: 0.5 });
    await ring(number(40), 'miss');
    await until(
      () => app.query(`select 1 from call where address = $1 and ended_at is not null`, [number(40)]),
      (rows) => rows.length === 1,
    );
    await open('/inbox/calls');
    await keys.see('Zephyrine');
    await press('Zephyrine');
    await page.waitForFunction(() => document.querySelector('h2')?.textContent === 'Zephyrine');
    const at = await page.$$eval('section kbd', (nodes) =>
      nodes.findIndex((node) => node.parentElement?.textContent?.includes('No answer, left a message')),
    );
    await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    await page.keyboard.press(String(at + 1) as '1');
    await page.waitForFunction(
      () => !document.querySelector('ol[aria-label="To call"]')?.textContent?.includes('Zephyrine'),
    );
    const texts = await until(
      async () => {
        await app.bench.advance('PT30M');
        return app.bench.texts(number(40));
      },
      (got) => got.some(({ body }) => body.includes('I just tried to call you back')),
      120_000,
      1_000,
    );
    const said = texts.filter(({ body }) => body.includes('I just tried to call you back'));
    expect(said).toHaveLength(1);
    expect(said[0]!.from).toBe(ours);
    const [person] = await app.query<{ id: string }>(`select id from person where number = $1`, [number(40)]);
    await open(`/inbox/${person!.id}`);
    await keys.see('nobody picked up');
    await keys.see('was followed by a text');
    expect(await violations(page)).toEqual([]);
    await open('/inbox/calls/outcomes');
    await keys.see('It begins the sequence');
    expect(await violations(page)).toEqual([]);
    await open(`/inbox/${person!.id}`);
    await press('Note a call');
    await choose('Who called', 'they called us');
    await choose('What it came to', 'Spoke');
    await page.type('input[name=minutes]', '3');
    await press('Note the call');
    await keys.see('spoken for 3:00 min');
    await press('It came to something else');
    await choose('Outcome', 'Call again later');
    await press('Note it');
    await until(
      () =>
        app.query<{ name: string }>(
          `select o.name from call c join call_outcome o on o.id = c.outcome_id where c.address = $1`,
          [number(40)],
        ),
      (rows) => rows.some(({ name }) => name === 'Call again later'),
    );
  });
});

/** Nothing, so many seconds of it. */
function silentWave(seconds: number): Buffer {
  const wave = spokenWave(seconds);
  wave.fill(0, 44);
  return wave;
}
