import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import encodeQR from 'qr';
import type { Browser, ElementHandle, HTTPRequest, Page } from 'puppeteer-core';
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
const folder = mkdtempSync(join(tmpdir(), 'wren-people-'));

beforeAll(async () => {
  app = await startApp(4530);
  ({ browser, close: closeBrowser } = await openBrowser());
  page = await browser.newPage();
  keys = keysOf(page);
  await signIn(page, app.web, 'marek@juniper-gap.example.org');
});
afterAll(async () => {
  await closeBrowser?.();
  await app?.stop();
});

const count = async (sql: string, values: unknown[] = []): Promise<number> =>
  (await app.query<{ n: number }>(`select count(*)::int as n from ${sql}`, values))[0]!.n;
const fileOf = (name: string, content: string | Uint8Array): string => {
  const path = join(folder, name);
  writeFileSync(path, content);
  return path;
};
const choose = async (path: string): Promise<void> =>
  ((await page.waitForSelector('input[type=file]')) as ElementHandle<HTMLInputElement>).uploadFile(path);
/** Puts other words where the focus is. */
async function replaceBy(words: string): Promise<void> {
  await page.keyboard.down('Control');
  await keys.press('a');
  await page.keyboard.up('Control');
  await (words === '' ? keys.press('Delete') : keys.type(words));
}
const open = (path: string) => page.goto(`${app.web}${path}`, { waitUntil: 'load' });

describe('people, by keyboard', () => {
  it('are imported with the words they agreed to: pasted, tried out, run', async () => {
    await open('/people');
    await keys.tabTo('Import');
    await keys.press('Enter');
    await keys.see('Or paste rows');
    await keys.tabTo('Or paste rows');
    await keys.type('Name,Phone\nIvo Kettleby,(916) 555-0186\nTo follow,none');
    await keys.tabTo('Read these rows');
    await keys.press('Enter');
    await keys.see('Try it out');
    await keys.tabTo('None, or not known');
    await keys.press('ArrowDown');
    await keys.see('On which day');
    await keys.tabTo('Program');
    await keys.type('Dome');
    await keys.tabTo('On which day');
    await keys.type('11202026');
    await keys.tabTo('The words they agreed to');
    await keys.type('I agree to get texts from the dome.');
    await keys.tabTo('Try it out');
    await keys.press('Enter');
    await keys.see('tried, not run');
    await keys.see('textable');
    await keys.tabTo('Import 1 person');
    await keys.press('Enter');
    await keys.see('What it did');
    await until(
      () =>
        app.query<{ evidence: { wording: string; obtainedAt: string } }>(
          `select e.evidence from consent_event e join person p on p.id = e.person_id where p.number = '+19165550186'`,
        ),
      ([row]) =>
        row?.evidence.wording === 'I agree to get texts from the dome.' &&
        row.evidence.obtainedAt === '2026-11-20',
    );
  });
});

describe('a file', () => {
  it.each([
    [
      'cards.vcf',
      'BEGIN:VCARD\r\nVERSION:3.0\r\nFN:Fay Lowmoor\r\nTEL;TYPE=CELL:(916) 555-0190\r\nEND:VCARD\r\n',
      'Fay Lowmoor',
      'no consent',
    ],
    [
      'left.csv',
      'Name,Phone,Opted out\nFay Lowmoor,(916) 555-0190,2026-02-01\n',
      'they are opted out',
      'opted out',
    ],
  ])(
    'of %s is read as it is proposed, and says what would become of it',
    async (name, words, told, finding) => {
      await open('/people/imports');
      await choose(fileOf(name, words));
      await keys.see('Try it out');
      await keys.tabTo('Try it out');
      await keys.press('Enter');
      await keys.see('tried, not run');
      await keys.see(told);
      await keys.see(finding);
      await keys.tabTo('Throw it away');
      await keys.press('Enter');
      await keys.see('Imports so far');
      expect(await count(`person where number = '+19165550190'`)).toBe(0);
    },
  );

  it('is tried out first, then imported, and can be undone', async () => {
    await open('/people/imports');
    await choose(
      fileOf(
        'fair.csv',
        'Name;Mobile;Born\nVesna Larkmoor;(916) 555-0188;03/04/1990\nTom Farrow;916.555.0189;05/06/1991\nnobody;none;\nVesna again;9165550188;\n',
      ),
    );
    await keys.see('Try it out');
    expect(await violations(page)).toEqual([]);
    // The dates do not decide which is the day: it is asked, not guessed.
    await page.select('select[aria-label="What Born becomes"]', 'new');
    await keys.tabTo('Try it out');
    await keys.press('Enter');
    await keys.see('day first or month first');
    await page.select('select[aria-label="Order of day and month in Born"]', 'day-month');
    await keys.tabTo('Try it out');
    await keys.press('Enter');
    await keys.see('tried, not run');
    await keys.see('twice in the file');
    expect(await count(`person where number = '+19165550188'`)).toBe(0);
    expect(await violations(page)).toEqual([]);
    await keys.tabTo('Import 2 people');
    await keys.press('Enter');
    await keys.see('What it did');
    await until(
      () => app.query<{ fields: object }>(`select fields from person where number = '+19165550188'`),
      (rows) => rows.length === 1,
    );
    expect(await app.query(`select fields from person where number = '+19165550188'`)).toEqual([
      { fields: { born: '1990-04-03' } },
    ]);
    const file = await page.evaluate(async () => (await fetch(`${location.pathname}/validation`)).text());
    expect(file.split('\r\n').slice(1, 5)).toEqual([
      '2,+19165550188,no consent,added,,',
      '3,+19165550189,no consent,added,,',
      '4,,invalid,left out,"“none”: this is not a phone number. Use digits, such as (303) 555-0123 or +13035550123.",',
      '5,+19165550188,duplicate in file,left out,the same number as row 2; left out with it: Vesna again,',
    ]);
    await keys.tabTo('Undo it');
    await keys.press('Enter');
    await keys.see('undone');
    await until(
      () => app.query(`select 1 from person where number = '+19165550188'`),
      (rows) => rows.length === 0,
    );
  });

  it.each<[string, string, string | Uint8Array, string]>([
    ['an empty one', 'empty.csv', '', 'empty'],
    ['a PDF called CSV', 'list.csv', '%PDF-1.7', 'PDF'],
    ['a header alone', 'header.csv', 'Name,Phone\n', 'no rows below'],
    ['half a workbook', 'half.xlsx', 'PK\u0003\u0004 and nothing more', 'damaged'],
  ])('that is %s gets a clear answer', async (_, name, content, words) => {
    await open('/people/imports');
    await choose(fileOf(name, content));
    await keys.see(words);
  });

  it('of another workspace leads nowhere', async () => {
    const [mine] = await app.query<{ import: string; batch: string }>(
      `select (select min(id) from import) as import, (select min(id) from batch) as batch`,
    );
    const other = await browser.createBrowserContext();
    const theirs = await other.newPage();
    await signIn(theirs, app.web, 'ilse@roving-dome.example.org');
    for (const path of [
      `/people/imports/${mine!.import}`,
      `/people/batches/${mine!.batch}`,
      `/people/imports/${mine!.import}/validation`,
    ])
      expect((await theirs.goto(`${app.web}${path}`))!.status()).toBe(404);
    await theirs.goto(`${app.web}/people`);
    await keysOf(theirs).see('Who this is');
    expect(await theirs.evaluate(() => document.body.innerText)).not.toContain('missed Saturn week');
    await other.close();
  });
});

describe('a cut', () => {
  it('is built by typing, read back, counted line by line, kept as a segment, and batched', async () => {
    await open('/people');
    await keys.see('Who this is');
    await keys.tabTo('Add a condition');
    await keys.type('in clear sky');
    await page.waitForSelector('[role=option]');
    await keys.press('Enter');
    await keys.see('People in Clear Sky Alerts.');
    // The box keeps the focus, for the next one.
    await keys.type('in colorado');
    await page.waitForFunction(() => document.querySelector('[role=option]')?.textContent === 'in Colorado');
    await keys.press('Enter');
    await keys.see('People in Clear Sky Alerts and in Colorado.');
    const program = `(select id from program where name = 'Clear Sky Alerts')`;
    const shown = await count(
      `person p where place_region = 'CO' and exists (select 1 from consent_state c where c.person_id = p.id and c.channel = 'sms' and c.state = 'in' and c.program_id = ${program})`,
    );
    expect(shown).toBeGreaterThan(0);
    // Until it is there the count of the condition before stands.
    await until(
      () => page.$eval('[data-count]', (node) => Number((node as HTMLElement).dataset.count)),
      (n) => n === shown,
    );
    expect(await violations(page)).toEqual([]);
    await keys.tabTo('Skip the table');
    await keys.press('Enter');
    await keys.tabTo('Name of the segment');
    await keys.type('Colorado alerts');
    await keys.press('Enter');
    await keys.see('Kept as “Colorado alerts”');
    await keys.tabTo('choose all');
    await keys.press('Enter');
    await keys.tabTo('Do something with');
    await keys.press('Enter');
    await keys.see('Put a tag on them');
    expect(await violations(page)).toEqual([]);
    await keys.tabTo('Tag: an old one or a new one');
    await keys.type('alerts in Colorado');
    await keys.tabTo('Put a tag on');
    await keys.press('Enter');
    await keys.see('begins in a moment');
    const tagged = () =>
      app.query<{ n: number }>(
        `select count(*)::int as n from person_label x join label l on l.id = x.label_id where l.name = 'alerts in Colorado'`,
      );
    expect((await tagged())[0]!.n).toBe(0);
    await until(tagged, ([row]) => row!.n === shown, 30_000);
    const [batch] = await app.query<{ id: string }>(`select id from batch order by id desc limit 1`);
    await open(`/people/batches/${batch!.id}`);
    await keys.see('puts on “alerts in Colorado”');
    await keys.tabTo('Undo it');
    await keys.press('Enter');
    await keys.see('undone');
    await until(tagged, ([row]) => row!.n === 0);
  });

  it('opens from its address, and a condition that empties it is seen', async () => {
    const cut = {
      all: [
        { ask: 'field', field: 'first_name', test: 'is', value: 'Ana' },
        { ask: 'field', field: 'first_name', test: 'is', value: 'Ben' },
      ],
    };
    await open(`/people?cut=${encodeURIComponent(JSON.stringify(cut))}`);
    await keys.see('nobody left');
    await keys.see('contradict each other');
    await keys.see('Nobody matches');
  });

  it('is searched while one types, sorted by a column, and more of it comes as one scrolls', async () => {
    // Nobody's page that the list leads to is fetched before somebody goes there.
    const ahead: string[] = [];
    const note = (sent: HTTPRequest) => {
      const { pathname } = new URL(sent.url());
      if (pathname.startsWith('/people/per_')) ahead.push(pathname);
    };
    page.on('request', note);
    await open('/people');
    await page.waitForSelector('tbody tr[aria-rowindex]');
    await page.type('input[type=search]', 'perrin');
    await page.waitForFunction(() => [...document.querySelectorAll('tbody tr[aria-rowindex]')].length === 2);
    await replaceBy('');
    await page.$$eval('th button', (buttons) =>
      buttons.find((button) => button.textContent === 'Person')!.click(),
    );
    await page.waitForSelector('th[aria-sort=ascending]');
    await page.waitForFunction(() =>
      document.querySelector('tbody tr[aria-rowindex] a')?.textContent?.startsWith('A'),
    );
    const rows = () => page.$eval('[aria-label=People][role=region]', (node) => node.scrollHeight);
    const before = await rows();
    await page.$eval('[aria-label=People][role=region]', (node) => node.scrollTo(0, node.scrollHeight));
    await until(rows, (after) => after > before, 20_000);
    // Only what is in view is drawn.
    expect((await page.$$('tbody tr[aria-rowindex]')).length).toBeLessThan(80);
    page.off('request', note);
    expect(ahead).toEqual([]);
  });
});

describe('the table, by keyboard', () => {
  const focused = () =>
    page.evaluate(() => document.activeElement?.closest('tr')?.getAttribute('aria-rowindex'));

  it('is gone through row by row, as far as more are loaded, and whoever is ticked is meant', async () => {
    await open('/people?sort=number');
    await page.waitForSelector('tbody tr[aria-rowindex]');
    await page.focus('[aria-label=People][role=region]');
    await keys.press('ArrowDown', 'ArrowDown', 'ArrowDown');
    expect(await focused()).toBe('4');
    await keys.press('End');
    // The hundredth row, drawn only now; the next hundred come while one goes on.
    await until(focused, (row) => row === '101');
    await until(
      async () => (await keys.press('ArrowDown'), Number(await focused())),
      (row) => row > 105,
    );
    await keys.press('Home');
    await until(focused, (row) => row === '2');
    await page.focus('tbody tr[aria-rowindex="3"] input');
    await keys.press('Space', 'ArrowDown', 'Space');
    await keys.see('2 people ticked.');
    const numbers = await app.query<{ number: string }>(
      `select number from person where merged_into is null and erased_at is null and workspace_id = (select id from workspace where slug = 'juniper-gap')
        order by number offset 1 limit 2`,
    );
    await page.$$eval('button', (buttons) =>
      buttons.find((button) => button.innerText.startsWith('Do something with 2 people'))!.focus(),
    );
    await keys.press('Enter');
    await keys.see('Put a tag on them');
    await keys.tabTo('Tag: an old one or a new one');
    await keys.type('second and third');
    await keys.press('Enter');
    await keys.see('begins in a moment');
    await until(
      () =>
        app.query<{ number: string }>(
          `select p.number from person p join person_label x on x.person_id = p.id join label l on l.id = x.label_id
            where l.name = 'second and third' order by 1`,
        ),
      (rows) => rows.length === 2 && rows.every(({ number }, i) => number === numbers[i]!.number),
      30_000,
    );
  });
});

describe('a segment', () => {
  const inMenu = async (words: string) => {
    await page.$$eval('button', (buttons) =>
      buttons.find((button) => button.textContent === 'Segment …')!.focus(),
    );
    await keys.press('Enter');
    await page.waitForSelector('[role=menuitem]');
    const items = await page.$$eval('[role=menuitem]', (nodes) => nodes.map((node) => node.textContent));
    for (let i = 0; i < items.indexOf(words); i++) await keys.press('ArrowDown');
    await keys.press('Enter');
  };

  it('is shared with one teammate, who sees it; others do not; and the sharing is shown again', async () => {
    const cut = { ask: 'field', field: 'place', test: 'is', value: 'WY' };
    await open(`/people?cut=${encodeURIComponent(JSON.stringify(cut))}`);
    await keys.see('Keep it as a segment');
    await keys.tabTo('Skip the table');
    await keys.press('Enter');
    await keys.tabTo('Name of the segment');
    await keys.type('Wyoming only');
    await keys.press('Enter');
    await keys.see('Kept as “Wyoming only”');
    await keys.see('Segment …');
    await inMenu('Share …');
    await keys.see('Who sees “Wyoming only”');
    await keys.tabTo('only I');
    await keys.press('ArrowDown');
    await keys.tabTo('Tess Nightjar');
    await keys.press('Space');
    expect(await violations(page)).toEqual([]);
    await keys.press('Enter');
    const shared = () =>
      app.query<{ email: string }>(
        `select a.email from segment_share x join account a on a.id = x.account_id join segment s on s.id = x.segment_id where s.name = 'Wyoming only'`,
      );
    await until(shared, (rows) => rows.length === 1 && rows[0]!.email.startsWith('tess@'));
    await page.reload({ waitUntil: 'load' });
    await keys.see('Wyoming only');
    await inMenu('Share …');
    await keys.see('Who sees “Wyoming only”');
    expect(
      await page.$$eval('fieldset input[type=checkbox]', (boxes) =>
        boxes
          .filter((box) => (box as HTMLInputElement).checked)
          .map((box) => box.closest('label')!.innerText.trim()),
      ),
    ).toEqual(['Tess Nightjar']);
    for (const [who, sees] of [
      ['tess', true],
      ['odile', false],
    ] as const) {
      const other = await browser.createBrowserContext();
      const theirs = await other.newPage();
      await signIn(theirs, app.web, `${who}@juniper-gap.example.org`);
      await theirs.goto(`${app.web}/people`);
      await keysOf(theirs).see('Who this is');
      const names = await theirs.$eval('nav[aria-label=Segments]', (node) => (node as HTMLElement).innerText);
      expect(names.includes('Wyoming only')).toBe(sees);
      await other.close();
    }
  });
});

describe('fields of the workspace’s own', () => {
  const names = () =>
    app.query<{ label: string; gone: boolean }>(
      `select label, archived_at is not null as gone from field where workspace_id = (select id from workspace where slug = 'juniper-gap') order by position`,
    );

  it('are made, renamed, ordered and put away without loss, by keyboard', async () => {
    await open('/people/fields');
    await keys.see('A new field');
    await page.focus('input[name=label]');
    await keys.type('Telescope');
    await keys.tabTo('Kind');
    await keys.type('One of');
    await keys.tabTo('Choices, with commas between');
    await keys.type('none, small, large');
    await keys.press('Enter');
    await until(names, (rows) => rows.some(({ label }) => label === 'Telescope'));
    await keys.see('none, small, large');
    // A name that is taken is refused at its field, and what was typed stays.
    await page.focus('input[name=label]');
    await replaceBy('telescope');
    await keys.press('Enter');
    await keys.see('label:');
    expect((await names()).filter(({ label }) => label.toLowerCase() === 'telescope')).toHaveLength(1);
    await open('/people/fields');
    await page.focus('summary[aria-label="Rename Telescope"]');
    await keys.press('Enter');
    await keys.tabTo('New name');
    await replaceBy('Instrument');
    await keys.press('Enter');
    await until(names, (rows) => rows.some(({ label }) => label === 'Instrument'));
    const before = (await names()).map(({ label }) => label);
    await keys.tabTo('Earlier');
    await keys.press('Enter');
    await until(names, (rows) => rows.map(({ label }) => label).join() !== before.join());
    expect((await names()).map(({ label }) => label).sort()).toEqual([...before].sort());
    expect(await violations(page)).toEqual([]);
  });
});

describe('what goes wrong at the file', () => {
  it('is said when the network breaks off, and the file can be given again', async () => {
    // The page works once it listens to what changes.
    const listens = page.waitForResponse((response) => response.url().endsWith('/live') && response.ok());
    await open('/people/imports');
    const file = fileOf('again.csv', 'Name,Phone\nOnce Only,(916) 555-0191\n');
    const before = await count(`import`);
    await listens;
    await page.setOfflineMode(true);
    await choose(file);
    await keys.see('The upload broke off. Nothing was kept; try again.');
    await page.setOfflineMode(false);
    expect(await count(`import`)).toBe(before);
    await choose(file);
    await keys.see('Try it out');
  });

  it('a picture that claims billions of points is not opened, and the next one is read', async () => {
    await open('/people/scan');
    const bomb = Buffer.alloc(64);
    bomb.write('89504e470d0a1a0a0000000d49484452', 'hex');
    bomb.writeUInt32BE(60_000, 16);
    bomb.writeUInt32BE(60_000, 20);
    await choose(fileOf('bomb.png', bomb));
    await keys.see('too many points');
    await choose(fileOf('fine.gif', encodeQR('tel:+19165550177', 'gif', { scale: 6, border: 4 })));
    await keys.see('(916) 555-0177');
  });
});

describe('a person', () => {
  it('is edited where they stand, tagged, and two are merged and taken apart', async () => {
    const [pair] = await app.query<{ one_id: string; other_id: string }>(
      `select one_id, other_id from duplicate_pair where 'e-mail' = any(reasons) limit 1`,
    );
    await open(`/people/${pair!.one_id}`);
    await keys.tabTo('Change first name');
    await keys.press('Enter');
    await page.waitForSelector('input[aria-label="first name"]');
    await keys.press('End');
    await keys.type('a');
    await keys.press('Enter');
    await keys.see('Perrina');
    await keys.tabTo('Change e-mail');
    await keys.press('Enter');
    await page.waitForSelector('input[aria-label="e-mail"]');
    await keys.type(' no mail');
    await keys.press('Enter');
    await keys.see('is no e-mail address');
    await keys.press('Escape');
    await keys.tabTo('A tag, old or new');
    await keys.type('guides');
    await keys.press('Enter');
    await page.waitForSelector('[aria-label="Take off guides"]');
    expect(await violations(page)).toEqual([]);
    await open('/people/duplicates');
    await keys.see('e-mail');
    await open(`/people/duplicates/${pair!.one_id}/${pair!.other_id}`);
    expect(await violations(page)).toEqual([]);
    await keys.tabTo('Merge these two into one');
    await keys.press('Enter');
    await keys.see('Take apart again');
    expect(await count(`person where merged_into is not null`)).toBe(1);
    await keys.tabTo('Take apart again');
    await keys.press('Enter');
    await until(
      () => app.query(`select 1 from person where merged_into is not null`),
      (rows) => rows.length === 0,
    );
  });

  it('is scanned from a picture of a card, and updated when scanned again', async () => {
    const card = 'BEGIN:VCARD\nVERSION:3.0\nN:Wetherall;Juno\nTEL:+19165550177\nEND:VCARD';
    const picture = fileOf('card.gif', encodeQR(card, 'gif', { scale: 6, border: 4 }));
    for (const words of ['Added.', 'Was here already']) {
      await open('/people/scan');
      await choose(picture);
      await keys.see('(916) 555-0177');
      expect(await page.$eval('form input', (input) => (input as HTMLInputElement).value)).toBe('Juno');
      await keys.tabTo('Tags, old or new');
      await keys.type('fair');
      await keys.tabTo('Keep this person');
      await keys.press('Enter');
      await keys.see(words);
    }
    expect(await count(`person where number = '+19165550177' and last_name = 'Wetherall'`)).toBe(1);
    await open('/people/scan');
    await choose(fileOf('blank.gif', encodeQR('https://example.org', 'gif', { scale: 4 })));
    await keys.see('holds no card and no number');
  });
});

describe('the screens of the room', () => {
  it('have no accessibility violations, light or dark', async () => {
    const [ids] = await app.query<{ import: string; batch: string; person: string }>(
      `select (select min(id) from import) as import, (select min(id) from batch) as batch, (select min(id) from person) as person`,
    );
    const found: string[] = [];
    for (const path of [
      '/people',
      '/people/imports',
      `/people/imports/${ids!.import}`,
      '/people/batches',
      `/people/batches/${ids!.batch}`,
      '/people/duplicates',
      '/people/fields',
      '/people/scan',
      `/people/${ids!.person}`,
    ]) {
      await open(path);
      found.push(...(await violations(page)).map((violation) => `${path}: ${violation}`));
    }
    expect(found).toEqual([]);
  });
});
