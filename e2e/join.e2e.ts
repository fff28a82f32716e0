import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startApp, until, type App } from './support/app';
import { violations } from './support/axe';
import { openBrowser, signIn } from './support/browser';
import { keysOf, type Keys } from './support/keys';

let app: App;
let browser: Browser;
let closeBrowser: () => Promise<void>;
let page: Page;
let keys: Keys;

const TO = '+17195550110';
const ADA = '+13035550196';
const BEN = '+13035550197';

beforeAll(async () => {
  app = await startApp(4590);
  ({ browser, close: closeBrowser } = await openBrowser());
  page = await browser.newPage();
  keys = keysOf(page);
  await signIn(page, app.web, 'marek@juniper-gap.example.org');
});
afterAll(async () => {
  await closeBrowser?.();
  await app?.stop();
});

const open = (path: string, on = page) => on.goto(`${app.web}${path}`, { waitUntil: 'load' });
const clicked = (words: string, on = page) =>
  on.evaluate((text) => {
    const buttons = [...document.querySelectorAll('button')];
    buttons.find((one) => one.innerText.trim().startsWith(text))!.click();
  }, words);
async function keywordPage(word: string): Promise<string> {
  const [row] = await app.query<{ id: string }>(`select id from keyword where word = $1 limit 1`, [word]);
  return `/programs/keywords/${row!.id}`;
}
async function texted(from: string, body: string): Promise<string> {
  await app.bench.handset(from);
  const before = (await app.bench.texts(from)).length;
  await app.bench.text(from, TO, body);
  return (await app.bench.received(from, before + 1)).at(-1)!.body;
}

describe('an offer rides on a keyword', () => {
  it('is made and put on it by keyboard, and the answer shows it before it is saved', async () => {
    await open('/programs/offers');
    expect(await violations(page)).toEqual([]);
    await keys.tabTo('Name, for yourselves');
    await keys.type('Free hour');
    await keys.tabTo('Where it counts');
    await keys.type('at the ticket window');
    await keys.tabTo('What the voucher says');
    await keys.type('One free hour in the dome.');
    await keys.tabTo('Days from receipt');
    await keys.type('14');
    await keys.press('Enter');
    await keys.see('Nobody has got a voucher yet.');
    await open(await keywordPage('sky'));
    await keys.tabTo('An offer');
    await keys.type('Free hour');
    await keys.see('Code 0000-00000');
    await keys.tabTo('Save the change');
    await keys.press('Enter');
    await page.waitForFunction(() => !document.body.innerText.includes('not saved yet'));
    expect(await violations(page)).toEqual([]);
  });

  it('gives whoever texts the keyword a voucher, whose page says what it is worth', async () => {
    const body = await texted(ADA, '"Sky" please!');
    const [, link] = /Code [0-9A-Z-]{10}: (\S+)/.exec(body)!;
    await page.setViewport({ width: 360, height: 740 });
    await page.goto(link!, { waitUntil: 'load' });
    await keys.see('valid');
    await keys.see('at the ticket window');
    expect(await violations(page)).toEqual([]);
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360);
    await until(
      () =>
        app.query(`select 1 from voucher where code = $1 and opened_at is not null`, [link!.split('/v/')[1]]),
      (rows) => rows.length === 1,
    );
    expect((await open('/v/7KQ3M9T2W'))!.status()).toBe(404);
  });
});

describe('the counter', () => {
  it('uses a voucher once at two tills, on a bad line, and gives it back', async () => {
    const code = /Code ([0-9A-Z-]{10})/.exec((await app.bench.texts(ADA)).at(-1)!.body)![1]!;
    const context = await browser.createBrowserContext();
    const other = await context.newPage();
    await other.setViewport({ width: 360, height: 740 });
    await signIn(other, app.web, 'pip@juniper-gap.example.org');
    await open('/people', other);
    expect(new URL(other.url()).pathname).toBe('/counter');
    await open('/counter');
    for (const till of [page, other]) {
      await till.type('input', code.toLowerCase());
      await till.keyboard.press('Enter');
      await till.waitForFunction(() => document.body.innerText.includes('Use it up'));
    }
    expect(await violations(other)).toEqual([]);
    // The first press is lost on its way back: the house has heard it, and the till does not know.
    let lost = 0;
    await other.setRequestInterception(true);
    other.on('request', (request) => {
      if (!request.url().endsWith('/internal/counter') || lost > 0) return void request.continue();
      lost += 1;
      const headers = { ...request.headers() };
      void other
        .cookies()
        .then((cookies) =>
          fetch(request.url(), {
            method: 'POST',
            headers: {
              'content-type': headers['content-type']!,
              cookie: cookies.map(({ name, value }) => `${name}=${value}`).join('; '),
            },
            body: request.postData()!,
          }),
        )
        .then(() => request.abort());
    });
    await clicked('Use it up', other);
    await other.waitForFunction(() => document.body.innerText.includes('used up by this press'), {
      timeout: 20_000,
    });
    expect(lost).toBe(1);
    await clicked('Use it up');
    await keys.see('by Pip');
    await keys.see('used');
    const uses = () =>
      app.query<{ undone: boolean }>(
        `select undone_at is not null as undone from redemption r join voucher v on v.id = r.voucher_id where v.code = $1 order by r.at`,
        [code.replace('-', '')],
      );
    expect(await uses()).toEqual([{ undone: false }]);
    await clicked('It was a mistake', other);
    await other.waitForFunction(() => document.body.innerText.includes('Use it up'));
    expect(await uses()).toEqual([{ undone: true }]);
    await context.close();
  });

  it('finds a voucher by the last four of a number, and says when there is none', async () => {
    await open('/counter');
    await page.type('input', ADA.slice(-4));
    await page.keyboard.press('Enter');
    await keys.see('Free hour,');
    await open('/counter');
    await page.type('input', '0000');
    await page.keyboard.press('Enter');
    await keys.see('No voucher that can be used');
    await page.setViewport({ width: 1280, height: 800 });
  });
});

describe('a near miss', () => {
  it('is seen with how many typed it, and mended by one press: they are in, and it counts from then on', async () => {
    await app.bench.handset(BEN);
    await app.bench.text(BEN, TO, 'Skyy');
    const path = await keywordPage('sky');
    await until(
      () => app.query(`select 1 from inbound_text where near_keyword = 'sky'`),
      (rows) => rows.length > 0,
    );
    await open(path);
    await keys.see('“skyy”');
    await clicked('Count it, and let 1 in');
    await keys.see('counts from now on, and 1 person came in');
    await keys.see('Counts as SKY: skyy');
    await app.bench.received(BEN, 1);
    expect(await texted('+13035550198', 'SKYY')).toContain('One free hour');
  });
});

describe('a call to action', () => {
  it('is read while it is pasted, and the words that say all of it lack nothing', async () => {
    await open(await keywordPage('sky'));
    await page.type('#call', 'Clear nights? Text SKY!');
    await keys.see('The number to text is missing');
    const proposal = await page.$eval('section p.max-w-\\[62ch\\]', (node) => node.textContent!);
    await page.$eval('#call', (node) => ((node as HTMLTextAreaElement).value = ''));
    await page.type('#call', `${proposal} `);
    await keys.see('It says all that the rules ask for.');
  });
});
