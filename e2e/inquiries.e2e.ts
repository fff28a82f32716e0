import { createTransport } from 'nodemailer';
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

const PORT = 4630;
const ODA = '+13035550141';
const RAVI = '+16065550144';
const HOOK = /^https?:\/\/\S+\/in\/\w+$/;

/** The world's clock goes to one in the morning, whenever the tests run. */
async function toOneAtNight(): Promise<void> {
  const hour = (at: number) =>
    Number(new Intl.DateTimeFormat('en-GB', { timeZone: 'America/Denver', hour: '2-digit' }).format(at));
  const ahead = (25 - hour(await app.bench.now())) % 24;
  if (ahead > 0) await app.bench.advance(`PT${ahead}H`);
}

beforeAll(async () => {
  app = await startApp(PORT);
  await toOneAtNight();
  key = await app.apiKey();
  for (const number of [ODA, RAVI]) await app.bench.handset(number);
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
async function api(method: string, path: string, body?: object): Promise<Record<string, unknown>> {
  const response = await fetch(`${app.web}/api/v1${path}`, {
    method,
    headers: { authorization: `Bearer ${key}`, 'content-type': 'application/json' },
    ...(body ? { body: JSON.stringify(body) } : {}),
  });
  const json = (await response.json()) as Record<string, unknown>;
  expect(response.status, JSON.stringify(json)).toBeLessThan(300);
  return json;
}

/** What the portal of this story sends. */
const lead = (id: string, contact: object, request: object) => ({
  ...{ event: 'lead.created', id, listing: { name: 'Juniper Gap Observatory' } },
  ...{ contact, request },
});
const ODALYS = lead(
  'ld_1',
  { fullName: 'Odalys Brightwater', phoneNumber: '(303) 555-0141', emailAddress: 'odalys@example.org' },
  { visitType: 'Class trip', comments: 'We are 24 children. Is the dome free in March?' },
);

/** Where the source is sent to, as its page says. */
async function door(kind: 'webhook' | 'mailbox'): Promise<string> {
  const shown = await page.$$eval('aside dd', (all) => all.map((one) => one.textContent ?? ''));
  const found = shown.find((one) => (kind === 'webhook' ? /\/in\//.test(one) : one.includes('@')));
  if (!found) throw new Error(`The page shows no ${kind}: ${shown.join(', ')}`);
  return found;
}
const send = async (body: object | string, type = 'application/json', to?: string): Promise<Response> =>
  fetch((to ?? (await door('webhook'))).replace(/^https?:\/\/[^/]+/, app.web), {
    method: 'POST',
    headers: { 'content-type': type },
    body: typeof body === 'string' ? body : JSON.stringify(body),
  });
interface Source {
  id: string;
  name: string;
  webhook: string;
  mailbox: string;
}
const sourceOf = async (name: string): Promise<Source> =>
  ((await api('GET', '/sources')).items as Source[]).find((one) => one.name === name)!;
const inquiriesOf = (number: string) =>
  app.query<{ kind: string; words: string }>(
    `select i.kind, i.words from inquiry i join person p on p.id = i.person_id where p.number = $1 order by i.at`,
    [number],
  );

describe('a source of inquiries', () => {
  it('is made, and shows what came as it came, with where each value could go and why', async () => {
    const [program] = await app.query<{ id: string }>(
      `select id from program where name = 'School & Group Visits'`,
    );
    await open('/programs/inquiries');
    await keys.see('A new source');
    await page.type('input[name=name]', 'Stars For Schools');
    await page.select('select[name=program]', program!.id);
    await page.keyboard.press('Enter');
    await keys.see('Nothing came yet.');
    expect(await door('webhook')).toMatch(HOOK);
    const answered = await send(ODALYS);
    expect([answered.status, await answered.json()]).toEqual([202, { kept: true }]);
    await until(
      () => app.query(`select 1 from arrival where state = 'unread'`),
      (rows) => rows.length === 1,
    );
    await page.reload({ waitUntil: 'load' });
    await keys.see('contact/phoneNumber');
    await keys.see('1 of 1 that came can be read');
    await keys.see('proposed, not saved yet');
    expect(await violations(page)).toEqual([]);
  });

  it('answers in problem documents what it cannot take, and loses nothing of what it can', async () => {
    const hook = await door('webhook');
    const status = async (body: string, type: string) => {
      const answer = await send(body, type, hook);
      return [answer.status, answer.headers.get('content-type')];
    };
    expect(await status('x', 'image/png')).toEqual([415, 'application/problem+json']);
    expect(await status('{"a":', 'application/json')).toEqual([422, 'application/problem+json']);
    expect(await status('['.repeat(10_000), 'application/json')).toEqual([422, 'application/problem+json']);
    expect(await status('<!DOCTYPE a [<!ENTITY b "c">]><a>&b;</a>', 'text/xml')).toEqual([
      422,
      'application/problem+json',
    ]);
    expect(await status(`{"a":"${'x'.repeat(300_000)}"}`, 'application/json')).toEqual([
      413,
      'application/problem+json',
    ]);
    const nowhere = await send('{"a":1}', 'application/json', `${app.web}/in/0123456789abcdef`);
    expect(nowhere.status).toBe(404);
  });

  it('is cut off when a gigabyte comes slowly, and others are served meanwhile', async () => {
    const hook = (await door('webhook')).replace(/^https?:\/\/[^/]+/, app.web);
    let sent = 0;
    const slowly = new ReadableStream({
      async pull(controller) {
        await new Promise((resolve) => setTimeout(resolve, 5));
        controller.enqueue(new Uint8Array(16_384));
        sent += 16_384;
        if (sent > 64 * 1024 * 1024) controller.close();
      },
    });
    const answer = await fetch(hook, {
      ...{ method: 'POST', headers: { 'content-type': 'application/json' }, body: slowly },
      duplex: 'half',
    } as RequestInit).then(
      ({ status }) => status,
      () => 'cut off',
    );
    expect([413, 'cut off']).toContain(answer);
    expect(sent).toBeLessThan(8 * 1024 * 1024);
    expect((await send('', 'application/json', hook)).status).toBe(422);
  });

  it('is mapped by clicking, given a kind and a sequence, and reads at once what it could not', async () => {
    const [program] = await app.query<{ id: string }>(
      `select id from program where name = 'School & Group Visits'`,
    );
    const sequence = await api('POST', '/sequences', {
      document: {
        ...{ format: 'steady-wren/sequence/1', name: 'Answer at once', program: program!.id },
        ...{ begins: [{ on: 'request' }], only: null, again: { rule: 'never' }, grace_minutes: 5 },
        ...{ hours: null, ends: [{ when: { on: 'reply' }, then: [] }] },
        lines: [
          {
            ...{ id: 'a', when: { at: 'once' }, late: 'go' },
            what: {
              do: 'text',
              body: 'Juniper Gap Observatory: hi {$person.first_name :wren:field fallback=friend}, thank you for asking about a {$inquiry.kind :wren:field fallback=visit}! What day suits you? {$program.ask :wren:field} Reply STOP to stop.',
            },
          },
        ],
      },
    });
    await api('POST', `/sequences/${String(sequence.id)}/publish`, {
      ...{ stamp: sequence.draft_stamp ?? sequence.stamp, others: 'stay' },
    });
    await page.reload({ waitUntil: 'load' });
    await keys.see('contact/phoneNumber');
    // One value is put elsewhere, and back.
    const choice = 'select[aria-label="Goes to: request/visitType"]';
    await page.select(choice, '');
    await keys.see('kind of inquiry: it is called “visitType”');
    await page.select(choice, 'kind');
    await keys.tabTo('Another kind');
    await keys.press('Enter');
    await page.type('input[aria-label="Kind 1"]', 'school visit');
    await page.type('input[aria-label="Words that mean school visit"]', 'class trip');
    await keys.tabTo('Begin a sequence');
    await keys.press('Enter');
    await page.select('select[aria-label="Sequence 1"]', String(sequence.id));
    await page.select('select[aria-label="Of which kind, 1"]', 'school visit');
    await keys.tabTo('Save the change');
    await keys.press('Enter');
    await until(
      () => inquiriesOf(ODA),
      (rows) => rows.length === 1,
    );
    expect(await inquiriesOf(ODA)).toEqual([
      { kind: 'school visit', words: 'We are 24 children. Is the dome free in March?' },
    ]);
  });

  it('is answered at one in the morning, in the words of the inquiry', async () => {
    const [text] = await app.bench.received(ODA, 1);
    expect(text!.body).toContain('hi Odalys, thank you for asking about a school visit!');
    expect(text!.body).toContain('Reply YES to get School & Group Visits texts');
  });

  it('sent again is one inquiry and one answer', async () => {
    const { webhook } = await sourceOf('Stars For Schools');
    for (const body of [ODALYS, { ...ODALYS, event: 'lead.resent' }])
      expect((await send(body, 'application/json', webhook)).status).toBe(202);
    await until(
      () => app.query(`select 1 from arrival where due_at is not null`),
      (rows) => rows.length === 0,
    );
    expect(await inquiriesOf(ODA)).toHaveLength(1);
    expect(await app.bench.texts(ODA)).toHaveLength(1);
  });

  it('takes a YES for more, and a reply is shown to who has them', async () => {
    const [text] = await app.bench.texts(ODA);
    await app.bench.text(ODA, text!.from, 'Yes please');
    await app.bench.received(ODA, 2);
    const consent = await app.query<{ method: string }>(
      `select e.method from consent_state c join consent_event e on e.id = c.event_id where c.address = $1`,
      [ODA],
    );
    expect(consent).toEqual([{ method: 'reply' }]);
    await app.bench.text(ODA, text!.from, 'Any Tuesday in March would be lovely');
    await open('/inbox?q=Tuesday');
    await keys.see('Any Tuesday in March would be lovely');
    await open('/programs/inquiries');
    await keys.see('Odalys Brightwater');
    await keys.see('school visit');
    expect(await violations(page)).toEqual([]);
  });

  it('has a mailbox, where a portal’s letter is an inquiry too', async () => {
    const source = await sourceOf('Stars For Schools');
    await createTransport({ host: '127.0.0.1', port: PORT + 4, ignoreTLS: true }).sendMail({
      ...{ from: 'inquiries@portal.example.org', to: source.mailbox, subject: 'New inquiry' },
      html: '<table><tr><td>Name</td><td>Ravi Thistledown</td></tr><tr><td>Telephone</td><td>606-555-0144</td></tr><tr><td>Interested in</td><td>Class trip</td></tr><tr><td>Message</td><td>An hour on a Tuesday?</td></tr></table>',
    });
    await open(`/programs/inquiries/${source.id}`);
    await keys.see('labels/Telephone');
    await keys.see('Could not be read');
    for (const [label, to] of [
      ['labels/Telephone', 'number'],
      ['labels/Name', 'full_name'],
      ['labels/Interested in', 'kind'],
      ['labels/Message', 'words'],
    ])
      await page.select(`select[aria-label="Goes to: ${label}"]`, to!);
    await keys.tabTo('Save the change');
    await keys.press('Enter');
    const [text] = await app.bench.received(RAVI, 1);
    expect(text!.body).toContain('hi Ravi');
  });

  it('takes what the bench’s portals send in their moods: nothing is lost, and nothing counts twice', async () => {
    const asks = async (portal: string, name: string, mood: string) => {
      await app.bench.call('PUT', `/portals/${portal}`, { mood });
      await app.bench.call('POST', `/portals/${portal}/inquiries`, {
        ...{ name, number: '(606) 555-0147', email: '', what: 'school group', words: `Asked by ${name}` },
      });
    };
    // The second is kept as it came, and waits for somebody who says what its fields are. All are on
    // their way at once, and nothing says which is there first.
    await asks('out-with-the-class', 'Perpetua Lindqvist', 'twice');
    await asks('out-with-the-class', 'Perpetua Changed', 'changed');
    await asks('night-sky-guide', 'Perpetua Lindqvist', 'slow');
    const came = await until(
      () =>
        app.query<{ name: string; state: string }>(
          `select s.name, a.state from arrival a join source s on s.id = a.source_id
            where a.content::text like '%Asked by Perpetua%' and a.due_at is null order by s.name desc, a.state`,
        ),
      (rows) => rows.length === 3,
    );
    expect(came).toEqual([
      { name: 'Out With The Class', state: 'taken' },
      { name: 'Out With The Class', state: 'unread' },
      { name: 'Night Sky Guide', state: 'taken' },
    ]);
    expect((await inquiriesOf('+16065550147')).map(({ kind }) => kind)).toEqual([
      'school visit',
      'school visit',
    ]);
    expect((await app.bench.received('+16065550147', 1)).length).toBe(1);
  });
});
