import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { pressing } from './support/acts';
import { startApp, until, type App } from './support/app';
import { violations } from './support/axe';
import { openBrowser, signIn } from './support/browser';
import { keysOf, type Keys } from './support/keys';

/** The second workspace registers from nothing; the first has its story. */

let app: App;
let browser: Browser;
let closeBrowser: () => Promise<void>;
let page: Page;
let keys: Keys;

beforeAll(async () => {
  app = await startApp(4790);
  ({ browser, close: closeBrowser } = await openBrowser());
  page = await browser.newPage();
  await page.setViewport({ width: 1280, height: 1_000 });
  keys = keysOf(page);
  await signIn(page, app.web, 'ilse@roving-dome.example.org');
  await app.bench.call('PUT', '/registrar/moods', {
    ...{ brand_after: 'PT0S', program_after: 'PT0S', number_after: 'PT0S' },
  });
});
afterAll(async () => {
  await closeBrowser?.();
  await app?.stop();
});

const open = (path: string) => page.goto(`${app.web}${path}`, { waitUntil: 'load' });
const press = pressing(() => page);
const fill = async (name: string, words: string): Promise<void> => {
  await page.waitForSelector(`#field-${name}`);
  await page.click(`#field-${name}`, { count: 3 });
  await page.type(`#field-${name}`, words);
};
const margin = () => page.$eval('aside[aria-label=Margin]', (one) => one.textContent ?? '');
/** What stands in the row that begins with these words. */
const row = (begins: string): Promise<string> =>
  page.$$eval(
    'main tbody tr',
    (rows, words) => rows.map((one) => one.textContent ?? '').find((one) => one.startsWith(words)) ?? '',
    begins,
  );

describe('the business', () => {
  it('is told of, and what a reviewer would miss goes away while it is written', async () => {
    await open('/numbers/registration');
    await keys.see('None is connected');
    const [url] = await page.$$eval('input[name=url]', (inputs) =>
      inputs.map((one) => (one as HTMLInputElement).value),
    );
    expect(url).toContain('/registrar');
    await page.$eval('input[name=account]', (input) => ((input as HTMLInputElement).value = ''));
    await page.type('input[name=account]', 'cedar');
    await press('Connect it');
    await keys.see('Cedar Dome');
    expect(await violations(page)).toEqual([]);

    await press('Roving Dome');
    await keys.see('The legal name is missing');
    await fill('legal_name', 'Roving Dome Cooperative');
    expect(await margin()).not.toContain('The legal name is missing');
    await fill('tax_number', '12-34');
    await keys.see('has nine digits');
    await fill('tax_number', '00-0000123');
    await fill('about', 'A planetarium that travels to schools and fairs of the mountain towns.');
    await fill('website', 'https://roving-dome.example.org');
    await fill('street', '4 Mesa Lane');
    await fill('city', 'Juniper Gap');
    await fill('state', 'NM');
    await fill('postal_code', '87001');
    await fill('contact_name', 'Ilse Wetherall');
    await fill('contact_email', 'ilse@roving-dome.example.org');
    await keys.see('nothing is missing');
    await press('Keep it');
    await keys.see('Hand it in');
    expect(await violations(page)).toEqual([]);
    await press('Hand it in');
    await keys.see('registered');
    await keys.see('the registrar has it');
  });

  it('has a privacy page and terms of ours, for anybody', async () => {
    const anybody = await (await browser.createBrowserContext()).newPage();
    await anybody.goto(`${app.web}/about/roving-dome/privacy`, { waitUntil: 'load' });
    expect(await anybody.$eval('main', (one) => one.textContent)).toContain(
      'We do not share, sell or pass on mobile',
    );
    expect(await violations(anybody)).toEqual([]);
    await anybody.goto(`${app.web}/about/nobody/privacy`, { waitUntil: 'load' });
    expect(await anybody.$eval('body', (one) => one.textContent)).not.toContain('mobile phone');
    await anybody.close();
  });
});

describe('a program', () => {
  it('is mostly told already; a question is answered in place', async () => {
    await open('/numbers/registration');
    await press('Where the Dome Stands');
    await keys.see('Text ROVE to');
    await keys.see('No kind of content is chosen');
    await fill('about', 'People of the mountain towns who asked where the dome stands next.');
    await press('Add a sample');
    await fill('samples\\.0', 'Roving Dome: we stand in the school yard on Saturday. Reply STOP to stop.');
    await press('Add a sample');
    await fill('samples\\.1', 'Roving Dome: two places are left for ten o’clock.');
    for (const kind of ['events and dates', 'offers and discounts'])
      await page.evaluate(
        (words) =>
          [...document.querySelectorAll('label')]
            .find(({ textContent }) => textContent?.trim() === words)!
            .querySelector('input')!
            .click(),
        kind,
      );
    await keys.see('nothing is missing');
    await press('Keep it');
    await keys.see('Hand it in');
    expect(await violations(page)).toEqual([]);
    await press('Hand it in');
    await keys.see('asked something');
    await open('/numbers/registration');
    await keys.see('What is offered, and by whom?');
    expect(await violations(page)).toEqual([]);
    await page.type('input[name=answer]', 'Half price for schools in May, by ourselves.');
    await press('Answer it');
    await keys.see('all answered');
    await until(
      () => open('/numbers/registration').then(() => row('Where the Dome Stands')),
      (words) => words.includes('registered'),
    );
  });

  it('says what a change would break of what the reviewer was told, before it is saved', async () => {
    const [program] = await app.query<{ id: string }>(
      `select id from program where name = 'Where the Dome Stands'`,
    );
    await open(`/programs/${program!.id}/change`);
    expect(await margin()).not.toContain('What the reviewer was told');
    await fill('promise', '9');
    await keys.see('What the reviewer was told');
    await keys.see('“Up to 2 msgs/month”, and it would be “Up to 9 msgs/month”');
    await open('/numbers/registration');
    await page.setViewport({ width: 390, height: 800 });
    expect(await page.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390);
    expect(await violations(page)).toEqual([]);
    await page.setViewport({ width: 1280, height: 1_000 });
  });
});

describe('a number', () => {
  it('is found where people live, taken, handed in, and may then be texted from', async () => {
    await open('/numbers/find');
    await page.$eval('input[name=account]', (input) => ((input as HTMLInputElement).value = ''));
    await page.type('input[name=account]', 'cedar');
    await press('Connect it');
    await until(
      () => open('/numbers/find?area=505').then(() => page.$$eval('main tbody tr', (rows) => rows.length)),
      (rows) => rows > 3,
    );
    expect(await violations(page)).toEqual([]);
    const [number] = await page.$$eval('main tbody tr td:first-child', (cells) =>
      cells.map((cell) => cell.textContent!.replace(/ (?:local|toll).*/, '')),
    );
    await press(`Take ${number}`);
    await page.evaluate(() => {
      const select = document.querySelector<HTMLSelectElement>('details[open] select[name=program]')!;
      select.value = [...select.options].find(({ text }) => text === 'Where the Dome Stands')!.value;
      select.dispatchEvent(new Event('change', { bubbles: true }));
    });
    await page.click('details[open] button');
    await until(
      () => open('/numbers/find').then(() => page.$eval('main', (one) => one.textContent ?? '')),
      (words) => words.includes(`${number}take`) && words.includes('done'),
    );
    await open('/numbers/registration');
    expect(await row(number!)).toContain('not handed in');
    const at = await page.$$eval(
      'main tbody tr',
      (rows, begins) => rows.findIndex((one) => one.textContent!.startsWith(begins)),
      number!,
    );
    await page.click(`main tbody tr:nth-child(${at + 1}) button`);
    await until(
      () => open('/numbers/registration').then(() => row(number!)),
      (words) => words.includes('registered'),
    );
    await open('/numbers');
    expect(await row(number!)).toContain('registered');
  });
});

describe('the house of the story', () => {
  it('is asked about its newest number, on Today and in place', async () => {
    const theirs = await (await browser.createBrowserContext()).newPage();
    await signIn(theirs, app.web, 'marek@juniper-gap.example.org');
    await theirs.bringToFront();
    const see = keysOf(theirs).see;
    await theirs.goto(`${app.web}/`, { waitUntil: 'load' });
    await see('A reviewer asks');
    await theirs.goto(`${app.web}/numbers/registration`, { waitUntil: 'load' });
    await see('message frequency varies');
    await see('Answered: 1');
    expect(await violations(theirs)).toEqual([]);
  });
});
