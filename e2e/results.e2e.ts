import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { pressing } from './support/acts';
import { startApp, until, type App } from './support/app';
import { violations } from './support/axe';
import { openBrowser, signIn } from './support/browser';
import { keysOf, type Keys } from './support/keys';

/** The demo’s stories, found from Results by somebody who does not know them. */

let app: App;
let browser: Browser;
let closeBrowser: () => Promise<void>;
let page: Page;
let keys: Keys;

beforeAll(async () => {
  app = await startApp(4780);
  ({ browser, close: closeBrowser } = await openBrowser());
  page = await browser.newPage();
  await page.setViewport({ width: 1280, height: 800 });
  keys = keysOf(page);
  await signIn(page, app.web, 'odile@juniper-gap.example.org');
});

afterAll(async () => {
  await closeBrowser?.();
  await app?.stop();
});

const see: Keys['see'] = (...args) => keys.see(...args);
const press = pressing(() => page);
const open = (path: string) => page.goto(`${app.web}${path}`, { waitUntil: 'load' });
/** What stands in the row that begins with these words, cell by cell. */
const row = async (begins: string): Promise<string[]> => {
  await page.waitForFunction(
    (words) => [...document.querySelectorAll('main tr')].some((one) => one.textContent!.startsWith(words)),
    {},
    begins,
  );
  return page.$$eval(
    'main tr',
    (rows, words) =>
      [...rows.find((one) => one.textContent!.startsWith(words))!.querySelectorAll('td, th')].map(
        (cell) => cell.textContent!,
      ),
    begins,
  );
};
const firstRow = () =>
  page.$eval('main tbody tr', (one) => [...one.querySelectorAll('td')].map((cell) => cell.textContent!));

describe('results', () => {
  it('say what happened, and each count leads to its people', async () => {
    await open('/results?days=91');
    const [, count] = await row('People out');
    await press(count!);
    await see('The latest first');
    const people = await page.$$eval('main tbody tr', (rows) => rows.length);
    expect(people).toBeGreaterThan(20);
    expect(people).toBeLessThanOrEqual(Number(count!.replace(',', '')));
    expect(await violations(page)).toEqual([]);
  });

  it('count what happens now, by whole days up to yesterday and today when that is asked', async () => {
    const today = async () => {
      const [day] = await app.query<{ day: string }>(
        `select (now() at time zone zone)::date::text as day from workspace where slug = 'juniper-gap'`,
      );
      await open(`/results?from=${day!.day}&to=${day!.day}`);
      return Number((await row('People in'))[1]);
    };
    const before = await today();
    await app.bench.handset('+14065550190');
    await app.bench.text('+14065550190', '+17195550110', 'sky');
    await app.bench.received('+14065550190', 1);
    expect(await today()).toBe(before + 1);
  });

  it('find the bad hour, the wording that won and the keyword that people misspell', async () => {
    await open('/results/works');
    await press('Hours of the day');
    await row('20:00');
    await press('cost somebody');
    await until(firstRow, ([hour]) => hour === '20:00');
    expect(await firstRow()).toEqual(
      expect.arrayContaining([expect.stringContaining('20:00'), expect.stringContaining('really more')]),
    );
    await press('Wordings');
    await row('Jupiter evening');
    expect((await firstRow())[0]).toContain('Shall we keep you a place?');
    await press('Keywords');
    await see('Nearly it');
    expect(Number((await row('METEOR')).at(-2))).toBeGreaterThan(20);
    expect(Number((await row('SKY')).at(-2))).toBe(0);
    expect(await violations(page)).toEqual([]);
  });

  it('draw what is chosen over time, and take it out again', async () => {
    await open('/results/works?compare=keyword');
    await see('METEOR');
    const drawn = () =>
      page.$$eval('main figure svg path, main section svg[role=img] path', (paths) => paths.length);
    const link = (name: string) =>
      page.waitForSelector(`a[aria-label="${name}"]`).then((node) => node!.click());
    await link('Draw METEOR into the picture');
    await until(drawn, (paths) => paths === 1);
    await link('Draw SKY into the picture');
    await until(drawn, (paths) => paths === 2);
    await link('Take METEOR out of the picture');
    await until(drawn, (paths) => paths === 1);
  });

  it('say who stays, and that nobody was watched for so long yet', async () => {
    await open('/results/keeping');
    await see('Of those who came in a month, how many are still in');
    const months = await page.$$eval('table[aria-label="Still in"] tbody tr', (rows) =>
      rows.map((one) => [...one.querySelectorAll('td')].map((cell) => cell.textContent!)),
    );
    expect(months.length).toBeGreaterThanOrEqual(4);
    expect(months[0]!.at(-1)).toMatch(/^\d\d %$/);
    expect(months.at(-1)!.at(-1)).toBe('–');
    expect(await violations(page)).toEqual([]);
    await open('/results/speed');
    await see('When people answer');
    expect(await violations(page)).toEqual([]);
  });

  it('are kept as a report, shown by a link to somebody without an account, until it is ended', async () => {
    await open('/results/works?compare=hour&outcome=lost&days=91');
    await press('Keep this as a report');
    await page.type('main input[name=name]', 'Bad hours');
    await press('Keep it');
    await press('Bad hours');
    await see('Show it to somebody');
    await press('Make a link');
    await see('Shown once');
    const link = await page.$eval('[role=status]', (node) => /http\S+/.exec(node.textContent!)![0]);
    const stranger = await (await browser.createBrowserContext()).newPage();
    const shared = `${app.web}${new URL(link).pathname}`;
    await stranger.goto(shared);
    expect(await stranger.$eval('main', (node) => node.textContent)).toContain('20:00');
    expect((await stranger.goto(`${app.web}/results`))!.url()).toContain('/sign-in');
    await page.bringToFront();
    await page.reload();
    await press('End the link');
    await see('Make a link');
    expect((await stranger.goto(shared))!.status()).toBe(404);
    await stranger.close();
  });

  it('prove what went to somebody who complains, by a document that can be checked', async () => {
    const [left] = await app.query<{ id: string }>(
      `select person_id as id from consent_event where kind = 'opted-out' and leaves and channel = 'sms' order by at limit 1`,
    );
    await open(`/people/${left!.id}/proof`);
    await press('Make the proof');
    await see('Made. It stands below.');
    const [, , messages, after] = await firstRow();
    expect(Number(messages)).toBeGreaterThan(1);
    // The one confirmation that they left.
    expect(after).toBe('1');
    const [json, kind] = await page.evaluate(async () => {
      const links = [...document.querySelectorAll<HTMLAnchorElement>('main td a[download]')];
      const pdf = await fetch(links[0]!.href);
      return [await (await fetch(links[1]!.href)).text(), pdf.headers.get('content-type')] as const;
    });
    expect(kind).toBe('application/pdf');
    const check = async (text: string) => {
      await page.$eval(
        'textarea[name=document]',
        (node, words) => {
          (node as HTMLTextAreaElement).value = words;
        },
        text,
      );
      await press('Check it');
    };
    await check(json);
    await see('not a letter was changed');
    await check(json.replace('Juniper', 'Jupiter'));
    await see('Something in it was changed');
  });

  it('are usable at the width of a phone', async () => {
    await page.setViewport({ width: 390, height: 800 });
    for (const path of [
      '/results',
      '/results/works',
      '/results/keeping',
      '/results/speed',
      '/results/reports',
    ]) {
      await open(path);
      const wide = await page.evaluate(() => document.documentElement.scrollWidth);
      expect(`${path} ${wide}`).toBe(`${path} 390`);
    }
    await page.setViewport({ width: 1280, height: 800 });
  });

  it('are narrowed by a choice and a button', async () => {
    await open('/results');
    await page.waitForSelector('select[name=channel]');
    await page.select('select[name=channel]', 'email');
    await press('Show');
    // The address changes before the page that it names is drawn.
    await page.waitForFunction(
      () =>
        location.search.includes('channel=email') &&
        document.querySelector<HTMLSelectElement>('select[name=channel]')?.value === 'email',
    );
  });
});

/** Last: a month goes by. */
describe('old messages', () => {
  it('are put away when somebody says so, and whoever asks for them reads what they said', async () => {
    const [oldest] = await app.query<{ id: string; person_id: string; body: string }>(
      `select id, person_id, body from message where kind = 'broadcast' and state = 'delivered' order by id limit 1`,
    );
    await open('/settings/put-away');
    expect(await violations(page)).toEqual([]);
    await page.waitForSelector('select[name=months]');
    await page.select('select[name=months]', '3');
    await press('Keep it');
    await see('The worker goes through what is older.');
    await app.bench.advance('P32D');
    await until(
      () => app.query<{ body: string }>(`select body from message where id = $1`, [oldest!.id]),
      ([message]) => message!.body === '',
      120_000,
      500,
    );
    const own = await page.evaluate(
      async (id) => (await fetch(`/people/${id}/export`)).text(),
      oldest!.person_id,
    );
    expect((JSON.parse(own) as { texts: object[] }).texts).toContainEqual(
      expect.objectContaining({ id: oldest!.id, body: oldest!.body }),
    );
    await open('/settings/put-away');
    await see('As a file');
    const type = await page.$eval('main td a[href*=month]', async (link) => {
      const response = await fetch((link as HTMLAnchorElement).href);
      return response.headers.get('content-type');
    });
    expect(type).toBe('application/gzip');
  });
});
