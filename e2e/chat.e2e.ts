import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { choosing, pressing } from './support/acts';
import { startApp, until, type App, type Received } from './support/app';
import { violations } from './support/axe';
import { openBrowser, signIn } from './support/browser';
import { keysOf, type Keys } from './support/keys';

let app: App;
let browser: Browser;
let closeBrowser: () => Promise<void>;
let page: Page;
let keys: Keys;

const OWL = 'owl-e2e-9';

beforeAll(async () => {
  app = await startApp(4720);
  ({ browser, close: closeBrowser } = await openBrowser());
  page = await browser.newPage();
  await page.setViewport({ width: 1280, height: 1_000 });
  keys = keysOf(page);
  await signIn(page, app.web, 'marek@juniper-gap.example.org');
});
afterAll(async () => {
  await closeBrowser?.();
  await app?.stop();
});

const open = (path: string) => page.goto(`${app.web}${path}`, { waitUntil: 'load' });
const chats = (who: string, said: object) =>
  app.bench.call('POST', `/handsets/${encodeURIComponent(who)}/chats`, { to: 'juniper', ...said });
const shown = async (who: string): Promise<Received[]> =>
  (await app.bench.texts(who)).filter((text) => 'chat' in text);
const press = pressing(() => page);
const choose = choosing(() => page);
const personCalled = async (name: string): Promise<string> =>
  (
    await until(
      () =>
        app.query<{ id: string }>(
          `select id from person where first_name = $1 order by created_at desc limit 1`,
          [name],
        ),
      (rows) => rows.length > 0,
    )
  )[0]!.id;

describe('a chat account', () => {
  it('is connected, and says what is missing before it may send', async () => {
    await open('/numbers');
    await press('Connect another account');
    await page.$eval(
      'input[name=account]:not([type=hidden])',
      (input) => ((input as HTMLInputElement).value = ''),
    );
    await page.type('input[name=account]:not([type=hidden])', 'unfinished');
    await press('Connect it');
    await keys.see('may only answer, the network says');
    await keys.see('a picture of the business');
    expect(await violations(page)).toEqual([]);
  });
});

describe('a template', () => {
  it('is written under the network’s own limits, handed in, and approved without a reload', async () => {
    await open('/sends/chat-templates');
    await page.type('input[name=name]', 'terrace_night');
    await choose('Account', 'Juniper Gap');
    await press('Begin it');
    await keys.see('As a reviewer reads it');
    await page.click('[contenteditable=true]');
    await press('first name');
    await page.click('[contenteditable=true]');
    await page.keyboard.press('End');
    await keys.type(', the terrace is open tonight until ten.');
    await keys.see('Must not begin with a field');
    await keys.see('Nothing says how to stop');
    await page.keyboard.press('Home');
    await keys.type('Hi ');
    await press('The one that leaves');
    await keys.see('Nothing stands against it');
    expect(await violations(page)).toEqual([]);
    await press('Hand version 1 in');
    await keys.see('in review');
    await app.bench.advance('PT30S');
    await keys.see('approved');
    expect(await violations(page)).toEqual([]);
  });

  it('that a reviewer refuses shows why, and is mended as a new version', async () => {
    const [refused] = await app.query<{ template_id: string; id: string }>(
      `select w.template_id, w.id from chat_wording w join chat_template t on t.id = w.template_id where t.name = 'last_call'`,
    );
    await open(`/sends/chat-templates/${refused!.template_id}`);
    await keys.see('It promises what nobody can keep, or presses people to act');
    await press('Begin a new version');
    await keys.see('version 2');
    expect(
      await app.query(`select 1 from chat_wording where template_id = $1 and state = 'draft'`, [
        refused!.template_id,
      ]),
    ).toHaveLength(1);
  });
});

describe('a thread by chat', () => {
  it('shows the window with its time left, and an answer goes there', async () => {
    await chats(OWL, { body: 'SKY', profile: { name: 'Wilhelmina Owlet', language: 'en' } });
    await until(
      () => shown(OWL),
      (texts) => texts.length === 1,
    );
    await chats(OWL, { body: 'Do you take dogs on the terrace?' });
    const id = await personCalled('Wilhelmina');
    await until(
      () => app.query(`select 1 from inbound_text where person_id = $1 and meaning = 'reply'`, [id]),
      (rows) => rows.length === 1,
    );
    await open(`/inbox/${id}`);
    await keys.see('the window is open for 23 h 5');
    await page.click('[contenteditable=true]');
    await keys.type('Dogs are welcome on the terrace.');
    await press('Let them press an answer');
    await page.type('input[aria-label="Answer to press 1"]', 'We will come');
    await press('Send the answer');
    await until(
      () => shown(OWL),
      (texts) =>
        texts.some(
          ({ body, buttons }) =>
            body === 'Dogs are welcome on the terrace.' && buttons?.[0]?.words === 'We will come',
        ),
    );
    // What they press comes back as its words.
    await chats(OWL, { button: 'We will come' });
    await until(
      () => app.query(`select 1 from inbound_text where person_id = $1 and body = 'We will come'`, [id]),
      (rows) => rows.length === 1,
    );
    expect(await violations(page)).toEqual([]);
  });

  it('says beforehand that an answer would not go once the window is closed', async () => {
    await app.bench.advance('P1DT1H');
    await open(`/inbox/${await personCalled('Wilhelmina')}`);
    await keys.see('The window is closed: they last wrote more than 24 hours ago.');
    await keys.see('An answer written now would not go');
  });
});

describe('a broadcast by chat', () => {
  it('goes by its template, is answered by a button, and the button that leaves is an opt-out', async () => {
    await open('/sends/new');
    await choose('By', 'chat message');
    await choose('Template', 'terrace_night');
    await page.waitForFunction(() => document.body.innerText.includes('the terrace is open tonight'));
    await page.evaluate(() => {
      const label = [...document.querySelectorAll('label')].find((one) =>
        one.textContent?.startsWith('Name, for you'),
      )!;
      document.getElementById(label.htmlFor)!.focus();
    });
    await keys.type('Terrace by chat');
    await keys.see('Clearance report');
    await keys.see('The network lets you begin with');
    await press('Send to');
    await keys.see('Terrace by chat');
    // Their hours may be closed now.
    await until(
      async () => {
        await app.bench.advance('PT1H');
        return shown(OWL);
      },
      (texts) => texts.some(({ body }) => body.includes('the terrace is open tonight')),
      60_000,
      1_500,
    );
    await chats(OWL, { button: 'Stop these' });
    const id = await personCalled('Wilhelmina');
    await until(
      () =>
        app.query<{ state: string }>(
          `select state from consent_state where person_id = $1 and channel = 'chat'`,
          [id],
        ),
      (rows) => rows[0]?.state === 'out',
    );
    await until(
      () => shown(OWL),
      (texts) => /stop|unsubscribed|no more/i.test(texts.at(-1)!.body),
    );
    await open(`/inbox/${id}`);
    await keys.see('opted out');
    const twice = await app.query(
      `select m.person_id from message m join broadcast b on b.id = m.send_id where b.name = 'Terrace by chat' group by 1 having count(*) > 1`,
    );
    expect(twice).toEqual([]);
  });
});
