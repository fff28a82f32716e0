import type { Browser, Page } from 'puppeteer-core';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { startApp, until, type App } from './support/app';
import { openBrowser, signIn } from './support/browser';
import { violations } from './support/axe';
import { keysOf, type Keys } from './support/keys';

const ANA = '+13035550142';
const PROGRAM_NUMBER = '+17195550110';
const NIGHT_OWL = '+17205550171';

let app: App;
let browser: Browser;
let closeBrowser: () => Promise<void>;
let page: Page;
let key: string;
let keys: Keys;

beforeAll(async () => {
  app = await startApp(4510);
  ({ browser, close: closeBrowser } = await openBrowser());
  page = await browser.newPage();
  keys = keysOf(page);
  key = await app.apiKey();
  // The demo's numbers carry ten parts a second, as local numbers do; the tests have less time.
  await app.query(`update sender_number set parts_per_second = 400`);
  await morning();
});

/** By night every text waits for the morning: the world's clock goes there, whenever the tests run. */
async function morning(): Promise<void> {
  const denver = new Date(await app.bench.now()).toLocaleString('sv-SE', { timeZone: 'America/Denver' });
  const minutes = Number(denver.slice(11, 13)) * 60 + Number(denver.slice(14, 16));
  if (minutes < 9 * 60 || minutes > 19 * 60)
    await app.bench.advance(`PT${(11 * 60 - minutes + 24 * 60) % (24 * 60)}M`);
}

afterAll(async () => {
  await closeBrowser?.();
  await app?.stop();
});

const see: Keys['see'] = (...args) => keys.see(...args);
const press: Keys['press'] = (...args) => keys.press(...args);
const tabTo: Keys['tabTo'] = (name) => keys.tabTo(name);
const api = async <T>(method: string, path: string, body?: object): Promise<{ status: number; json: T }> => {
  const response = await fetch(`${app.web}/api/v1${path}`, {
    method,
    headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
    ...(body ? { body: JSON.stringify(body) } : {}),
  });
  return { status: response.status, json: (await response.json()) as T };
};

describe('the thread, by keyboard', () => {
  it('refuses a wrong password in words, then signs in', async () => {
    await page.goto(`${app.web}/sign-in`);
    await tabTo('E-mail');
    await page.keyboard.type('marek@juniper-gap.example.org');
    await tabTo('Password');
    await page.keyboard.type('wrong');
    await press('Enter');
    await see('E-mail or password is not right');
    await signIn(page, app.web, 'marek@juniper-gap.example.org');
    await see('Waiting for an answer');
  });

  it('shows what the demo left waiting, taken by the engines just now', async () => {
    await see('may be an opt-out');
    await see('nearly typed METEOR');
    await see('Quiet dome tonight');
    // Today has the eight that wait longest; of those that came in one second, now one is among them, now another.
    await page.keyboard.press('i');
    await page.waitForFunction(() => location.pathname === '/inbox');
    await see('Is the Saturday walk fine for a pushchair?');
    await page.keyboard.press('t');
    await page.waitForFunction(() => location.pathname === '/');
  });

  it('confirms a keyword and shows the person live', async () => {
    await page.keyboard.press('p');
    await page.waitForFunction(() => location.pathname === '/people');
    await app.bench.handset(ANA);
    await app.bench.text(ANA, PROGRAM_NUMBER, 'sky');
    const [confirmation] = await app.bench.received(ANA, 1);
    expect(confirmation!.from).toBe(PROGRAM_NUMBER);
    expect(confirmation!.body).toMatch(
      /Juniper Gap Observatory Clear Sky Alerts: Up to 6 msgs\/month\. Msg & data rates may apply\. Reply HELP for help, STOP to stop\./,
    );
    // No reload: the list is refreshed by the event stream.
    await see('(303) 555-0142');
    await tabTo('(303) 555-0142');
    await press('Enter');
    await see('opted in');
    await see('by keyword: “sky”');
    await see('confirmation, automatic');
  });

  it('writes a broadcast with a merge field, shows what it leads to, sends it, and shows the receipts', async () => {
    await page.keyboard.press('s');
    await page.waitForFunction(() => location.pathname === '/sends');
    await tabTo('Write a broadcast');
    await press('Enter');
    await page.waitForSelector('.cm-content');
    await tabTo('Name, for you');
    await page.keyboard.type('Ring party');
    await tabTo('Text');
    await page.keyboard.type('Juniper Gap Observatory: Hi ');
    await tabTo('first name');
    await press('Enter');
    await page.keyboard.type(
      ', the rings are wide open {9 pm}: https://juniper-gap.example.org/rings F R E E parking. Reply STOP to stop.',
    );
    await see('looks like a word in disguise');
    const canSend = () =>
      page.evaluate(() =>
        [...document.querySelectorAll('button')].some(
          (one) => /^Send to/.test(one.innerText) && !one.disabled,
        ),
      );
    expect(await canSend()).toBe(false);
    await tabTo('Write “FREE”');
    await press('Enter');
    await see('FREE parking');
    await until(canSend, Boolean);
    await see('Clearance report');
    await see('credits for');
    const text = await until(
      () => page.$eval('aside[aria-label=Margin]', (node) => (node as HTMLElement).innerText),
      (words) => words.includes('{9 pm}'),
    );
    expect(text).toContain('Hi ');
    expect(text).toMatch(/cleared\s+[\d,]+/);
    expect(text).toMatch(/blocked\s+\d+/);
    expect(await violations(page)).toEqual([]);
    await tabTo('Send to');
    await press('Enter');
    await see('It goes out on');
    await see('Call it back');
    // Ten seconds of grace, then everybody whose hours are open.
    await see('What became of it', 30_000);
    const [row] = await until(
      async () =>
        app.query<{ delivered: number; open: number; ready: boolean }>(
          `select count(*) filter (where t.state = 'delivered')::int as delivered,
                  count(*) filter (where t.state = 'submitting' or t.not_before < $2 or (t.state = 'submitted' and t.address = $1))::int as open,
                  bool_and(b.state <> 'preparing') as ready
             from message t join broadcast b on b.id = t.send_id where b.name = 'Ring party'`,
          [ANA, new Date(await app.bench.now())],
        ),
      // Every text is made, and what may leave now has arrived: none comes after the STOP below.
      ([one]) => one!.ready && one!.delivered > 0 && one!.open === 0,
      90_000,
    );
    expect(row!.open).toBe(0);
  });

  it('counts who follows its link, by an address of their own, and no machine', async () => {
    await app.bench.advance('PT1M');
    const { body } = (await app.bench.texts(ANA)).at(-1)!;
    const [link] = /http:\S+\/l\/\w{10}/.exec(body)!;
    const come = (agent: string) => fetch(link, { redirect: 'manual', headers: { 'user-agent': agent } });
    const answer = await come('Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Mobile/15E148');
    expect(answer.status).toBe(302);
    expect(answer.headers.get('location')).toBe('https://juniper-gap.example.org/rings');
    expect(answer.headers.get('cache-control')).toBe('no-store');
    await come('Googlebot/2.1');
    expect((await fetch(link.replace(/\w{10}$/, '0000000000'), { redirect: 'manual' })).status).toBe(404);
    await page.reload();
    await see('People who came');
    const row = await page.$eval(
      'table[aria-label=Links] tbody tr',
      (node) => (node as HTMLElement).innerText,
    );
    expect(row).toMatch(/1 of [\d,]+/);
    expect(row).toContain('1 by phone');
    expect(row).toContain('1 visit');
  });

  it('says what it swapped of what is pasted, and puts it back', async () => {
    await page.goto(`${app.web}/sends/new`);
    await page.waitForSelector('.cm-content');
    await page.click('.cm-content');
    await page.evaluate(() => {
      const clipboardData = new DataTransfer();
      clipboardData.setData('text/plain', 'Odile said “come” – now');
      const paste = new ClipboardEvent('paste', { clipboardData, bubbles: true, cancelable: true });
      document.querySelector('.cm-content')!.dispatchEvent(paste);
    });
    const written = () => page.$eval('.cm-content', (node) => (node as HTMLElement).innerText);
    await see('3 characters of what you pasted were swapped for plain ones (curly quote, long dash)');
    expect(await written()).toBe('Odile said "come" - now');
    await tabTo('Put them back');
    await press('Enter');
    await until(written, (text) => text === 'Odile said “come” – now');
  });

  it('ends with a STOP: one confirmation, nothing after it, and the page says why', async () => {
    const before = (await app.bench.texts(ANA)).length;
    await app.bench.text(ANA, PROGRAM_NUMBER, 'Stop.');
    const after = await app.bench.received(ANA, before + 1);
    expect(after.at(-1)!.body).toBe(
      'Juniper Gap Observatory: you are opted out and will get no more texts from us. Reply START to come back.',
    );
    const made = await api<{ id: string }>('POST', '/broadcasts', {
      program: 'Clear Sky Alerts',
      name: 'After the stop',
      body: 'Juniper Gap Observatory: are you still there? Reply STOP to stop.',
    });
    await api('POST', `/broadcasts/${made.json.id}/send`, {});
    await until(
      () =>
        app.query<{ state: string }>(
          `select t.state from message t join person p on p.id = t.person_id where t.send_id = $1 and p.number = $2`,
          [made.json.id, ANA],
        ),
      (rows) => rows.length > 0,
    );
    await api('POST', `/broadcasts/${made.json.id}/stop`, {});
    expect((await app.bench.texts(ANA)).length).toBe(before + 1);
    const [person] = await app.query<{ id: string }>(`select id from person where number = $1`, [ANA]);
    await page.goto(`${app.web}/people/${person!.id}`);
    await see('Opted out of all texts, chat and calls');
    await see('by reply: “Stop.”');
    await see('not sent');
  });

  it('takes START back in and answers HELP', async () => {
    const before = (await app.bench.texts(ANA)).length;
    await app.bench.text(ANA, PROGRAM_NUMBER, 'START');
    await app.bench.text(ANA, PROGRAM_NUMBER, 'HELP');
    const texts = (await app.bench.received(ANA, before + 2)).slice(before).map(({ body }) => body);
    expect(texts.some((body) => body.startsWith('Welcome back.'))).toBe(true);
    expect(texts.some((body) => body.includes('Help: (719) 555-0110'))).toBe(true);
  });

  it('finds things from the command box', async () => {
    await page.keyboard.down('Control');
    await page.keyboard.press('k');
    await page.keyboard.up('Control');
    await page.waitForSelector('[role=combobox]');
    await page.keyboard.type('Late meteor');
    await see('Late meteor alert');
    await press('Enter');
    await page.waitForFunction(() => location.pathname.startsWith('/sends/'));
    await see('What became of it');
  });

  it('answers a thread by hand and joins a long text from the phone', async () => {
    const long = 'Tell me more about the walk. '.repeat(12).trim() + ' 🙂';
    await app.bench.text(ANA, PROGRAM_NUMBER, long);
    // The newest comes last: among many that wait it is looked for.
    await page.goto(`${app.web}/inbox?q=walk`);
    await see('Tell me more about the walk. Tell me more');
    await tabTo('(303) 555-0142');
    await press('Enter');
    await see('What to do');
    await tabTo('Answer');
    await keys.type('It starts at nine, at the north gate.');
    const before = (await app.bench.texts(ANA)).length;
    await tabTo('Send the answer');
    await press('Enter');
    const after = await app.bench.received(ANA, before + 1);
    expect(after.at(-1)!.body).toBe('It starts at nine, at the north gate.');
  });
});

interface Letter {
  id: string;
  to: string;
  subject: string;
  text: string;
}

describe('a letter to many', () => {
  const letters = async () =>
    (await app.bench.call<{ mails: Letter[] }>('GET', '/mails')).mails.filter(
      ({ subject }) => subject === 'Snow on the dome',
    );
  let answered: Letter;
  const act = (letter: Letter, act: string, words = '') =>
    app.bench.call('POST', `/mails/${letter.id}`, { act, words });

  it('is written, cleared and sent as a text is, and arrives with a way to leave', async () => {
    await page.goto(`${app.web}/sends/new`, { waitUntil: 'load' });
    // What was pasted before, and not sent, is still there.
    await see('You left this unfinished');
    await tabTo('Begin anew');
    await press('Enter');
    await page.waitForFunction(() => !document.body.innerText.includes('You left this unfinished'));
    await tabTo('By');
    await page.keyboard.type('e-mail');
    await tabTo('To members of');
    await page.keyboard.type('Dome');
    await tabTo('Name, for you');
    await page.keyboard.type('Snow letter');
    await tabTo('Subject');
    await page.keyboard.type('Snow on the dome');
    await tabTo('Letter');
    await page.keyboard.type('There is snow on the dome. Pictures: https://juniper-gap.example.org/snow');
    await see('no e-mail address');
    expect(await violations(page)).toEqual([]);
    await tabTo('Send');
    await press('Enter');
    await see('What became of it', 30_000);
    const got = await until(letters, (all) => all.length >= 20);
    expect(got[0]!.text).toMatch(/Summit Road[^]*Leave: http/);
    // A mailbox may be two people's, each of whom has a letter of their own, once.
    const twice = await app.query(
      `select t.person_id from message t join broadcast b on b.id = t.send_id where b.name = 'Snow letter' group by 1 having count(*) > 1`,
    );
    expect(twice).toEqual([]);
    const tokens = got.map(({ text }) => /Leave: (http\S+)/.exec(text)![1]);
    expect(new Set(tokens).size).toBe(got.length);
  });

  it('is answered, followed, complained of and left, each of which the send counts', async () => {
    const [first, followed, complained, left, paged] = await letters();
    answered = first!;
    await app.bench.advance('PT1M');
    await act(answered, 'answer', 'How lovely! Is the road open?');
    await act(followed!, 'follow');
    await act(complained!, 'complain');
    await act(left!, 'leave');
    const visitor = await browser.createBrowserContext();
    const theirs = await visitor.newPage();
    await theirs.goto(/http\S+\/u\/\w+/.exec(paged!.text)![0], { waitUntil: 'load' });
    expect(await theirs.$eval('h1', (node) => node.textContent)).toBe('Leave Dome Members?');
    expect(await violations(theirs)).toEqual([]);
    await theirs.click('button.button-main');
    await theirs.waitForFunction(() => document.body.innerText.includes('You have left Dome Members'));
    await visitor.close();
    const counts = await until(
      () =>
        page.$$eval('table tr', (lines) =>
          Object.fromEntries(lines.map((line) => [line.cells[0]!.innerText, line.cells[1]!.innerText])),
        ),
      (shown) => shown['clicked'] === '1' && shown['replied'] === '1' && shown['opted out'] === '3',
    );
    expect(counts).toMatchObject({ clicked: '1', replied: '1', 'opted out': '3' });
  });

  it('is answered back by e-mail from the thread', async () => {
    const [person] = await app.query<{ person_id: string }>(
      `select person_id from address where kind = 'email' and value = $1`,
      [answered.to],
    );
    await page.goto(`${app.web}/inbox/${person!.person_id}`, { waitUntil: 'load' });
    await see('Is the road open?');
    await tabTo('Answer');
    await page.keyboard.type('It is, with chains.');
    await tabTo('Send the answer');
    await press('Enter');
    const back = await until(
      async () => (await app.bench.call<{ mails: Letter[] }>('GET', `/mailboxes/${answered.to}/mails`)).mails,
      (all) => all.some(({ text }) => text.includes('with chains')),
    );
    expect(back[0]!.subject).toBe('Re: Snow on the dome');
  });
});

describe('the moved clock', () => {
  it('sends what is scheduled for tomorrow, and holds a late one until each zone’s morning', async () => {
    await app.bench.handset(NIGHT_OWL);
    await app.bench.text(NIGHT_OWL, PROGRAM_NUMBER, 'dome');
    await app.bench.received(NIGHT_OWL, 1);
    // 22:00 in Denver of the next evening.
    const now = await app.bench.now();
    const denver = new Date(now).toLocaleString('sv-SE', { timeZone: 'America/Denver' });
    const hour = Number(denver.slice(11, 13)) + Number(denver.slice(14, 16)) / 60;
    const at = now + (22 - hour + 24) * 3_600_000;
    const made = await api<{ id: string }>('POST', '/broadcasts', {
      program: 'Dome Members',
      name: 'Too late',
      body: 'Juniper Gap Observatory: a quiet evening under the dome. Reply STOP to stop.',
    });
    const sent = await api<{ state: string }>('POST', `/broadcasts/${made.json.id}/send`, {
      at: new Date(at).toISOString(),
    });
    expect(sent.json.state).toBe('scheduled');
    await app.bench.advance(`PT${Math.ceil((at - now) / 1_000) + 5}S`);
    const held = await until(
      () =>
        app.query<{ number: string; state: string; not_before: Date }>(
          `select t.address as number, t.state, t.not_before from message t where t.send_id = $1 and t.state <> 'blocked'`,
          [made.json.id],
        ),
      (rows) => rows.some(({ number }) => number === NIGHT_OWL),
      20_000,
    );
    expect(new Set(held.map(({ state }) => state))).toEqual(new Set(['queued']));
    const owl = held.find(({ number }) => number === NIGHT_OWL)!;
    expect(owl.not_before.toLocaleString('sv-SE', { timeZone: 'America/Denver' }).slice(11, 16)).toBe(
      '08:00',
    );
    // The keyword asks them something besides.
    const got = async () =>
      (await app.bench.texts(NIGHT_OWL)).filter(({ body }) =>
        body.includes('a quiet evening under the dome'),
      );
    expect(await got()).toEqual([]);
    await app.bench.advance('PT10H5M');
    await until(got, (texts) => texts.length === 1, 150_000);
  });
});

describe('every screen', () => {
  const SCREENS = [
    '/',
    '/inbox',
    '/sends',
    '/sends/new',
    '/people',
    '/people/new',
    '/programs',
    '/programs/new',
    '/results',
    '/numbers',
    '/team',
    '/settings',
    '/developers',
  ];

  it('has no accessibility violations, light or dark', async () => {
    const [thread] = await app.query<{ id: string }>(
      `select id from person where waiting_since is not null limit 1`,
    );
    const [broadcast] = await app.query<{ id: string }>(
      `select id from broadcast where state = 'finished' limit 1`,
    );
    const [program] = await app.query<{ id: string }>(`select id from program limit 1`);
    const found: string[] = [];
    for (const path of [
      ...SCREENS,
      `/inbox/${thread!.id}`,
      `/people/${thread!.id}`,
      `/sends/${broadcast!.id}`,
      `/sends/${broadcast!.id}/people?what=state:delivered`,
      `/programs/${program!.id}`,
    ]) {
      await page.goto(`${app.web}${path}`, { waitUntil: 'load' });
      found.push(...(await violations(page)).map((violation) => `${path}: ${violation}`));
    }
    await page.goto(app.bench.url, { waitUntil: 'load' });
    found.push(...(await violations(page)).map((violation) => `bench: ${violation}`));
    expect(found).toEqual([]);
  });

  it('shows another workspace nothing of this one', async () => {
    const other = await browser.createBrowserContext();
    const theirs = await other.newPage();
    await signIn(theirs, app.web, 'ilse@roving-dome.example.org');
    const [mine] = await app.query<{ person: string; broadcast: string; program: string }>(
      `select (select min(id) from person where workspace_id = w.id) as person, (select min(id) from broadcast where workspace_id = w.id) as broadcast,
              (select min(id) from program where workspace_id = w.id) as program from workspace w where slug = 'juniper-gap'`,
    );
    for (const path of [
      `/people/${mine!.person}`,
      `/inbox/${mine!.person}`,
      `/sends/${mine!.broadcast}`,
      `/programs/${mine!.program}`,
    ]) {
      await theirs.goto(`${app.web}${path}`);
      await theirs.waitForFunction(() => document.body.innerText.includes('Nothing here'));
    }
    await theirs.goto(`${app.web}/people`);
    expect(await theirs.evaluate(() => document.body.innerText)).not.toContain('Aoife');
    await other.close();
  });

  it.each(['/people/%00', '/people?q=%00', '/sends/x/people?what=%00', '/inbox/%00'])(
    'leads nowhere, not to an error, from %s',
    async (path) => {
      const response = await page.goto(`${app.web}${path}`);
      expect(response!.status()).toBe(404);
      await see('Nothing here');
    },
  );

  it('gives a counter helper no people', async () => {
    const other = await browser.createBrowserContext();
    const theirs = await other.newPage();
    await signIn(theirs, app.web, 'pip@juniper-gap.example.org');
    await theirs.goto(`${app.web}/people`);
    expect(new URL(theirs.url()).pathname).toBe('/counter');
    expect(
      await theirs.evaluate(() => fetch('/internal/find?q=Ana').then((response) => response.status)),
    ).toBe(401);
    await other.close();
  });

  it('signs out everywhere', async () => {
    const other = await browser.createBrowserContext();
    const theirs = await other.newPage();
    await signIn(theirs, app.web, 'tess@juniper-gap.example.org');
    const second = await browser.createBrowserContext();
    const again = await second.newPage();
    await signIn(again, app.web, 'tess@juniper-gap.example.org');
    await theirs.click('button[aria-label="Settings and account"]');
    await theirs.waitForSelector('[role=menu]');
    await theirs.$$eval('[role=menuitem]', (items) =>
      (items.find((item) => item.textContent === 'Sign out everywhere') as HTMLElement).click(),
    );
    await theirs.waitForFunction(() => location.pathname === '/sign-in');
    await again.goto(`${app.web}/people`);
    expect(new URL(again.url()).pathname).toBe('/sign-in');
    await other.close();
    await second.close();
  });
});
