import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startApp, until, type App } from './support/app';
import { violations } from './support/axe';
import { openBrowser } from './support/browser';
import { keysOf, type Keys } from './support/keys';

const NUMBER = '+17195550110';
const ANA = '+13035550123';
const PASSWORD = 'three plain words';

let app: App;
let browser: Browser;
let closeBrowser: () => Promise<void>;
let page: Page;
let keys: Keys;

beforeAll(async () => {
  app = await startApp(4580, undefined, { WREN_NO_DEMO: '1' });
  ({ browser, close: closeBrowser } = await openBrowser());
  page = await browser.newPage();
  keys = keysOf(page);
});
afterAll(async () => {
  await closeBrowser?.();
  await app?.stop();
});

const open = (path: string) => page.goto(`${app.web}${path}`, { waitUntil: 'load' });

/** Fills a form by keyboard, from its first field on. */
async function fill(fields: [label: string, value: string][], last: string, by: Keys = keys): Promise<void> {
  for (const [label, value] of fields) {
    await by.tabTo(label);
    await by.type(value);
  }
  await by.tabTo(last);
  await by.press('Enter');
}

describe('an empty house', () => {
  it('prints an address at which the first owner moves in, by keyboard', async () => {
    const [door] = /http:\/\/localhost:4580\/begin\/[\w-]+/.exec(app.said()) ?? [];
    await page.goto(door!, { waitUntil: 'load' });
    expect(await violations(page), 'the first door').toEqual([]);
    await keys.tabTo('Time zone');
    await page.keyboard.down('Control');
    await keys.press('a');
    await page.keyboard.up('Control');
    await keys.type('America/Denver');
    await page.evaluate(() => (document.activeElement as HTMLElement).blur());
    await fill(
      [
        ['Name, as people read it', 'Juniper Gap Observatory'],
        ['Where a human answers', '(719) 555-0110'],
        ['Credits you have bought', '500'],
        ['Your name', 'Odile Farrow'],
        ['E-mail', 'odile@juniper-gap.example.org'],
        ['A password', PASSWORD],
      ],
      'Move in',
    );
    await keys.see('3 things are missing before the first text');
    expect(await violations(page), 'what is missing').toEqual([]);
    // The door is shut behind them.
    await page.goto(door!, { waitUntil: 'load' });
    await keys.see('This address leads nowhere');
  });

  it('comes to its first confirmed member by what is missing, each with its remedy', async () => {
    await open('/moving-in');
    await keys.tabTo('Enter a number');
    await keys.press('Enter');
    await keys.see('A number the carrier gave');
    await fill([['Number', '(719) 555-0110']], 'Enter the number');
    await keys.see('(719) 555-0110');
    await open('/moving-in');
    await keys.tabTo('Make a program');
    await keys.press('Enter');
    await keys.see('The keyword works as soon as you save');
    await fill(
      [
        ['Name', 'Clear Sky Alerts'],
        ['At most this many texts', '6'],
        ['Keyword', 'SKY'],
      ],
      'Make the program',
    );
    await keys.see('What is sent automatically');
    await open('/moving-in');
    await keys.see('The first text can leave');
    await app.bench.text(ANA, NUMBER, 'sky');
    const [text] = await app.bench.received(ANA, 1);
    expect(text!.body).toContain('Juniper Gap Observatory Clear Sky Alerts: Up to 6 msgs/month');
    await open('/');
    expect(await page.evaluate(() => document.body.innerText)).not.toContain('missing before the first text');
  });

  it('changes what people agree to, and what was agreed stays for who is in it', async () => {
    const [program] = await app.query<{ id: string }>(`select id from program`);
    await open(`/programs/${program!.id}/change`);
    await keys.tabTo('At most this many texts');
    await page.keyboard.down('Control');
    await keys.press('a');
    await page.keyboard.up('Control');
    await keys.type('8');
    await keys.see('1 person agreed to less');
    expect(await violations(page), 'a change of what is promised').toEqual([]);
    await keys.tabTo('It stays at');
    await keys.press('Space');
    await page.evaluate(() => document.querySelector('form')!.requestSubmit());
    const promises = await until(
      () => app.query<{ binds: string }>(`select binds from program_promise order by since`),
      (rows) => rows.length > 0,
    );
    expect(promises).toEqual([{ binds: 'all' }, { binds: 'later' }]);
  });
});

describe('a team', () => {
  it('is joined by a link that works once', async () => {
    await open('/team');
    expect(await violations(page), 'the team').toEqual([]);
    await fill(
      [
        ['Name', 'Tess Nightjar'],
        ['E-mail', 'tess@juniper-gap.example.org'],
      ],
      'Invite them',
    );
    await keys.see('it works once');
    const link = await page.evaluate(() => /https?:\S+\/join\/[\w-]+/.exec(document.body.innerText)![0]);
    const elsewhere = await browser.createBrowserContext();
    const tess = await elsewhere.newPage();
    const hers = keysOf(tess);
    await tess.goto(link, { waitUntil: 'load' });
    await hers.see('You are invited as teammate');
    expect(await violations(tess), 'an invitation').toEqual([]);
    await fill([['A password', PASSWORD]], 'Come in', hers);
    await hers.see('Today');
    await tess.goto(link, { waitUntil: 'load' });
    await hers.see('This link leads nowhere');
    await elsewhere.close();
    await until(
      () => app.query<{ role: string }>(`select role from membership order by role`),
      (rows) => rows.map(({ role }) => role).join() === 'owner,teammate',
    );
  });

  it('keeps several businesses apart, with a switch from one to the other', async () => {
    await open('/businesses');
    await fill(
      [
        ['Name, as people read it', 'Roving Dome'],
        ['Where a human answers', 'hello@roving-dome.example.org'],
      ],
      'Make it',
    );
    await keys.see('4 things are missing before the first text');
    expect(await page.$eval('header', (node) => node.innerText)).toContain('Roving Dome');
    await open('/people');
    expect(await page.evaluate(() => document.body.innerText)).not.toContain('0123');
    await open('/businesses');
    expect(await violations(page), 'the businesses').toEqual([]);
    await keys.tabTo('Go there');
    await keys.press('Enter');
    await page.waitForFunction(() => document.querySelector('header')?.innerText.includes('Juniper Gap'));
  });
});

describe('settings', () => {
  it('are changed where they are shown, with a rule of one’s own', async () => {
    await open('/settings');
    await keys.tabTo('Most messages to one person');
    await keys.press('Backspace');
    await keys.type('3');
    await keys.see('got 3 or more in the last seven days');
    await page.evaluate(() => document.querySelector('form')!.requestSubmit());
    await keys.see('Saved.');
    await open('/settings');
    await page.evaluate(() => {
      for (const one of document.querySelectorAll('details')) one.open = true;
    });
    expect(await violations(page), 'the settings').toEqual([]);
    await open('/numbers');
    await page.evaluate(() => {
      for (const one of document.querySelectorAll('details')) one.open = true;
    });
    expect(await violations(page), 'the numbers').toEqual([]);
  });
});
