import { createTransport } from 'nodemailer';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { listenForMail, type MailListener } from '@/gateways/mail/listener';
import { smtpMail, type MailGateway } from '@/gateways/mail/sender';
import { findProgram } from '@/services/programs/find-program';
import { recordConsent } from '@/services/consent/record-consent';
import { createPerson } from '@/services/people/create-person';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { readBehindBroadcast, readSend } from '@/services/sends/screen';
import { beginDueBroadcasts, finishBroadcasts, prepareBroadcast } from '@/services/sends/prepare-broadcast';
import { answerThread } from '@/services/inbox/answer-thread';
import { reportClearance } from '@/services/clearance/report-clearance';
import { storeAnswers } from '@/services/delivery/store-answers';
import { erasePerson } from '@/services/people/erase-person';
import { makeWorld, type World } from '@/services/testing/world';
import { BenchClock } from '@/standins/clock';
import { Mailboxes, type BenchMail } from '@/standins/mailboxes';
import { followLink } from './follow-link';
import { leaveByToken, readLeavePage, stayByToken } from './leave';
import { knowsMailbox, receiveMail } from './receive-mail';
import { claimDueMails, handOverMail, settleQuietLetters } from './send-mail';
import { setMailFrom } from './settings';

const ME = { name: 'test', accountId: null };
let world: World;
let boxes: Mailboxes;
let door: MailListener;
let gateway: MailGateway;
let broken = false;

beforeAll(async () => {
  const opened = await listenForMail(0, '127.0.0.1', {
    knows: (address) => knowsMailbox(world.ctx, address),
    mail: (mail) => (broken ? Promise.reject(new Error('broken')) : receiveMail(world.ctx, mail)),
  });
  door = opened!;
  boxes = new Mailboxes(new BenchClock(null), { host: '127.0.0.1', port: door.port });
  const port = await boxes.listen(0);
  gateway = smtpMail({ host: '127.0.0.1', port, secure: false, user: null, password: null });
});
afterAll(async () => {
  await gateway.close();
  await door.close();
});
beforeEach(async () => {
  world = await makeWorld();
  broken = false;
  await world.within((scope) =>
    setMailFrom(
      world.ctx,
      scope,
      { from: 'hello@juniper-gap.example.org', name: 'Juniper Gap', postal_address: '1 Hill Road' },
      ME,
    ),
  );
});
afterEach(() => world.close());

const rows = <T extends object>(sql: string, values = {}) =>
  world.within((scope) => scope.rows<T>(sql, values));

/** Somebody known by an e-mail address, who agreed to get mail of the program. */
async function add(email: string): Promise<string> {
  const made = await world.within((scope) =>
    createPerson(
      world.ctx,
      scope,
      {
        ...{ email, first_name: email.split('@')[0]! },
        consent: { program: 'Clear Sky Alerts', wording: 'yes, by e-mail' },
      },
      'test',
    ),
  );
  if (!made.ok) throw new Error(JSON.stringify(made.reason));
  return made.value.id;
}

async function broadcast(more: { subject?: string; body?: string } = {}): Promise<string> {
  const written = {
    ...{ program: 'Clear Sky Alerts', name: 'B', channel: 'email' as const },
    ...{
      subject: 'Clear, {$person.first_name :wren:field fallback=friend}?',
      body: 'See https://sky.test/tonight now.',
      ...more,
    },
  };
  const made = await world.within((scope) => createBroadcast(world.ctx, scope, written, ME));
  if (!made.ok) throw new Error(JSON.stringify(made.reason));
  await world.within((scope) => sendBroadcast(world.ctx, scope, made.value.id, {}, ME));
  await beginDueBroadcasts(world.ctx);
  await prepareBroadcast(world.ctx, world.workspaceId, made.value.id);
  await prepareBroadcast(world.ctx, world.workspaceId, made.value.id);
  return made.value.id;
}

/** Hands over what is due; gives what became of each. */
async function round(): Promise<string[]> {
  const leaving = await claimDueMails(world.ctx, 1, 50);
  const handed = await Promise.all(leaving.map((mail) => handOverMail(world.ctx, gateway, mail)));
  await storeAnswers(world.ctx, handed, []);
  return handed.flatMap(({ parts }) => parts.map(({ kind }) => kind));
}
const states = async () =>
  (
    await rows<{ state: string; failure: string | null }>(
      `select state, failure from message where workspace_id = :workspace and channel = 'email' order by id`,
    )
  ).map(({ state, failure }) => (failure ? `${state}: ${failure}` : state));
const consent = async (person: string) =>
  (
    await rows<{ state: string }>(
      `select state from consent_state where workspace_id = :workspace and person_id = :person and channel = 'email' and current`,
      { person },
    )
  )[0]?.state;
/** The last letter in somebody's box. */
const letter = (address: string): BenchMail => boxes.mails(address)[0]!;
const tokenOf = (mail: BenchMail) => /<([^@]+)@/.exec(mail.messageId)![1]!;
const until = async (what: () => Promise<boolean>) => {
  for (let i = 0; i < 100 && !(await what()); i++) await new Promise((resolve) => setTimeout(resolve, 30));
};
const inbound = (person: string) =>
  rows<{ body: string; meaning: string; subject: string; after: string | null }>(
    `select body, meaning, subject, after_text_id as after from inbound_text where workspace_id = :workspace and person_id = :person order by id`,
    { person },
  );

describe('a broadcast by e-mail', () => {
  it('goes with subject, both parts, return path and the way to leave; and is counted', async () => {
    const ana = await add('ana@example.org');
    await add('nobody1@example.org');
    const id = await broadcast();
    expect((await round()).sort()).toEqual(['refused', 'taken']);
    const mail = letter('ana@example.org');
    expect(mail).toMatchObject({
      ...{ subject: 'Clear, ana?', from: 'hello@juniper-gap.example.org' },
      ...{
        replyTo: 'answers+juniper-gap@mail.wren.test',
        returnPath: `bounce+${tokenOf(mail)}@mail.wren.test`,
      },
      headers: {
        'list-unsubscribe-post': 'List-Unsubscribe=One-Click',
        'list-unsubscribe': `<http://localhost:4400/u/${tokenOf(mail)}/one-click>, <mailto:leave+${tokenOf(mail)}@mail.wren.test>`,
      },
    });
    expect(mail.text).toMatch(/^See http:\/\/localhost:4400\/l\/\w+ now\.\n\n--\n.*\n1 Hill Road\nLeave: /);
    expect(mail.html).toContain('1 Hill Road');
    await until(async () => (await states()).includes('delivered'));
    expect((await states()).sort()).toEqual(['delivered', 'failed: mailbox-gone']);
    await finishBroadcasts(world.ctx);
    const sent = await world.within((scope) => readSend(scope, id));
    expect(sent!.broadcast.state).toBe('finished');
    expect(sent!.result).toMatchObject({ people: 2, delivered: 1, failed: 1, blocked: 0, credits: 0 });
    expect(ana).toBeTruthy();
  });

  it('does not go to a mailbox that is gone, ever again', async () => {
    const id = await add('nobody2@example.org');
    await broadcast();
    await round();
    expect(
      await rows(`select state from address where workspace_id = :workspace and person_id = :id`, { id }),
    ).toEqual([{ state: 'bounced' }]);
    await broadcast({ body: 'Another.' });
    expect(await round()).toEqual([]);
  });

  it('comes back later from where it is bounced, and settles by the notice alone', async () => {
    const [gone, full] = [await add('returned@example.org'), await add('full@example.org')];
    await broadcast();
    expect(await round()).toEqual(['taken', 'taken']);
    await until(async () => (await states()).every((state) => state.startsWith('failed')));
    expect((await states()).sort()).toEqual(['failed: mailbox-full', 'failed: mailbox-gone']);
    expect(
      await rows(
        `select person_id as id, state, failures from address where workspace_id = :workspace order by value desc`,
      ),
    ).toEqual([
      { id: gone, state: 'bounced', failures: 0 },
      { id: full, state: 'in-service', failures: 1 },
    ]);
  });

  it('is tried again where the server is busy, and not where nobody knows whether it was taken', async () => {
    await add('silent@example.org');
    await broadcast();
    expect(await round()).toEqual(['unknown']);
    expect(await states()).toEqual(['unconfirmed']);
    world.clock.at += 3_600_000;
    expect(await round()).toEqual([]);
    expect(boxes.mails('silent@example.org')).toHaveLength(1);
  });

  it('of which the answer was lost is settled by the notice that comes all the same', async () => {
    await add('gia@example.org');
    await broadcast();
    const [leaving] = await claimDueMails(world.ctx, 1, 50);
    const handed = await handOverMail(world.ctx, gateway, leaving!);
    await storeAnswers(world.ctx, [{ ...handed, parts: [{ kind: 'unknown' }] }], []);
    await until(async () => (await states()).includes('delivered'));
    expect(await states()).toEqual(['delivered']);
    expect(boxes.mails('gia@example.org')).toHaveLength(1);
  });

  it('waits while nobody knows whom it is from, and goes once that is said', async () => {
    await world.within((scope) => setMailFrom(world.ctx, scope, {}, ME));
    await add('cy@example.org');
    const question = {
      ...{
        program: 'Clear Sky Alerts',
        channel: 'email' as const,
        subject: 'x',
        body: 'y',
        at: world.clock.at,
      },
      ...{ senderName: null, personId: null },
    };
    const draft = await world.within((scope) => reportClearance(scope, question));
    expect(draft.ok && draft.value.report.lines.map(({ code }) => code)).toEqual([
      'no-mail-address',
      'no-postal-address',
    ]);
    await broadcast();
    expect(await round()).toEqual([]);
    await world.within((scope) =>
      setMailFrom(world.ctx, scope, { from: 'hello@example.org', postal_address: '1 Hill Road' }, ME),
    );
    world.clock.at += 16 * 60_000;
    expect(await round()).toEqual(['taken']);
  });

  it.each([
    ['no subject', { channel: 'email', body: 'x' }, 'subject'],
    [
      'a subject of two lines',
      { channel: 'email', subject: 'a\nBcc: all@example.org', body: 'x' },
      'subject',
    ],
    ['a subject that cannot be read', { channel: 'email', subject: '{$person', body: 'x' }, 'subject'],
    ['a subject, of a text', { channel: 'sms', subject: 'x', body: 'x' }, 'subject'],
    ['a letter’s length, of a text', { channel: 'sms', body: 'x'.repeat(1_601) }, 'body'],
  ] as const)('is refused with %s', async (_, more, field) => {
    const made = await world.within((scope) =>
      createBroadcast(world.ctx, scope, { program: 'Clear Sky Alerts', name: 'B', ...more }, ME),
    );
    expect(made).toMatchObject({ ok: false, reason: { problems: [{ field }] } });
  });

  it('of which nothing was heard for days was delivered', async () => {
    await add('di@example.org');
    await broadcast();
    const [mail] = await claimDueMails(world.ctx, 1, 50);
    const deaf: MailGateway = {
      ...gateway,
      send: async ({ token }) => ({ kind: 'taken', carrierId: `mail:${token}` }),
    };
    await storeAnswers(world.ctx, [await handOverMail(world.ctx, deaf, mail!)], []);
    expect(await settleQuietLetters(world.ctx)).toBe(0);
    world.clock.at += 6 * 86_400_000;
    expect(await settleQuietLetters(world.ctx)).toBe(1);
    expect(await states()).toEqual(['delivered']);
  });
});

describe('leaving', () => {
  it('by one click ends the program by e-mail and what waits; opening the page does not; it can be taken back', async () => {
    const ana = await add('ana1@example.org');
    const id = await broadcast();
    await round();
    const token = tokenOf(letter('ana1@example.org'));
    expect(await readLeavePage(world.ctx, token)).toMatchObject({ program: 'Clear Sky Alerts', state: 'in' });
    expect(await consent(ana)).toBe('in');
    const waiting = await broadcast({ body: 'Later.' });
    expect(await leaveByToken(world.ctx, token, 'one-click', false)).toEqual({ ok: true, value: null });
    expect(await consent(ana)).toBe('out');
    expect(await round()).toEqual([]);
    expect((await world.within((scope) => readSend(scope, id)))!.result).toMatchObject({ optOuts: 1 });
    expect(await world.within((scope) => readBehindBroadcast(scope, id, 'opt-outs'))).toMatchObject([
      { person_id: ana },
    ]);
    expect((await world.within((scope) => readSend(scope, waiting)))!.result).toMatchObject({ cancelled: 1 });
    await stayByToken(world.ctx, token);
    expect(await consent(ana)).toBe('in');
    expect(await leaveByToken(world.ctx, 'nosuchtoken', 'page', true)).toMatchObject({ ok: false });
  });

  it('by a letter to the address for it, and by a complaint, which blocks the address', async () => {
    const [bo, cy] = [await add('bo1@example.org'), await add('cy1@example.org')];
    await broadcast();
    await round();
    const leave = /mailto:([^>]+)>/.exec(letter('bo1@example.org').headers['list-unsubscribe']!)![1]!;
    await send({ to: leave, from: 'bo1@example.org', subject: 'unsubscribe', text: '' });
    expect(await consent(bo)).toBe('out');
    expect(await boxes.act(letter('cy1@example.org'), 'complain', '')).toBeNull();
    expect(await consent(cy)).toBe('out');
    expect(
      await rows(`select state from address where workspace_id = :workspace and person_id = :cy`, { cy }),
    ).toEqual([{ state: 'blocked' }]);
  });

  it('counts for everybody with the address', async () => {
    const ana = await add('home@example.org');
    const other = await add('other@example.org');
    await rows(
      `insert into address (workspace_id, person_id, kind, rank, value, since) values (:workspace, :other, 'email', 1, 'home@example.org', now()) returning 1`,
      { other },
    );
    await broadcast();
    await round();
    await leaveByToken(world.ctx, tokenOf(letter('home@example.org')), 'page', true);
    expect([await consent(ana), await consent(other)]).toEqual(['out', 'out']);
  });
});

const send = (mail: {
  to: string;
  from: string;
  subject?: string;
  text?: string;
  headers?: Record<string, string>;
  inReplyTo?: string;
  messageId?: string;
  raw?: string;
}) => {
  const transport = createTransport({ host: '127.0.0.1', port: door.port, ignoreTLS: true });
  const { raw, ...rest } = mail;
  return transport
    .sendMail(raw ? { envelope: { from: mail.from, to: mail.to }, raw } : rest)
    .then(
      () => 'taken',
      (error: { responseCode?: number }) => String(error.responseCode),
    )
    .finally(() => transport.close());
};
const ANSWERS = 'answers+juniper-gap@mail.wren.test';

describe('an answer', () => {
  it('stands in the thread of whom it answers, from whatever address, without what was quoted', async () => {
    const ana = await add('ana2@example.org');
    await broadcast();
    await round();
    const mail = letter('ana2@example.org');
    expect(await boxes.act(mail, 'answer', 'Can I bring a friend?')).toBeNull();
    await send({
      to: ANSWERS,
      from: 'else@example.com',
      subject: 'Re: x',
      text: 'From my other box',
      inReplyTo: mail.messageId,
    });
    const [message] = await rows<{ id: string }>(`select id from message where workspace_id = :workspace`);
    expect(await inbound(ana)).toEqual([
      { body: 'Can I bring a friend?', meaning: 'reply', subject: 'Re: Clear, ana2?', after: message!.id },
      { body: 'From my other box', meaning: 'reply', subject: 'Re: x', after: message!.id },
    ]);
    expect(
      await rows(`select 1 from person where workspace_id = :workspace and waiting_since is not null`),
    ).toHaveLength(1);
  });

  it('is answered by e-mail, under theirs', async () => {
    const ana = await add('ana3@example.org');
    await broadcast();
    await round();
    await boxes.act(letter('ana3@example.org'), 'answer', 'Can I bring a friend?');
    await world.within((scope) =>
      scope.run(
        `insert into account (id, email, name, password_hash, created_at) select 'acc_1', 'a@example.org', 'A', 'x', now() where :workspace is not null`,
      ),
    );
    const answered = await world.within((scope) =>
      answerThread(world.ctx, scope, ana, 'Of course.', 'acc_1'),
    );
    expect(answered).toEqual({ ok: true, value: null });
    expect(await round()).toEqual(['taken']);
    const mail = letter('ana3@example.org');
    expect(mail).toMatchObject({
      subject: 'Re: Clear, ana3?',
      text: expect.stringMatching(/^Of course\.\s*$/) as string,
    });
    expect(mail.headers['in-reply-to']).toMatch(/^<.+>$/);
    expect(mail.headers).not.toHaveProperty('list-unsubscribe');
    expect(mail.headers).not.toHaveProperty('auto-submitted');
  });

  it('that says to stop takes them out of every program by e-mail, not by text', async () => {
    const ana = await add('ana4@example.org');
    await broadcast();
    await round();
    await boxes.act(letter('ana4@example.org'), 'answer', 'Please take me off this list.');
    expect(await consent(ana)).toBe('out');
    expect(
      await rows(`select 1 from person where workspace_id = :workspace and stopped_at is not null`),
    ).toEqual([]);
  });

  it('of a machine starts nothing', async () => {
    const ana = await add('away@example.org');
    await broadcast();
    await round();
    await until(async () => (await inbound(ana)).length > 0);
    expect(await inbound(ana)).toMatchObject([{ body: 'I am away until Monday.', meaning: 'automatic' }]);
    expect(
      await rows(`select 1 from person where workspace_id = :workspace and waiting_since is not null`),
    ).toEqual([]);
    expect(
      await rows(`select 1 from happening where workspace_id = :workspace and kind = 'reply.received'`),
    ).toEqual([]);
  });

  it('from somebody we do not know makes them known; delivered twice it is one', async () => {
    const mail = {
      to: ANSWERS,
      from: 'Eve@Example.com',
      subject: 'Hello',
      text: 'Are you open?',
      messageId: '<1@eve.test>',
    };
    expect([await send(mail), await send(mail)]).toEqual(['taken', 'taken']);
    const people = await rows<{ id: string; email: string; source: string }>(
      `select id, email, source from person where workspace_id = :workspace`,
    );
    expect(people).toMatchObject([{ email: 'eve@example.com', source: 'e-mail' }]);
    expect(await inbound(people[0]!.id)).toHaveLength(1);
  });

  it('that cannot be stored stays with who sent it', async () => {
    broken = true;
    expect(await send({ to: ANSWERS, from: 'eve@example.com', text: 'x' })).toBe('451');
    broken = false;
    expect(await send({ to: ANSWERS, from: 'eve@example.com', text: 'x' })).toBe('taken');
  });

  it.each([
    'somebody@mail.wren.test',
    'answers+nobody@mail.wren.test',
    'bounce+none@mail.wren.test',
    'answers+juniper-gap@elsewhere.test',
  ])('to %s is refused at the door', async (to) =>
    expect(await send({ to, from: 'eve@example.com', text: 'x' })).toBe('550'),
  );

  it.each([
    ['nothing', ''],
    ['no headers', 'just words'],
    [
      'a NUL and half a character',
      'From: eve@example.com\r\nSubject: a\u0000b\r\n\r\nhi \u0000 \ud800 there',
    ],
    ['a charset nobody has', 'From: eve@example.com\r\nContent-Type: text/plain; charset=klingon\r\n\r\nhi'],
    ['HTML alone', 'From: eve@example.com\r\nContent-Type: text/html\r\n\r\n<p>hi <script>x</script></p>'],
    [
      'a broken boundary',
      'From: eve@example.com\r\nContent-Type: multipart/mixed; boundary="a"\r\n\r\n--b\r\nx',
    ],
    [
      'a broken notice',
      'From: x@y.test\r\nContent-Type: multipart/report; report-type=delivery-status; boundary=a\r\n\r\n--a\r\nContent-Type: message/delivery-status\r\n\r\nStatus: x\r\n--a--',
    ],
  ])('of %s breaks nothing', async (_, raw) =>
    expect(await send({ to: ANSWERS, from: 'eve@example.com', raw })).toBe('taken'),
  );

  it('whose notice names a letter of another workspace settles nothing here', async () => {
    await add('ana5@example.org');
    await broadcast();
    await round();
    const mail = letter('ana5@example.org');
    const raw = [
      'From: x@y.test\r\nContent-Type: multipart/report; report-type=delivery-status; boundary=a\r\n\r\n',
      '--a\r\nContent-Type: message/delivery-status\r\n\r\nReporting-MTA: dns; x\r\n\r\nAction: failed\r\nStatus: 5.1.1\r\n\r\n',
      `--a\r\nContent-Type: message/rfc822\r\n\r\nMessage-ID: <unknown@mail.wren.test>\r\n\r\nx\r\n--a--`,
    ].join('');
    expect(await send({ to: ANSWERS, from: 'x@y.test', raw })).toBe('taken');
    expect(mail.done).toEqual([]);
    expect((await states()).some((state) => state.startsWith('failed'))).toBe(false);
  });
});

describe('a link', () => {
  const follow = (code: string, agent: string, head = false) => followLink(world.ctx, code, { agent, head });
  const BROWSER = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/130 Safari/537.36';

  it('leads on and counts a person, once; robots, heads and scanners are kept and not counted', async () => {
    await add('ana6@example.org');
    const id = await broadcast();
    await round();
    const code = /\/l\/(\w+)/.exec(letter('ana6@example.org').text)![1]!;
    expect(await follow(code, BROWSER)).toBe('https://sky.test/tonight');
    world.clock.at += 60_000;
    await follow(code, 'Mozilla/5.0 (compatible; Googlebot/2.1)');
    await follow(code, '', false);
    await follow(code, BROWSER, true);
    const clicks = async () => (await world.within((scope) => readSend(scope, id)))!.result.clicks;
    expect(await clicks()).toBe(0);
    await follow(code, BROWSER);
    await follow(code, BROWSER);
    expect(await clicks()).toBe(1);
    expect(await world.within((scope) => readBehindBroadcast(scope, id, 'clicks'))).toHaveLength(1);
    expect(await follow('none', BROWSER)).toBeNull();
    expect(
      await rows(`select 1 from message_event where workspace_id = :workspace and event = 'fetched'`),
    ).toHaveLength(4);
  });
});

it('of somebody erased nothing is left, and their letter no longer opens', async () => {
  const ana = await add('ana7@example.org');
  await broadcast();
  await round();
  const token = tokenOf(letter('ana7@example.org'));
  await world.within((scope) => erasePerson(world.ctx, scope, ana, 'test'));
  expect(await rows(`select 1 from mail where workspace_id = :workspace`)).toEqual([]);
  expect(await readLeavePage(world.ctx, token)).toBeNull();
});

it('a program’s members by text may be mailed where the law lets them, from their number on', async () => {
  await world.texts('+13035550101', 'sky');
  await rows(
    `insert into address (workspace_id, person_id, kind, rank, value, since) select :workspace, id, 'email', 0, 'fay@example.org', now() from person where workspace_id = :workspace returning 1`,
  );
  const program = await world.within((scope) => findProgram(scope, 'Clear Sky Alerts'));
  const question = {
    ...{ program: program!.id, channel: 'email' as const, subject: 'x', body: 'y', at: world.clock.at },
    ...{ senderName: null, personId: null },
  };
  const report = async () => {
    const draft = await world.within((scope) => reportClearance(scope, question));
    return draft.ok
      ? [draft.value.report.cleared, draft.value.report.lines.map(({ code }) => code)]
      : draft.reason;
  };
  expect(await report()).toEqual([1, []]);
  const [person] = await rows<{ id: string }>(`select id from person where workspace_id = :workspace`);
  await world.within((scope) =>
    recordConsent(world.ctx, scope, {
      ...{ personId: person!.id, programId: program!.id, channel: 'email', address: 'fay@example.org' },
      ...{ kind: 'opted-out', method: 'form', evidence: {} },
    }),
  );
  expect(await report()).toEqual([0, ['opted-out']]);
});
