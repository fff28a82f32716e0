import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { choosing, pressing } from './support/acts';
import { startApp, until, type App } from './support/app';
import { violations } from './support/axe';
import { openBrowser, signIn } from './support/browser';
import { keysOf, type Keys } from './support/keys';

/** Credits that are spent, bought and counted, and numbers that rest. */

let app: App;
let browser: Browser;
let closeBrowser: () => Promise<void>;
let page: Page;
let keys: Keys;

beforeAll(async () => {
  app = await startApp(4800);
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

const open = (path: string) => page.goto(`${app.web}${path}`, { waitUntil: 'load' });
const press = pressing(() => page);
const choose = choosing(() => page);
const see: Keys['see'] = (...args) => keys.see(...args);
/** The page is drawn anew once prices are kept, and what it said with it: so many of them stand then. */
const kept = (prices: number) =>
  until(
    () =>
      app.query<{ n: number }>(
        `select jsonb_array_length(prices) as n from workspace where slug = 'juniper-gap'`,
      ),
    ([row]) => row?.n === prices,
  );
const balance = async () => {
  const [row] = await app.query<{ balance: number }>(
    `select credit_balance::int as balance from workspace where slug = 'juniper-gap'`,
  );
  return row!.balance;
};
const words = () => page.$eval('main', (one) => one.textContent ?? '');

describe('credits', () => {
  it('say until when they are enough for what is ahead, and where they went', async () => {
    await until(
      () => open('/credits').then(words),
      (text) => text.includes('Enough '),
    );
    const text = await words();
    expect(text).toMatch(/Enough until|Enough for all/);
    expect(text).toContain('What is ahead');
    expect(await page.$$eval('main svg[role=img]', (charts) => charts.length)).toBe(1);
    expect(await violations(page)).toEqual([]);
    await press('Check the ledger');
    await see('It adds up');
  });

  it('are bought from the provider, once they are paid', async () => {
    await open('/numbers/find');
    await press('Connect it');
    await until(
      () => open('/credits').then(words),
      (text) => text.includes('5,000 for $99.00'),
    );
    const before = await balance();
    await press('Buy');
    await see('Ordered.');
    await until(balance, (now) => now >= before + 5_000);
    await open('/credits');
    await see('paid');
    await press('Check the ledger');
    await see('It adds up');
  });

  it('go by price when a text leaves, and two prices that name the same are refused in place', async () => {
    await open('/credits');
    const add = async (i: number, credits: string) => {
      await press('Something costs otherwise');
      await page.waitForSelector(`[id="field-rules.${i}.credits"]`);
      await page.type(`[id="field-rules.${i}.country"]`, 'us');
      await page.type(`[id="field-rules.${i}.credits"]`, credits);
    };
    await add(0, '2');
    await add(1, '3');
    await press('Keep the prices');
    await see('names the very same');
    await press('Remove this price');
    await press('Keep the prices');
    await kept(1);
    await app.bench.handset('+14065550190');
    await app.bench.text('+14065550190', '+17195550110', 'sky');
    await app.bench.received('+14065550190', 1);
    const [last] = await app.query<{ credits: number; parts: number }>(
      `select credits, parts from message where address = '+14065550190' order by created_at desc limit 1`,
    );
    expect(last!.credits).toBe(last!.parts * 3);
    await open('/credits');
    await press('Remove this price');
    await press('Keep the prices');
    await kept(0);
  });

  it('may be limited in a day, which the next look shows', async () => {
    await open('/credits');
    await choose('Of', 'Gift Shop Offers');
    await page.type('input[name=credits][hint], form input[name=credits]', '500');
    await press('Keep it');
    await see('500 a day');
  });
});

describe('a number', () => {
  it('that rests begins nothing, and its people are told first which comes instead', async () => {
    const [known] = await app.query<{ sender: string; other: string }>(
      `select s.id as sender, o.id as other from program g
         join program_sender ps on ps.program_id = g.id join sender_number s on s.id = ps.sender_id and s.registration = 'registered'
         join program_sender po on po.program_id = g.id join sender_number o on o.id = po.sender_id and o.registration = 'registered' and o.id <> s.id
        where g.name = 'Clear Sky Alerts' order by s.id limit 1`,
    );
    await open(`/numbers/${known!.sender}`);
    expect(await violations(page)).toEqual([]);
    await press('Let it rest');
    await see('It rests');
    await see('Bring it back now');
    await open('/numbers');
    await see('rests');
    await open(`/numbers/${known!.sender}`);
    await press('Bring it back now');
    await see('carries more by the day');
  });

  it('is brought along from elsewhere, and is ours on its day', async () => {
    await open('/numbers/find');
    await press('Bring along a number you have elsewhere');
    for (const [name, typed] of Object.entries({
      number: '+17195550177',
      holder: 'Juniper Gap Observatory',
      account: '77-1204',
      postal_code: '81201',
    }))
      await page.type(`details[open] input[name=${name}]`, typed);
    await press('Bring it along');
    await see('Asked for.');
    await until(
      () => app.query<{ state: string }>(`select state from number_order where what = 'port-in'`),
      (rows) => rows[0]?.state === 'done',
    );
    await open('/numbers');
    await see('(719) 555-0177');
  });
});
