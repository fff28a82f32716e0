import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Page } from 'puppeteer-core';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startApp, until, type App } from './support/app';
import { violations } from './support/axe';
import { openBrowser, signIn } from './support/browser';
import { keysOf, type Keys } from './support/keys';

const PROGRAM_NUMBER = '+17195550110';

let app: App;
let browser: Browser;
let closeBrowser: () => Promise<void>;
let page: Page;
let key: string;
let keys: Keys;

beforeAll(async () => {
  app = await startApp(4570);
  ({ browser, close: closeBrowser } = await openBrowser());
  page = await browser.newPage();
  keys = keysOf(page);
  key = await app.apiKey();
  await app.query(`update sender_number set parts_per_second = 400`);
  await morning();
  await signIn(page, app.web, 'odile@juniper-gap.example.org');
});

const A_DAY = 24 * 60;

/**
 * By night every text waits for the morning, and on a Sunday those to some states wait for the Monday: the world's clock
 * goes to a morning on which all may go, whenever the tests run.
 */
async function morning(): Promise<void> {
  const denver = new Date(await app.bench.now()).toLocaleString('sv-SE', { timeZone: 'America/Denver' });
  const minutes = Number(denver.slice(11, 13)) * 60 + Number(denver.slice(14, 16));
  const weekday = new Date(`${denver.slice(0, 10)}T12:00Z`).getUTCDay();
  if (weekday !== 0 && minutes >= 10 * 60 && minutes <= 17 * 60) return;
  const ahead = (11 * 60 - minutes + A_DAY) % A_DAY;
  const onSunday = (weekday + Math.floor((minutes + ahead) / A_DAY)) % 7 === 0;
  await app.bench.advance(`PT${ahead + (onSunday ? A_DAY : 0)}M`);
}

afterAll(async () => {
  await closeBrowser?.();
  await app?.stop();
});

const see: Keys['see'] = (...args) => keys.see(...args);
const press: Keys['press'] = (...args) => keys.press(...args);
const tabTo: Keys['tabTo'] = (name) => keys.tabTo(name);
const api = async <T>(method: string, path: string, body?: object): Promise<{ status: number; json: T }> => {
  const response = await fetch(`${app.web}/api/v1${path}`, {
    method,
    headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
    ...(body ? { body: JSON.stringify(body) } : {}),
  });
  return { status: response.status, json: (await response.json()) as T };
};
const broadcast = async (name: string) =>
  (
    await app.query<{ id: string; state: string; held: { of: string } | null }>(
      `select id, state, held from broadcast where name = $1 order by created_at desc limit 1`,
      [name],
    )
  )[0]!;

describe('a broadcast in full, by keyboard', () => {
  it('takes in the templates that ship, and puts one into a text by a slash', async () => {
    await page.goto(`${app.web}/sends/templates`);
    await tabTo('Take them in');
    await press('Enter');
    await see('How was it');
    expect(await violations(page)).toEqual([]);
    await page.goto(`${app.web}/sends/new`);
    await page.waitForSelector('.cm-content');
    await tabTo('Name, for you');
    await page.keyboard.type('After the visit');
    await tabTo('Text');
    await page.keyboard.type('/how');
    await see('After a visit');
    await press('Enter');
    await see('How was your visit?');
    // What stands where a name is not known is written in the field itself.
    await page.click('.cm-content .chip');
    await page.waitForSelector('.chip-input');
    await page.keyboard.type('night owl');
    await press('Enter');
    await see('first name or “night owl”');
    await page.click('.cm-content .chip');
    await page.keyboard.type('nobody');
    await press('Escape');
    await see('first name or “night owl”');
  });

  it('has a second wording, which is checked as the first is, and a pace', async () => {
    await tabTo('Try a second wording');
    await press('Enter');
    await see('Better is the one with');
    await tabTo('Text');
    await page.keyboard.down('Control');
    await press('a');
    await page.keyboard.up('Control');
    await page.keyboard.type(
      'Juniper Gap Observatory: how was your visit, and what was F R E E of trouble? STOP to stop.',
    );
    await see('looks like a word in disguise');
    await tabTo('Write “FREE”');
    await press('Enter');
    await see('FREE of trouble');
    // Of choices that exclude each other Tab reaches the one that is made; an arrow makes another.
    await tabTo('Better is the one with');
    await press('Tab', 'ArrowUp');
    await until(
      () => page.evaluate(() => document.body.innerText.includes('by itself, once the difference')),
      (asked) => !asked,
    );
    await tabTo('How fast');
    await page.keyboard.type('a few');
    await tabTo('People at a time');
    await press('Backspace', 'Backspace');
    await page.keyboard.type('600');
    await tabTo('In a minute or an hour');
    await page.keyboard.type('people a minute');
    await until(
      () => page.$eval('aside[aria-label=Margin]', (node) => (node as HTMLElement).innerText),
      (words) => /Leaves\s+From/.test(words) && /nothing to mend/.test(words),
    );
    expect(await violations(page)).toEqual([]);
    await tabTo('Send to');
    await press('Enter');
    await see('It goes out on');
    await see('Wordings', 40_000);
    await see('Change the pace');
  });

  it('is held by itself when too many leave, says why, and goes on when somebody says so', async () => {
    const { json } = await api<{ stamp: number }>('GET', '/workspace/limits');
    expect((await api('POST', '/workspace/limits', { stamp: json.stamp, opt_outs: 0.01 })).status).toBe(200);
    const { id } = await broadcast('After the visit');
    const [one] = await until(
      () =>
        app.query<{ address: string; delivered: number }>(
          `select min(address) as address, count(*)::int as delivered from message where send_id = $1 and state = 'delivered'`,
          [id],
        ),
      ([row]) => row!.delivered >= 40,
      60_000,
    );
    await app.bench.handset(one!.address);
    await app.bench.text(one!.address, PROGRAM_NUMBER, 'STOP');
    await until(
      () => broadcast('After the visit'),
      ({ state }) => state === 'paused',
      40_000,
    );
    await see('held by itself');
    await see('the limit is 0 %');
    expect(await violations(page)).toEqual([]);
    await tabTo('Let it go on');
    await press('Enter');
    await see('going out');
  });

  it('goes faster when it is told to, and its wordings are counted apart', async () => {
    await tabTo('How fast');
    await page.keyboard.type('as fast');
    await tabTo('Change the pace');
    await press('Enter');
    await see('It goes so from now on.');
    const { id } = await broadcast('After the visit');
    // Whoever may have opted out is held until somebody reads their reply; the others have theirs.
    await until(
      () =>
        app.query<{ waiting: number }>(
          `select count(*)::int as waiting from message where send_id = $1 and (turn_at is not null or state in ('submitting', 'submitted'))`,
          [id],
        ),
      ([row]) => row!.waiting === 0,
      90_000,
    );
    await page.reload();
    const rows = await page.$$eval('table[aria-label=Wordings] tbody tr', (found) =>
      found.map((row) => (row as HTMLElement).innerText),
    );
    expect(rows).toHaveLength(2);
    for (const row of rows) expect(row).toMatch(/^[AB]/);
    const twice = await app.query(
      `select person_id from message where send_id = $1 group by person_id having count(*) > 1`,
      [id],
    );
    expect(twice).toEqual([]);
  });

  it('shows its result to somebody without an account, and its people as a file', async () => {
    await tabTo('Make an address');
    await press('Enter');
    await see('shown once');
    const [url] = /http:\S+\/r\/[\w-]+/.exec(await page.evaluate(() => document.body.innerText))!;
    const path = new URL(url).pathname;
    const stranger = await (await browser.createBrowserContext()).newPage();
    await stranger.goto(`${app.web}${path}`);
    await keysOf(stranger).see('What became of it');
    expect(await stranger.evaluate(() => document.body.innerText)).not.toMatch(/555-01|\+1\d{10}/);
    expect(await violations(stranger)).toEqual([]);
    await stranger.goto(`${app.web}/sends`);
    expect(new URL(stranger.url()).pathname).toBe('/sign-in');
    await stranger.close();
    const { id } = await broadcast('After the visit');
    const csv = await page.evaluate(
      async (address) => (await fetch(address)).text(),
      `/sends/${id}/export?format=csv`,
    );
    expect(csv.split('\r\n')[0]).toContain('Address,First name');
    expect(csv.split('\r\n').length).toBeGreaterThan(500);
  });

  it('is copied for those who did not answer', async () => {
    await tabTo('For those who did not answer');
    await press('Enter');
    await see('Keep as a draft');
    await see('whom I choose here');
    expect(await broadcast('After the visit, for who did not answer')).toMatchObject({ state: 'draft' });
  });
});

/** A picture of our own, as a file. */
async function pictureFile(name: string, colour: string): Promise<string> {
  const path = join(tmpdir(), name);
  await sharp({ create: { width: 1_900, height: 1_200, channels: 3, background: colour } })
    .jpeg()
    .toFile(path);
  return path;
}

const files = (phone: string) =>
  app.bench.call<{ texts: { body: string; files: { id: string; type: string }[] }[] }>(
    'GET',
    `/handsets/${encodeURIComponent(phone)}/texts`,
  );

const OWN = '+13035550164';

describe('a text with pictures, about what is on', () => {
  it('is written with two pictures and something that is on, and told what is sold out', async () => {
    await app.query(`update sender_number set mms = (number = $1)`, [PROGRAM_NUMBER]);
    await app.query(
      `insert into own_number (workspace_id, account_id, number, proved_at, tries, codes)
       select m.workspace_id, a.id, $1, now(), 0, 0 from account a join membership m on m.account_id = a.id where a.email = 'odile@juniper-gap.example.org' limit 1`,
      [OWN],
    );
    await page.goto(`${app.web}/sends/new`);
    await page.waitForSelector('.cm-content');
    await tabTo('To members of');
    await page.keyboard.type('Night');
    await tabTo('Name, for you');
    await page.keyboard.type('With pictures');
    await tabTo('Text');
    await page.keyboard.type('Juniper Gap Observatory: #guided walk');
    await see('sold out');
    await press('Enter');
    await page.keyboard.type('. Reply STOP to stop.');
    await see('E-203 Guided night walk is sold out. Write about another one.');
    await page.keyboard.down('Control');
    await press('a');
    await page.keyboard.up('Control');
    await page.keyboard.type('Juniper Gap Observatory: #ring');
    await see('its place: the terrace');
    await press('Enter');
    await page.keyboard.type('. Reply STOP to stop.');
    const input = await page.waitForSelector('section[aria-label=Files] input[type=file]');
    for (const [i, colour] of ['#224488', '#d8b070'].entries()) {
      await input!.uploadFile((await pictureFile(`night-${i}.jpg`, colour)) as `${string}.jpg`);
      await see(`night-${i}.jpg`);
    }
    await tabTo('What it shows, for who cannot see it');
    await page.keyboard.type('A blue evening');
    await until(
      () => page.$eval('aside[aria-label=Margin]', (node) => (node as HTMLElement).innerText),
      (words) =>
        words.includes('Ring night') &&
        words.includes('picture message') &&
        words.includes('nothing to mend'),
    );
    expect(await violations(page)).toEqual([]);
  });

  it('is tried on one’s own handset, which shows the pictures', async () => {
    await tabTo('Try it on');
    await press('Enter');
    await see('It is on its way to you.');
    const { texts } = await until(
      () => files(OWN),
      (got) => got.texts.length > 0,
    );
    expect(texts[0]!.body).toMatch(/Ring night.*https:\/\/juniper-gap.example.org\/ring/);
    expect(texts[0]!.files.map(({ type }) => type)).toEqual(['image/jpeg', 'image/jpeg']);
    const shown = await fetch(`${app.bench.url}/files/${texts[0]!.files[0]!.id}`);
    expect((await sharp(Buffer.from(await shown.arrayBuffer())).metadata()).width).toBe(1_600);
  });

  it('goes as pictures where the number can, else as a link to a page that shows them', async () => {
    await tabTo('Send to');
    await press('Enter');
    await see('It goes out on');
    const rows = () =>
      app.query<{ address: string; media: string[] | null; body: string; state: string }>(
        `select t.address, t.media, t.body, t.state from message t join broadcast b on b.id = t.send_id where b.name = 'With pictures'`,
      );
    const sent = await until(
      rows,
      (all) =>
        all.length > 10 && all.every(({ state }) => ['delivered', 'failed', 'blocked'].includes(state)),
      90_000,
    );
    const delivered = sent.filter(({ state }) => state === 'delivered');
    const pictured = delivered.filter(({ media }) => media !== null);
    const linked = delivered.filter(({ media }) => media === null);
    expect(pictured.length).toBeGreaterThan(0);
    const got = (await files(pictured[0]!.address)).texts.at(-1)!;
    expect(got.files).toHaveLength(2);
    // The link leads to a page with both pictures on it.
    for (const { body } of linked.slice(0, 1)) {
      await page.goto(/http\S+$/.exec(body)![0]);
      await see('Juniper Gap Observatory');
      const widths = await page.$$eval('img', (all) => all.map(({ naturalWidth }) => naturalWidth));
      expect(widths).toEqual([1_600, 1_600]);
      expect(await page.$eval('img', ({ alt }) => alt)).toBe('A blue evening');
    }
  });

  it('is answered with a picture, which stands in the thread', async () => {
    const content = (
      await sharp({ create: { width: 60, height: 40, channels: 3, background: '#111' } })
        .png()
        .toBuffer()
    ).toString('base64');
    await app.bench.call('POST', `/handsets/${encodeURIComponent(OWN)}/pictures`, {
      ...{ to: PROGRAM_NUMBER, body: 'Was that it?' },
      files: [{ name: 'yard.png', type: 'image/png', content }],
    });
    const [thread] = await until(
      () =>
        app.query<{ person_id: string }>(`select person_id from inbound_text where body = 'Was that it?'`),
      (found) => found.length > 0,
    );
    await page.goto(`${app.web}/inbox/${thread!.person_id}`);
    await see('Was that it?');
    await until(
      () => page.$$eval('ul[aria-label=Files] img', (all) => (all.at(-1) as HTMLImageElement).naturalWidth),
      (width) => width === 60,
    );
    expect(await violations(page)).toEqual([]);
  });
});

describe('the calendar of sends', () => {
  it('moves what is scheduled by keyboard, and takes it back', async () => {
    const made = await api<{ id: string }>('POST', '/broadcasts', {
      ...{ program: 'Clear Sky Alerts', name: 'Moon week', repeat: 'FREQ=WEEKLY' },
      body: 'Juniper Gap Observatory: the moon is full. Reply STOP to stop.',
    });
    const at = new Date((await app.bench.now()) + 2 * 86_400_000).toISOString();
    expect((await api('POST', `/broadcasts/${made.json.id}/send`, { at })).status).toBe(200);
    const sendAt = async () =>
      (await app.query<{ send_at: Date }>(`select send_at from broadcast where id = $1`, [made.json.id]))[0]!
        .send_at;
    const before = await sendAt();
    await page.goto(`${app.web}/sends/calendar`);
    await see('Moon week');
    await see('again and again');
    expect(await violations(page)).toEqual([]);
    // The ribbon names it too.
    await tabTo('Later');
    await tabTo('Moon week');
    await page.keyboard.down('Alt');
    await press('ArrowDown');
    await page.keyboard.up('Alt');
    const moved = await until(sendAt, (now) => now.getTime() !== before.getTime());
    expect(Math.round((moved.getTime() - before.getTime()) / 86_400_000)).toBe(7);
    await see('Moved.');
    await page.evaluate(() =>
      [...document.querySelectorAll('button')].find(({ innerText }) => innerText === 'Undo')!.click(),
    );
    await until(sendAt, (now) => now.getTime() === before.getTime());
  });
});
