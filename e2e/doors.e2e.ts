import { execFileSync } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import { readdirSync, rmSync } from 'node:fs';
import { request } from 'node:http';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { scratchDatabase, startApp, until, type App } from './support/app';
import { openBrowser, signIn } from './support/browser';
import { keysOf, type Keys } from './support/keys';

const ANA = '+13035550142';
const PROGRAM_NUMBER = '+17195550110';
const PORT = 4580;

let app: App;
let browser: Browser;
let closeBrowser: () => Promise<void>;
let page: Page;
let keys: Keys;

beforeAll(async () => {
  app = await startApp(PORT);
  ({ browser, close: closeBrowser } = await openBrowser());
  page = await browser.newPage();
  keys = keysOf(page);
  await signIn(page, app.web, 'odile@juniper-gap.example.org');
  await app.query(`update sender_number set parts_per_second = 400`);
});
afterAll(async () => {
  await closeBrowser?.();
  await app?.stop();
});

interface Raw {
  status: number;
  headers: Record<string, string | string[] | undefined>;
  text: string;
}

/** A request as it is written, headers and path untouched. */
const raw = (method: string, path: string, headers: Record<string, string> = {}, body = ''): Promise<Raw> =>
  new Promise((resolve, reject) => {
    const sent = request(
      { host: '127.0.0.1', port: PORT, method, path, headers: { host: `localhost:${PORT}`, ...headers } },
      (response) => {
        let text = '';
        response.on('data', (chunk: Buffer) => (text += chunk.toString()));
        response.on('end', () => resolve({ status: response.statusCode!, headers: response.headers, text }));
      },
    );
    sent.on('error', reject);
    sent.end(body);
  });
const cookie = async () => (await browser.cookies()).map(({ name, value }) => `${name}=${value}`).join('; ');

const hit = (label: string) => page.locator(`::-p-xpath(//button[normalize-space()="${label}"])`).click();

describe('buttons', () => {
  it('count once: four quick presses on "Send the answer" send one text', async () => {
    await app.bench.handset(ANA);
    await app.bench.text(ANA, PROGRAM_NUMBER, 'sky');
    await app.bench.received(ANA, 1);
    await app.bench.text(ANA, PROGRAM_NUMBER, 'Is there parking?');
    const [person] = await until(
      () =>
        app.query<{ id: string }>(`select id from person where number = $1 and waiting_since is not null`, [
          ANA,
        ]),
      (rows) => rows.length > 0,
    );
    await page.goto(`${app.web}/inbox/${person!.id}`);
    // The box is drawn by the page's script, which a busy machine brings later than the page.
    await page.waitForSelector('.cm-content');
    await page.type('.cm-content', 'Yes, below the dome.');
    // Faster than any hand: four events before the page could draw anything.
    await page.$$eval('button', (buttons) => {
      const send = buttons.find((button) => button.textContent === 'Send the answer')!;
      for (let i = 0; i < 4; i++) send.click();
    });
    await keys.see('Sent.');
    const before = await app.bench.received(ANA, 2);
    expect(before.filter(({ body }) => body.startsWith('Yes, below'))).toHaveLength(1);
    expect(
      await app.query(`select 1 from message where kind = 'answer' and address = $1`, [ANA]),
    ).toHaveLength(1);
  });
});

describe('what is written', () => {
  it('is there again after the page was closed in the middle of it, until it was sent', async () => {
    const [person] = await app.query<{ id: string }>(`select id from person where number = $1`, [ANA]);
    for (const path of [`/inbox/${person!.id}`, '/sends/new']) {
      await page.goto(`${app.web}${path}`);
      await page.waitForSelector('.cm-content');
      await page.type('.cm-content', 'Half a sentence about Sat');
      await page.goto('about:blank');
      await page.goto(`${app.web}${path}`);
      await page.waitForSelector('.cm-content');
      expect(await page.$eval('.cm-content', (box) => box.textContent)).toContain(
        'Half a sentence about Sat',
      );
    }
    await keys.see('You left this unfinished on');
    await hit('Begin anew');
    await page.waitForFunction(() => !document.body.innerText.includes('You left this unfinished'));
    await page.goto(`${app.web}/inbox/${person!.id}`);
    await page.waitForSelector('.cm-content');
    await hit('Send the answer');
    await keys.see('Sent.');
    await page.reload();
    await page.waitForSelector('.cm-content');
    expect(await page.$eval('.cm-content', (box) => box.textContent)).not.toContain('Half a sentence');
  });
});

describe('opting out by hand', () => {
  it('asks of what and why, can be taken back, and then counts with the final text', async () => {
    const [person] = await app.query<{ id: string }>(`select id from person where number = $1`, [ANA]);
    const ledger = () =>
      app.query<{ why: string }>(
        `select evidence ->> 'why' as why from consent_event where person_id = $1 and kind = 'opted-out'`,
        [person!.id],
      );
    const optOut = async () => {
      await page.goto(`${app.web}/people/${person!.id}`);
      await page.evaluate(() =>
        [...document.querySelectorAll('summary')]
          .find((one) => /Opt out by hand/.test(one.innerText))!
          .click(),
      );
      await page.waitForSelector('input[name=why]', { visible: true });
      const why = (await page.$$('input[name=why]')).at(-1)!;
      await why.type('on the phone');
      await hit('Opt them out');
      await keys.see('They are opted out of everything');
    };
    await optOut();
    await hit('Take it back');
    await page.waitForFunction(() => !document.body.innerText.includes('They are opted out of everything'));
    expect(await ledger()).toEqual([]);
    const before = (await app.bench.received(ANA, 0)).length;
    await optOut();
    await app.bench.received(ANA, before + 1);
    // An answer that was on its way may have come first.
    expect((await until(ledger, (rows) => rows.length > 0))[0]).toEqual({ why: 'on the phone' });
    await page.reload();
    await keys.see('Opted out of all texts, chat and calls on');
  });
});

describe('the door', () => {
  it('lets no script run that is not ours', async () => {
    const { headers } = await raw('GET', '/sign-in');
    const policy = String(headers['content-security-policy']);
    expect(policy).toMatch(/script-src 'self' 'nonce-[^']{20,}' 'strict-dynamic'/);
    expect(policy).not.toMatch(/script-src[^;]*unsafe/);
    await page.goto(app.web);
    // What somebody's name would do, were it ever written into a page as it is.
    const ran = await page.evaluate(() => {
      document.body.insertAdjacentHTML('beforeend', '<img src=x onerror="window.foreign = true">');
      return new Promise((resolve) => setTimeout(() => resolve('foreign' in window), 300));
    });
    expect(ran).toBe(false);
  });

  it('turns away what another site sends, with 403 and not a fault', async () => {
    const session = await cookie();
    const foreign: Record<string, string>[] = [
      { origin: 'https://evil.test' },
      { origin: 'null' },
      { 'sec-fetch-site': 'cross-site' },
    ];
    for (const headers of foreign)
      for (const path of ['/', '/inbox', '/people/imports/upload', '/internal/people', '/sign-in'])
        expect(
          (await raw('POST', path, { ...headers, cookie: session, 'next-action': 'x' }, '[]')).status,
        ).toBe(403);
  });

  it('asks who is there before it says what is wrong with a draft', async () => {
    const action = await draftAction();
    const answer = await raw(
      'POST',
      '/sends/new',
      { 'next-action': action, 'content-type': 'text/plain' },
      '[{"id":null,"program":"","audience":"","name":"","body":""},null,"x"]',
    );
    expect(answer.text).not.toMatch(/must not be empty|program/);
    expect(String(answer.headers['x-action-redirect'] ?? answer.headers.location)).toContain('/sign-in');
  });

  it.each([
    '/people/%ED%A0%80',
    '/people/%00',
    '/%',
    '/people?sort=%ED%A0%80',
    '/inbox/%F0%9F%90%9E',
    '/sends/..%2f..',
  ])('answers %s without a fault', async (path) =>
    expect((await raw('GET', path, { cookie: await cookie() })).status).toBeLessThan(500),
  );

  it('believes no address a client makes up: a hundred of them are one place', async () => {
    await signInTries(105, (i) => ({ 'x-forwarded-for': `10.1.${i}.1`, 'x-wren-address': `10.2.${i}.1` }));
    const rows = await app.query<{ key: string; tries: number }>(
      `select key, tries from sign_in_try where key like 'from:%'`,
    );
    expect(rows.filter(({ key }) => key.startsWith('from:10.'))).toEqual([]);
    expect(Math.max(...rows.map(({ tries }) => tries))).toBeGreaterThan(100);
    await app.query(`delete from sign_in_try`);
  });
});

/** The id of the action that saves drafts, from the scripts of its page. */
async function draftAction(): Promise<string> {
  await page.goto(`${app.web}/sends/new`);
  const calls: string[] = [];
  page.on('request', (sent) => {
    const id = sent.headers()['next-action'];
    if (id) calls.push(id);
  });
  await page.waitForSelector('.cm-content');
  await page.$$eval('button', (buttons) =>
    buttons.find((button) => button.textContent === 'Keep as a draft')!.click(),
  );
  await until(
    async () => calls.length,
    (count) => count > 0,
  );
  return calls[0]!;
}

/** Wrong tries through the action of the sign-in page, each from somewhere else as it says itself. */
async function signInTries(count: number, headers: (i: number) => Record<string, string>): Promise<void> {
  const fresh = await browser.createBrowserContext();
  const form = await fresh.newPage();
  let action = '';
  form.on('request', (sent) => (action ||= sent.headers()['next-action'] ?? ''));
  await form.goto(`${app.web}/sign-in`);
  await form.type('input[name=email]', 'x@example.org');
  await form.type('input[name=password]', 'x');
  await form.keyboard.press('Enter');
  await until(
    async () => action,
    (id) => id !== '',
  );
  await fresh.close();
  const boundary = 'wren';
  const field = (name: string, value: string) =>
    `--${boundary}\r\ncontent-disposition: form-data; name="${name}"\r\n\r\n${value}\r\n`;
  for (let i = 0; i < count; i++)
    await raw(
      'POST',
      '/sign-in',
      { ...headers(i), 'next-action': action, 'content-type': `multipart/form-data; boundary=${boundary}` },
      `${field('1_email', `g${i}@example.org`)}${field('1_password', 'x')}${field('0', '[{"problems":[],"values":{},"done":null},"$K1"]')}--${boundary}--\r\n`,
    );
}

describe('a large file', () => {
  it('of thirty megabytes arrives whole; one of a hundred and one is refused', async () => {
    await page.goto(`${app.web}/people/imports`);
    const upload = (size: number) =>
      page.evaluate(async (bytes) => {
        const line = '3035550150,';
        const body = new Blob([`number,note\n${line}${'x'.repeat(bytes - 13 - line.length)}\n`]);
        const response = await fetch('/people/imports/upload', {
          method: 'POST',
          headers: { 'x-file-name': 'large.csv', 'x-file-size': String(body.size) },
          body,
        });
        return {
          status: response.status,
          size: body.size,
          ...((await response.json()) as { id?: string; message?: string }),
        };
      }, size);
    const good = await upload(30 * 1024 * 1024);
    expect(good.status).toBe(201);
    const [row] = await app.query<{ bytes: string; stored: string }>(
      `select i.bytes::text, (select sum(length(bytes))::text from import_chunk where import_id = i.id) as stored from import i where id = $1`,
      [good.id],
    );
    expect(row).toEqual({ bytes: String(good.size), stored: String(good.size) });
    const refused = await upload(101 * 1024 * 1024);
    expect(refused).toMatchObject({ status: 422, message: expect.stringContaining('100 MB') });
  });

  it('whose bytes do not all arrive is refused', async () => {
    const answer = await raw(
      'POST',
      '/people/imports/upload',
      { cookie: await cookie(), 'x-file-size': '5000' },
      'number\n3035550150\n',
    );
    expect(answer.status).toBe(422);
    expect(answer.text).toContain('only 18 arrived');
  });
});

describe('what dies', () => {
  it.each(['web', 'worker', 'sender', 'bench'] as const)('is started again: the %s', async (name) => {
    process.kill(app.process(name), 'SIGKILL');
    const up = async () => {
      try {
        const bench = await fetch(`${app.bench.url}/health`);
        const worker = await fetch(`${app.web}/health?of=worker`);
        return bench.ok && worker.ok && app.process(name) > 0;
      } catch {
        return false;
      }
    };
    expect(await until(up, (good) => good)).toBe(true);
    expect(app.said()).toMatch(
      new RegExp(`The ${name === 'bench' ? 'test bench' : name} was ended by SIGKILL; it is started again`),
    );
  });
});

describe('a restored copy beside the original', () => {
  const PEER = '+13035550143';
  const BIN = `/usr/lib/postgresql/${readdirSync('/usr/lib/postgresql').sort().at(-1)}/bin`;
  const dump = join(tmpdir(), `wren-${process.pid}-${randomBytes(4).toString('hex')}.dump`);
  afterAll(() => rmSync(dump, { force: true }));

  it('texts nobody: it is held, made harmless by one command, and begins nothing after go', async () => {
    await app.bench.handset(PEER);
    await app.bench.text(PEER, PROGRAM_NUMBER, 'sky');
    await app.bench.received(PEER, 1);
    const [program] = await app.query<{ id: string }>(
      `select id from program where name = 'Clear Sky Alerts'`,
    );
    const key = await app.apiKey();
    const api = async (path: string, body: object) =>
      (await (
        await fetch(`${app.web}/api/v1${path}`, {
          method: 'POST',
          headers: { authorization: `Bearer ${key}` },
          body: JSON.stringify(body),
        })
      ).json()) as { id: string };
    const words = `Juniper Gap: copy test ${createHash('sha1').update(dump).digest('hex').slice(0, 8)}. Reply STOP to stop.`;
    const made = await api('/broadcasts', { program: program!.id, name: 'Copied', body: words });
    // In the day's hours everywhere, so that the original does send.
    const now = await app.bench.now();
    const at = new Date(Math.ceil(now / 86_400_000) * 86_400_000 + 18 * 3_600_000);
    await api(`/broadcasts/${made.id}/send`, { at: at.toISOString() });
    execFileSync(`${BIN}/pg_dump`, ['--format=custom', `--file=${dump}`, app.databaseUrl]);
    const copyUrl = await scratchDatabase('test_restored');
    execFileSync(`${BIN}/pg_restore`, [`--dbname=${copyUrl}`, dump]);
    let copy = await startApp(PORT + 10, copyUrl);
    const got = async (one: App) => (await one.bench.texts(PEER)).filter(({ body }) => body === words).length;
    try {
      expect(await copy.query(`select held_because from installation`)).toEqual([{ held_because: 'copy' }]);
      const ahead = at.getTime() + 60_000 - now;
      for (const one of [app, copy]) await one.bench.advance(`PT${Math.round(ahead / 1_000)}S`);
      expect(
        await until(
          () => got(app),
          (count) => count === 1,
        ),
      ).toBe(1);
      await page.goto(copy.web.replace(String(PORT), String(PORT + 10)));
      const harmless = await copy.command('restored');
      expect(harmless).toMatch(/broadcasts made drafts again: \d+/);
      expect(harmless).toMatch(/sequences paused: \d+/);
      expect(harmless).toMatch(/lines of the sequence “.+” for \d+ p/);
      expect(harmless).toContain('broadcast “Copied”');
      expect(harmless).toContain('npm run restored -- --go');
      await copy.command('restored', '--go');
      await until(
        () => copy.query<{ held: boolean }>(`select held_since is not null as held from installation`),
        ([row]) => row!.held === false,
      );
      await until(
        async () => copy.bench.call<{ links: number }>('GET', '/carrier'),
        ({ links }) => links > 0,
      );
      await copy.stop();
      copy = await startApp(PORT + 10, copyUrl);
      await copy.bench.advance('P2D');
      await new Promise((resolve) => setTimeout(resolve, 3_000));
      expect(await got(copy)).toBe(0);
      const ofSequences = `select 1 from message where kind like 'sequence%' and submitted_at > '${at.toISOString()}'`;
      expect(await copy.query(ofSequences)).toEqual([]);
      expect(await copy.query(`select state from broadcast where name = 'Copied'`)).toEqual([
        { state: 'draft' },
      ]);
      expect(await got(app)).toBe(1);
    } finally {
      await copy.stop();
    }
  });
});
