import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { apiOf, choosing, pressing } from './support/acts';
import { startApp, until, type App } from './support/app';
import { violations } from './support/axe';
import { openBrowser, signIn } from './support/browser';
import { keysOf, type Keys } from './support/keys';

/** An evening of texts that are pressed by hand, and the answers to them: by a manager, and by a guest on a phone. */

const PROGRAM_NUMBER = '+17195550110';
/** Fictional numbers that nobody in the demo has. */
const handset = (i: number) => `+1406555${String(110 + i).padStart(4, '0')}`;
const PEOPLE = 8;
const TEXT = 'Juniper Gap Observatory: Shall we save you a chair on Friday? Reply STOP to stop.';

let app: App;
let browser: Browser;
let closeBrowser: () => Promise<void>;
let page: Page;
let phone: Page;
let keys: Keys;
let api: Awaited<ReturnType<typeof apiOf>>;
let send: string;

beforeAll(async () => {
  app = await startApp(4760);
  ({ browser, close: closeBrowser } = await openBrowser());
  page = await browser.newPage();
  keys = keysOf(page);
  api = await apiOf(app);
  const denver = new Date(await app.bench.now()).toLocaleString('sv-SE', { timeZone: 'America/Denver' });
  const minutes = Number(denver.slice(11, 13)) * 60 + Number(denver.slice(14, 16));
  if (minutes < 10 * 60 || minutes > 17 * 60)
    await app.bench.advance(`PT${(11 * 60 - minutes + 24 * 60) % (24 * 60)}M`);
  for (let i = 0; i < PEOPLE; i++) await app.bench.handset(handset(i));
  for (let i = 0; i < PEOPLE; i++) await app.bench.text(handset(i), PROGRAM_NUMBER, 'sky');
  for (let i = 0; i < PEOPLE; i++) await app.bench.received(handset(i), 1);
  await signIn(page, app.web, 'odile@juniper-gap.example.org');
});

afterAll(async () => {
  await closeBrowser?.();
  await app?.stop();
});

const see: Keys['see'] = (...args) => keys.see(...args);
const press = pressing(() => page);
const choose = choosing(() => page);
/** Who has the text, by the bench: what handsets show. */
const reached = async (): Promise<number[]> => {
  const counts = [];
  for (let i = 0; i < PEOPLE; i++)
    counts.push((await app.bench.texts(handset(i))).filter(({ body }) => body.includes('chair')).length);
  return counts;
};
const sum = (counts: readonly number[]) => counts.reduce((all, one) => all + one, 0);

describe('texts that are pressed by hand', () => {
  it('are split among a teammate and a guest, whose link is shown once', async () => {
    const made = await api('POST', '/broadcasts', {
      ...{ program: 'Clear Sky Alerts', name: 'By hand', body: TEXT, pace: { hands: true, adapt: true } },
      audience: JSON.stringify({ ask: 'field', field: 'number', test: 'starts', value: '+14065550' }),
    });
    send = made.id as string;
    await api('POST', `/broadcasts/${send}/send`, {});
    await until(
      () => app.query<{ state: string }>(`select state from broadcast where id = $1`, [send]),
      ([row]) => row?.state === 'sending',
    );
    await page.goto(`${app.web}/sends/${send}`);
    await press('Stacks');
    await see('8 people lie in no stack');
    expect(await violations(page)).toEqual([]);
    await page.waitForSelector('input[name=account]');
    await page.$$eval('label', (labels) =>
      labels.find(({ textContent }) => textContent?.startsWith('Odile'))!.click(),
    );
    await press('And somebody who is invited');
    await page.type('input[name=guest]', 'Iris');
    await press('Split them');
    await see('The link of Iris, shown this once');
    await see('Everybody lies in a stack');
    const link = await page.evaluate(() => /https?:\S+\/stack\/\S+/.exec(document.body.innerText)![0]);
    phone = await browser.newPage();
    await phone.setViewport({ width: 390, height: 780, isMobile: true, hasTouch: true });
    // Nobody is signed in there: the page is for whoever holds the link.
    await phone.goto(`${app.web}${new URL(link).pathname}`);
    await keysOf(phone).see('Shall we save you a chair');
    expect(await violations(phone)).toEqual([]);
    expect(await reached()).toEqual(Array(PEOPLE).fill(0));
  });

  it('go one by one as fast as a key is pressed, each once', async () => {
    // A page that stands behind another draws nothing.
    await page.bringToFront();
    await page.goto(`${app.web}/sends/${send}/stack`);
    await see('Shall we save you a chair');
    expect(await violations(page)).toEqual([]);
    await page.keyboard.press('e');
    await page.waitForSelector('#otherwords');
    expect(await violations(page)).toEqual([]);
    await page.$eval('#otherwords', (field) => (field as HTMLTextAreaElement).select());
    await page.keyboard.type('Read https://elsewhere.example.org first');
    await press('Keep these words');
    await see('keeps the links it had');
    await page.$eval('#otherwords', (field) => (field as HTMLTextAreaElement).select());
    await page.keyboard.type(`${TEXT} It would be good to have you.`);
    await press('Keep these words');
    await page.waitForFunction(
      () =>
        document.querySelector('#otherwords') === null &&
        document.body.innerText.includes('good to have you'),
    );
    await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    await page.keyboard.press('x');
    await see('Why not?');
    await press('Not for them');
    await see('3 at hand');
    for (let i = 0; i < 6; i++) await page.keyboard.press('Enter');
    await see('That was the last one');
    await see('3 sent by you here');
    await until(reached, (counts) => sum(counts) === 3);
  });

  it('wait in the browser while there is no line, and go once it is back', async () => {
    const seen = keysOf(phone);
    await phone.bringToFront();
    await phone.setOfflineMode(true);
    const button = await phone.waitForSelector('button.button-main');
    await button!.tap();
    await button!.tap();
    await seen.see('No connection');
    expect(sum(await reached())).toBe(3);
    await phone.setOfflineMode(false);
    await seen.see('2 sent by you here');
    await until(reached, (counts) => sum(counts) === 5);
    expect(Math.max(...(await reached()))).toBe(1);
  });

  it('bring answers to whoever pressed: read and answered on the phone, without a list or a number', async () => {
    const who = (await reached()).map((n, i) => (n > 0 ? i : -1)).filter((i) => i >= 0);
    for (const i of who)
      await app.bench.text(handset(i), PROGRAM_NUMBER, `Yes! From ${i}. When does it begin?`);
    const seen = keysOf(phone);
    await phone.bringToFront();
    await seen.see('When does it begin?');
    expect(await phone.evaluate(() => document.body.innerText)).not.toContain('406');
    await pressing(() => phone)('No name known');
    await phone.type('textarea', 'At eight.');
    await pressing(() => phone)('Send the answer');
    await until(
      async () => {
        let answers = 0;
        for (const i of who)
          answers += (await app.bench.texts(handset(i))).filter(({ body }) => body === 'At eight.').length;
        return answers;
      },
      (answers) => answers === 1,
    );
  });

  it('are seen by the manager, who moves what is left and ends the link', async () => {
    await page.bringToFront();
    await page.goto(`${app.web}/sends/${send}/stacks`);
    await see('Iris');
    await page.type('input[name=words]', 'Soup at eight.');
    await press('Say it');
    await see('It stands on every desk');
    await phone.bringToFront();
    await keysOf(phone).see('Odile: Soup at eight.');
    await page.bringToFront();
    await page.$$eval('summary', (all) =>
      all.find(({ ariaLabel }) => ariaLabel?.includes('stack of Iris'))!.click(),
    );
    await choose('To', 'Odile');
    await press('Move what is left');
    await until(
      () =>
        app.query<{ n: number }>(
          `select count(*)::int as n from stack_row r join stack s on s.id = r.stack_id where s.send_id = $1 and s.account_id is not null and r.pressed_at is null and r.skipped_at is null`,
          [send],
        ),
      ([row]) => row?.n === 2,
    );
    await page.goto(`${app.web}/sends/${send}/stacks`);
    await page.$$eval('summary', (all) =>
      all.find(({ ariaLabel }) => ariaLabel?.includes('stack of Iris'))!.click(),
    );
    await press('End it');
    await see('ended');
    await phone.bringToFront();
    await phone.reload();
    await keysOf(phone).see('Nothing here');
  });
});

describe('the inbox', () => {
  it('shows who asks first, is answered from the keyboard, and what was sent can be taken back', async () => {
    await page.bringToFront();
    await page.goto(`${app.web}/inbox?box=mine`);
    await see('asks something');
    expect(await violations(page)).toEqual([]);
    await page.keyboard.press('j');
    await page.keyboard.press('Enter');
    await page.waitForSelector('.cm-content');
    await see('What to do');
    await page.click('.cm-content');
    await page.keyboard.type('At nine.');
    // Later: however slow this machine is, it has not left by then.
    await press('Send it later');
    await page.$eval('input[name=at]', (node) => {
      const field = node as HTMLInputElement;
      const later = new Date(Date.now() + 3 * 86_400_000).toISOString();
      Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')!.set!.call(
        field,
        `${later.slice(0, 10)}T12:00`,
      );
      field.dispatchEvent(new Event('input', { bubbles: true }));
    });
    await press('Send the answer');
    await see('Take it back');
    await press('Take it back');
    await see('called back');
    const answers = await app.query(`select state from message where body = 'At nine.'`);
    expect(answers).toEqual([{ state: 'cancelled' }]);
    expect(await violations(page)).toEqual([]);
  });

  it('keeps a note for teammates alone, puts a thread off, and finds words', async () => {
    await press('Write a note');
    await page.type('textarea[name=note]', 'Brings a wheelchair. @Tess knows the ramp.');
    await press('Keep the note');
    await see('for teammates only');
    await press('Put it off');
    await page.$$eval('button', (all) =>
      all
        .filter(({ textContent }) => textContent === 'Put it off')
        .at(-1)!
        .click(),
    );
    await see('Put off until');
    await page.goto(`${app.web}/inbox?box=later`);
    await see('Back at');
    await page.goto(`${app.web}/inbox?q=wheelchair`);
    await see('a note');
    expect(await violations(page)).toEqual([]);
    await page.goto(`${app.web}/inbox/replies`);
    await see('What you want');
    expect(await violations(page)).toEqual([]);
  });
});
