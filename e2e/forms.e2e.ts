import { readFileSync } from 'node:fs';
import { createServer, type Server } from 'node:http';
import { join } from 'node:path';
import type { Browser, Page } from 'puppeteer-core';
import decodeQR from 'qr/decode.js';
import sharp from 'sharp';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { ROOT, startApp, until, type App } from './support/app';
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
const CAY = '+13035550198';

beforeAll(async () => {
  app = await startApp(4610);
  ({ browser, close: closeBrowser } = await openBrowser());
  page = await browser.newPage();
  keys = keysOf(page);
  await signIn(page, app.web, 'marek@juniper-gap.example.org');
});
afterAll(async () => {
  await closeBrowser?.();
  await app?.stop();
});

/** A page of somebody else; where scripts run, the checks may be put into it. */
async function visit<T>(work: (visitor: Page) => Promise<T>): Promise<T> {
  const visitor = await browser.newPage();
  try {
    await visitor.setBypassCSP(true);
    await visitor.setViewport({ width: 360, height: 740 });
    return await work(visitor);
  } finally {
    await visitor.close();
    // Nothing is drawn in a page that stands behind.
    await page.bringToFront();
  }
}
const open = (path: string, on = page) => on.goto(`${app.web}${path}`, { waitUntil: 'load' });
const local = (address: string): string => address.replace(/^https?:\/\/[^/]+/, app.web);
async function texted(from: string, body: string): Promise<string> {
  await app.bench.handset(from);
  const before = (await app.bench.texts(from)).length;
  await app.bench.text(from, TO, body);
  return (await app.bench.received(from, before + 1)).at(-1)!.body;
}
const personOf = async (number: string) =>
  (
    await app.query<{ first_name: string | null; last_name: string | null; postal_code: string | null }>(
      `select first_name, last_name, postal_code from person where number = $1 and workspace_id = (select id from workspace where slug = 'juniper-gap')`,
      [number],
    )
  )[0];
const address = async (): Promise<string> => {
  const [row] = await app.query<{ code: string }>(`select code from form where name = 'Sign up here'`);
  return `${app.web}/f/${row!.code}`;
};

describe('a form', () => {
  it('is made, changed and published by keyboard, and shown as it will be seen', async () => {
    await open('/programs/forms');
    await keys.tabTo('Name');
    await keys.type('Sign up here');
    await keys.press('Enter');
    await keys.see('What it asks');
    await keys.tabTo('Words before the fields');
    await keys.type('Leave your number.');
    await keys.tabTo('Ask also for');
    await keys.type('ZIP');
    await keys.tabTo('Save the change');
    await keys.press('Enter');
    await page.waitForFunction(() => !document.body.innerText.includes('not saved yet'));
    await keys.tabTo('Publish it');
    await keys.press('Enter');
    await keys.see('version 1 is shown');
    expect(await violations(page)).toEqual([]);
  });

  it('is filled in without scripts at 360 pixels: what is wrong stands beside it, and the YES of the phone joins', async () => {
    await app.bench.handset(ADA);
    await visit(async (visitor) => {
      await visitor.setJavaScriptEnabled(false);
      await visitor.goto(await address(), { waitUntil: 'load' });
      await visitor.type('[name=number]', '12');
      await Promise.all([visitor.waitForNavigation(), visitor.keyboard.press('Enter')]);
      expect(await visitor.$eval('main', (main) => main.textContent)).toContain('Write a mobile number');
      await visitor.$eval('[name=number]', (input) => ((input as HTMLInputElement).value = ''));
      await visitor.type('[name=number]', '(303) 555-0196');
      await visitor.type('[name=name]', 'Ada Quillfeather');
      await visitor.type('[name=postal_code]', '81201');
      await visitor.click('[name=agree]');
      // Who is quicker than two seconds is taken for a machine.
      await new Promise((resolve) => setTimeout(resolve, 2_100));
      await Promise.all([visitor.waitForNavigation(), visitor.click('button')]);
      expect(await visitor.$eval('main', (main) => main.textContent)).toContain(
        'We have sent a text to (303) 555-0196.',
      );
      // Sent again, as an impatient thumb does: it counts once.
      await visitor.reload();
    });
    const [question] = await app.bench.received(ADA, 1);
    expect(question!.body).toContain('reply YES to get');
    expect(await personOf(ADA)).toMatchObject({ first_name: null });
    expect(await texted(ADA, 'Yes')).toContain('Reply HELP for help');
    expect(await personOf(ADA)).toEqual({
      ...{ first_name: 'Ada', last_name: 'Quillfeather', postal_code: '81201' },
    });
    expect(await app.bench.texts(ADA)).toHaveLength(2);
  });

  it('can be read by everybody, by day and by night, and stays in 360 pixels', async () => {
    await visit(async (visitor) => {
      for (const value of ['light', 'dark']) {
        await visitor.emulateMediaFeatures([{ name: 'prefers-color-scheme', value }]);
        await visitor.goto(await address(), { waitUntil: 'load' });
        expect(await violations(visitor), value).toEqual([]);
        expect(await visitor.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(360);
        await Promise.all([visitor.waitForNavigation(), visitor.click('button')]);
        expect(await violations(visitor), `${value}, with problems`).toEqual([]);
      }
    });
  });

  it('stands in the page of somebody else and grows with what is in it; its way in is counted', async () => {
    const script = readFileSync(join(ROOT, 'public/f/embed.js'));
    expect(script.length).toBeLessThan(5_000);
    const code = (await address()).split('/').at(-1)!;
    const other: Server = createServer((_, response) => {
      response.setHeader('content-type', 'text/html');
      response.end(
        `<!doctype html><title>A website</title><h1>Ours</h1><script src="${app.web}/f/embed.js" data-form="${code}" async></script>`,
      );
    });
    await new Promise<void>((resolve) => other.listen(4619, '127.0.0.1', resolve));
    try {
      await visit(async (visitor) => {
        await visitor.goto('http://127.0.0.1:4619/', { waitUntil: 'load' });
        const frame = await visitor.waitForFrame((one) => one.url().includes(`/f/${code}`));
        await frame.waitForSelector('form');
        const height = () => visitor.$eval('iframe', (one) => one.getBoundingClientRect().height);
        await visitor.waitForFunction(() => document.querySelector('iframe')!.style.height !== '40rem');
        const before = await height();
        await frame.type('[name=number]', '12');
        await frame.click('button');
        await visitor.waitForFunction(
          (than) => document.querySelector('iframe')!.getBoundingClientRect().height > than,
          {},
          before,
        );
        await frame.waitForSelector('#f-number-wrong');
        const [seen] = await until(
          () =>
            app.query<{ furthest: number }>(
              `select v.furthest from form_visit v join form f on f.id = v.form_id where f.code = $1 and v.furthest = 2 and v.begun_at is not null limit 1`,
              [code],
            ),
          (rows) => rows.length === 1,
        );
        expect(seen).toEqual({ furthest: 2 });
      });
    } finally {
      other.close();
    }
  });
});

describe('the door of a form', () => {
  const send = (path: string, body: string, headers: Record<string, string> = {}) =>
    fetch(`${app.web}${path}`, {
      method: 'POST',
      body,
      headers: { 'content-type': 'application/x-www-form-urlencoded', ...headers },
    });

  it('takes what a page of ours sends, from any site, and nothing else', async () => {
    const path = new URL(await address()).pathname;
    expect((await send(path, 'number=12', { origin: 'null', 'sec-fetch-site': 'cross-site' })).status).toBe(
      422,
    );
    expect((await send(path, '{"number":"12"}', { 'content-type': 'application/json' })).status).toBe(415);
    expect((await send(path, `number=${'1'.repeat(40_000)}`)).status).toBe(415);
    expect((await send('/f/none', 'number=12')).status).toBe(404);
    const answer = await send(path, 'number=%3Cscript%3Ealert(1)%3C%2Fscript%3E');
    expect(answer.headers.get('content-security-policy')).toContain("default-src 'none'");
    expect(await answer.text()).not.toContain('<script>alert');
    // What knows who it is for takes nothing from another site.
    expect((await send('/p/0123456789abcdef', 'name=Ana', { origin: 'https://evil.example' })).status).toBe(
      403,
    );
  });

  it('turns a flood away, and keeps what came before it', async () => {
    const path = new URL(await address()).pathname;
    const before = await app.query<{ n: number }>(
      `select count(*)::int as n from submission where state <> 'dropped'`,
    );
    const statuses = await Promise.all(
      Array.from({ length: 400 }, async (_, i) => {
        const number = `+1505555${String(100 + (i % 100)).padStart(4, '0')}`;
        const body = new URLSearchParams({ number, agree: 'yes', press: `flood-${i}`.padEnd(12, '-') });
        return (await send(path, body.toString())).status;
      }),
    );
    const taken = statuses.filter((status) => status === 200).length;
    expect(taken).toBeLessThanOrEqual(20);
    expect(statuses.filter((status) => status === 429)).toHaveLength(400 - taken);
    const after = await app.query<{ n: number }>(
      `select count(*)::int as n from submission where state <> 'dropped'`,
    );
    expect(after[0]!.n - before[0]!.n).toBe(taken);
  });
});

describe('questions by text', () => {
  it('are put on a keyword, asked one after the other, and their way is shown', async () => {
    const [row] = await app.query<{ id: string }>(`select id from keyword where word = 'sky' limit 1`);
    await open(`/programs/keywords/${row!.id}`);
    await keys.tabTo('Ask something');
    await keys.press('Enter');
    await keys.tabTo('Ask one more');
    await keys.press('Enter');
    await keys.see('What is your e-mail address? Reply SKIP');
    await keys.tabTo('Without an answer a personal link');
    await keys.type('7');
    await keys.tabTo('Save the change');
    await keys.press('Enter');
    await page.waitForFunction(() => !document.body.innerText.includes('not saved yet'));
    expect(await violations(page)).toEqual([]);
    await texted(BEN, 'sky');
    const [, name] = await app.bench.received(BEN, 2);
    expect(name!.body).toBe('What is your name? Reply SKIP to leave it out.');
    expect(await texted(BEN, 'im Ben')).toContain('What is your e-mail address?');
    expect(await personOf(BEN)).toMatchObject({ first_name: 'Ben' });
    await open(`/programs/keywords/${row!.id}`);
    await keys.see('How far they came');
    await keys.see('1 were asked');
  });

  it('end in a personal link that knows who it is for, and is filled in once', async () => {
    const [ben] = await app.query<{ id: string }>(`select id from person where number = $1`, [BEN]);
    await open(`/people/${ben!.id}`);
    await keys.see('Told us themselves');
    await keys.tabTo('Make a personal link');
    await keys.press('Enter');
    await keys.see('Send it to nobody else');
    const link = local(await page.$eval('code', (one) => one.textContent!));
    await visit(async (visitor) => {
      await visitor.goto(link, { waitUntil: 'load' });
      expect(await visitor.$eval('h1', (one) => one.textContent)).toBe('Hello Ben');
      expect(await violations(visitor)).toEqual([]);
      expect(await visitor.$('[name=name]')).toBeNull();
      await visitor.type('[name=postal_code]', '81201');
      await Promise.all([visitor.waitForNavigation(), visitor.click('button')]);
      expect(await visitor.$eval('main', (one) => one.textContent)).toContain('Thank you');
      expect(await personOf(BEN)).toMatchObject({ postal_code: '81201' });
      expect((await visitor.goto(`${app.web}/p/0123456789abcdef`))!.status()).toBe(404);
    });
  });
});

describe('a poster', () => {
  it('is made of a keyword, and a phone that scans it joins', async () => {
    const [row] = await app.query<{ id: string }>(`select id from keyword where word = 'sky' limit 1`);
    await open(`/programs/keywords/${row!.id}`);
    await keys.tabTo('Make a poster');
    await keys.press('Enter');
    await keys.see('As it will be printed');
    await keys.tabTo('Headline');
    await page.keyboard.down('Control');
    await page.keyboard.press('a');
    await page.keyboard.up('Control');
    await keys.type('Look up tonight');
    await keys.tabTo('Save the change');
    await keys.press('Enter');
    await page.waitForFunction(() => !document.body.innerText.includes('not saved yet'));
    expect(await violations(page)).toEqual([]);
    const cookie = (await page.cookies()).map(({ name, value }) => `${name}=${value}`).join('; ');
    const file = async (kind: string): Promise<Buffer> => {
      const answer = await fetch(`${page.url()}/file?kind=${kind}`, { headers: { cookie } });
      expect(answer.status).toBe(200);
      return Buffer.from(await answer.arrayBuffer());
    };
    expect((await file('pdf')).subarray(0, 5).toString()).toBe('%PDF-');
    expect((await file('svg')).toString()).toContain('Look up tonight');
    const { data, info } = await sharp(await file('png'))
      .ensureAlpha()
      .raw()
      .toBuffer({ resolveWithObject: true });
    const [, number, body] = /^sms:([^?]+)\?body=(.*)$/.exec(
      decodeQR({ width: info.width, height: info.height, data }),
    )!;
    await app.bench.handset(CAY);
    await app.bench.text(CAY, number!, decodeURIComponent(body!));
    expect((await app.bench.received(CAY, 1))[0]!.body).toContain('Reply HELP for help');
  });
});
