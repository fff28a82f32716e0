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
let key: string;

const FROM = '+17205550190';
const TO = '+17195550110';

beforeAll(async () => {
  app = await startApp(4560);
  key = await app.apiKey();
  ({ browser, close: closeBrowser } = await openBrowser());
  page = await browser.newPage();
  keys = keysOf(page);
  await signIn(page, app.web, 'marek@juniper-gap.example.org');
});
afterAll(async () => {
  await closeBrowser?.();
  await app?.stop();
});

const open = (path: string) => page.goto(`${app.web}${path}`, { waitUntil: 'load' });
const api = async (path: string, body?: object): Promise<Record<string, never>> => {
  const response = await fetch(`${app.web}/api/v1${path}`, {
    method: body ? 'POST' : 'GET',
    headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
    ...(body ? { body: JSON.stringify(body) } : {}),
  });
  const answer = (await response.json()) as Record<string, never>;
  if (!response.ok) throw new Error(`${path}: ${JSON.stringify(answer)}`);
  return answer;
};
const enrolments = (name: string) =>
  app.query<{ id: string; person_id: string; state: string; ended_why: string | null }>(
    `select e.id, e.person_id, e.state, e.ended_why from enrolment e join sequence s on s.id = e.sequence_id where s.name = $1 order by e.id`,
    [name],
  );
/** To the next noon in Denver, an hour at which anybody may be texted. */
async function noonTomorrow(): Promise<void> {
  const now = await app.bench.now();
  const noon = new Date(now + 86_400_000).setUTCHours(19, 0, 0, 0);
  await app.bench.advance(`PT${Math.round((noon - now) / 60_000)}M`);
}
const texts = (name: string) =>
  app.query<{ state: string; body: string }>(
    `select m.state, m.body from message m join sequence s on s.id = m.send_id where s.name = $1 order by m.id`,
    [name],
  );

describe('a sequence, by keyboard', () => {
  const NAME = 'Welcome after a keyword';

  it('is begun from a ready-made one, changed, taken back by undo, and published', async () => {
    await open('/programs/sequences/new');
    await keys.see(NAME);
    await keys.tabTo('Begin with it');
    await keys.press('Enter');
    await keys.see('Not published yet');
    await keys.see('is there something you would like to know');
    await keys.press('n');
    await keys.see('Write what it says.');
    await page.evaluate(() => (document.activeElement as HTMLElement | null)?.blur());
    await page.keyboard.down('Control');
    await keys.press('z');
    await page.keyboard.up('Control');
    await page.waitForFunction(() => !document.body.innerText.includes('Write what it says.'));
    await keys.see('saved as a draft');
    await keys.tabTo('Publish');
    await keys.press('Enter');
    await keys.see('What is written is what runs.');
    await keys.see('version 1');
  });

  it('shows in the margin what one person gets, and when', async () => {
    await page.waitForSelector('[aria-label=Itinerary] li:nth-child(4)');
    expect(await page.$$eval('[aria-label=Itinerary] li', (rows) => rows.length)).toBe(4);
  });

  it('follows a keyword, and a reply ends it: a task is there, and nothing comes after', async () => {
    await app.bench.text(FROM, TO, 'SKY');
    await until(
      () => enrolments(NAME),
      (rows) => rows.length === 1,
    );
    await noonTomorrow();
    await until(
      () => texts(NAME),
      (rows) => rows.filter(({ state }) => state === 'delivered').length >= 1,
    );
    await app.bench.text(FROM, TO, 'Which gate is open?');
    await until(
      () => enrolments(NAME),
      ([row]) => row?.ended_why === 'replied',
    );
    const before = (await texts(NAME)).length;
    await app.bench.advance('P20D');
    await new Promise((resolve) => setTimeout(resolve, 1_500));
    expect((await texts(NAME)).length).toBe(before);
    await open('/tasks?whose=all');
    await keys.see('Answer them');
  });

  it('shows what is ahead on the person’s page, and lets them be taken out', async () => {
    await app.bench.text('+17205550191', TO, 'SKY');
    const [, second] = await until(
      () => enrolments(NAME),
      (rows) => rows.length === 2,
    );
    await open(`/people/${second!.person_id}`);
    await keys.see('would bring you by');
    await keys.tabTo('Stop it for them');
    await keys.press('Enter');
    await until(
      () => enrolments(NAME),
      (rows) => rows[1]!.ended_why === 'taken-out',
    );
    // A broadcast of the demo may still be on its way to them: what the sequence planned is gone.
    await until(
      () => page.evaluate(() => document.body.innerText),
      (words) => !words.includes('would bring you by'),
    );
  });
});

describe('a wrong tag', () => {
  it('begins nothing before its grace is over, and is called back by one press', async () => {
    await open('/programs/sequences/new');
    await page.evaluate(() => {
      const row = [...document.querySelectorAll('li')].find((one) =>
        one.textContent?.includes('Offer that runs out'),
      );
      row!.querySelector('button')!.click();
    });
    await keys.see('Not published yet');
    await keys.see('saved as a draft');
    await keys.tabTo('Publish');
    await keys.press('Enter');
    await keys.see('version 1');
    const [tag] = await app.query<{ id: string }>(`select id from label where name = 'offer'`);
    await api('/batches', {
      name: 'Oops',
      action: 'add-label',
      id: tag!.id,
      condition: '{"all":[]}',
      search: 'an',
      grace_seconds: 0,
    });
    const rows = await until(
      () => enrolments('Offer that runs out'),
      (found) => found.length > 50,
    );
    await page.reload({ waitUntil: 'load' });
    await keys.see('in their grace');
    await keys.tabTo('Call back');
    await keys.press('Enter');
    await until(
      () => enrolments('Offer that runs out'),
      (found) => found.length >= rows.length && found.every(({ ended_why }) => ended_why === 'called-back'),
    );
    expect(await texts('Offer that runs out')).toEqual([]);
  });
});

describe('trying it on oneself', () => {
  const OWN = '+17205550192';
  const trials = () =>
    app.query<{ state: string; body: string }>(
      `select state, body from message where kind = 'trial' order by id`,
    );

  it('proves the number by a text, sends what is written to it, and ends with a reply', async () => {
    const [row] = await app.query<{ id: string }>(
      `select id from sequence where name = 'Welcome after a keyword'`,
    );
    await open(`/programs/sequences/${row!.id}`);
    await keys.tabTo('Your mobile number');
    await keys.type('(720) 555-0192');
    await keys.press('Enter');
    await keys.see(`Six digits, sent to ${OWN}`);
    const [proof] = await until(trials, (rows) => rows[0]?.state === 'delivered');
    await keys.tabTo('Six digits');
    await keys.type(/: (\d{6}) is/.exec(proof!.body)![1]!);
    await keys.press('Enter');
    await keys.see(`Real texts to ${OWN}`);
    await keys.tabTo('Begin for me');
    await keys.press('Enter');
    const rows = await until(trials, (found) => found.length === 2 && found[1]!.state === 'delivered');
    await keys.see('a day in ten seconds');
    expect(rows[1]!.body).toContain('Reply STOP to stop');
    await app.bench.text(OWN, TO, 'Do you open on Sundays?');
    await keys.see('Over: replied.');
    expect(await trials()).toHaveLength(2);
  });
});

describe('tasks in a calendar', () => {
  it('are followed by an address of one’s own, until it is ended', async () => {
    await open('/tasks');
    await keys.tabTo('Make an address');
    await keys.press('Enter');
    await keys.see('it is not shown again');
    const address = await page.evaluate(
      () => /https?:\S+\/calendar\/[\w-]+/.exec(document.body.innerText)![0],
    );
    const answer = await fetch(address);
    expect(answer.headers.get('content-type')).toContain('text/calendar');
    expect(await answer.text()).toContain('BEGIN:VCALENDAR');
    await keys.tabTo('End the address');
    await keys.press('Enter');
    await keys.see('Make an address');
    expect((await fetch(address)).status).toBe(404);
  });
});

describe('its pages', () => {
  it('have no accessibility violations, light or dark', async () => {
    const [row] = await app.query<{ id: string }>(`select id from sequence order by id desc limit 1`);
    const sequence = `/programs/sequences/${row!.id}`;
    for (const path of [
      '/programs/sequences',
      '/programs/sequences/new',
      sequence,
      `${sequence}/people`,
      '/tasks?whose=all',
    ]) {
      await open(path);
      await new Promise((resolve) => setTimeout(resolve, 700));
      expect(await violations(page), path).toEqual([]);
    }
    await open(sequence);
    await page.click('[id^=line-]');
    await keys.see('When');
    expect(await violations(page), 'with a line open').toEqual([]);
  });
});
