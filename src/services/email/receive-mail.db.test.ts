import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { answerThread } from '@/services/inbox/answer-thread';
import {
  addReader,
  MailDoors,
  mailBroadcast,
  mailConsent,
  mailStates,
  makeMailWorld,
  until,
} from '@/services/testing/mail';
import { type World } from '@/services/testing/world';

let world: World;
const doors = new MailDoors(() => world);
beforeAll(() => doors.open());
afterAll(() => doors.close());
beforeEach(async () => {
  world = await makeMailWorld();
  doors.broken = false;
});
afterEach(() => world.close());

const rows: World['rows'] = (sql, values) => world.rows(sql, values);
const add = (email: string) => addReader(world, email);
const broadcast = (more = {}) => mailBroadcast(world, more);
const states = () => mailStates(world);
const consent = (person: string) => mailConsent(world, person);
const inbound = (person: string) =>
  rows<{ body: string; meaning: string; subject: string; after: string | null }>(
    `select body, meaning, subject, after_text_id as after from inbound_text where workspace_id = :workspace and person_id = :person order by id`,
    { person },
  );

const ANSWERS = 'answers+juniper-gap@mail.wren.test';

describe('an answer', () => {
  it('stands in the thread of whom it answers, from whatever address, without what was quoted', async () => {
    const ana = await add('ana2@example.org');
    await broadcast();
    await doors.round();
    const mail = doors.letter('ana2@example.org');
    expect(await doors.boxes.act(mail, 'answer', 'Can I bring a friend?')).toBeNull();
    await doors.send({
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
    await doors.round();
    await doors.boxes.act(doors.letter('ana3@example.org'), 'answer', 'Can I bring a friend?');
    await world.within((scope) =>
      scope.run(
        `insert into account (id, email, name, password_hash, created_at) select 'acc_1', 'a@example.org', 'A', 'x', now() where :workspace is not null`,
      ),
    );
    const answered = await world.within((scope) =>
      answerThread(world.ctx, scope, ana, 'Of course.', 'acc_1'),
    );
    expect(answered).toMatchObject({ ok: true });
    expect(await doors.round()).toEqual(['taken']);
    const mail = doors.letter('ana3@example.org');
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
    await doors.round();
    await doors.boxes.act(doors.letter('ana4@example.org'), 'answer', 'Please take me off this list.');
    expect(await consent(ana)).toBe('out');
    expect(
      await rows(`select 1 from person where workspace_id = :workspace and stopped_at is not null`),
    ).toEqual([]);
  });

  it('that quotes our words of leaving and says nothing itself is for a human; one below what it quotes counts', async () => {
    const ana = await add('ana5@example.org');
    await broadcast();
    await doors.round();
    await doors.boxes.act(doors.letter('ana5@example.org'), 'answer', '> Please take me off this list.');
    expect(await inbound(ana)).toMatchObject([{ meaning: 'unclear' }]);
    expect(await consent(ana)).toBe('in');
    const quoted = 'On Tue, Dec 1, 2026 Juniper Gap wrote:\n> Clear. To leave, reply STOP.\n';
    await doors.boxes.act(doors.letter('ana5@example.org'), 'answer', `${quoted}\nWe will come, thanks`);
    await doors.boxes.act(
      doors.letter('ana5@example.org'),
      'answer',
      `${quoted}\nPlease remove me from your list.`,
    );
    expect((await inbound(ana)).slice(1)).toMatchObject([
      { body: 'We will come, thanks', meaning: 'reply' },
      { body: 'Please remove me from your list.', meaning: 'opt-out' },
    ]);
    expect(await consent(ana)).toBe('out');
  });

  it('of a machine starts nothing', async () => {
    const ana = await add('away@example.org');
    await broadcast();
    await doors.round();
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
    expect([await doors.send(mail), await doors.send(mail)]).toEqual(['taken', 'taken']);
    const people = await rows<{ id: string; email: string; source: string }>(
      `select id, email, source from person where workspace_id = :workspace`,
    );
    expect(people).toMatchObject([{ email: 'eve@example.com', source: 'e-mail' }]);
    expect(await inbound(people[0]!.id)).toHaveLength(1);
  });

  it('that cannot be stored stays with who sent it', async () => {
    doors.broken = true;
    expect(await doors.send({ to: ANSWERS, from: 'eve@example.com', text: 'x' })).toBe('451');
    doors.broken = false;
    expect(await doors.send({ to: ANSWERS, from: 'eve@example.com', text: 'x' })).toBe('taken');
  });

  it.each([
    'somebody@mail.wren.test',
    'answers+nobody@mail.wren.test',
    'bounce+none@mail.wren.test',
    'answers+juniper-gap@elsewhere.test',
  ])('to %s is refused at the door', async (to) =>
    expect(await doors.send({ to, from: 'eve@example.com', text: 'x' })).toBe('550'),
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
    expect(await doors.send({ to: ANSWERS, from: 'eve@example.com', raw })).toBe('taken'),
  );

  it('whose notice names a letter of another workspace settles nothing here', async () => {
    await add('ana5@example.org');
    await broadcast();
    await doors.round();
    const mail = doors.letter('ana5@example.org');
    const raw = [
      'From: x@y.test\r\nContent-Type: multipart/report; report-type=delivery-status; boundary=a\r\n\r\n',
      '--a\r\nContent-Type: message/delivery-status\r\n\r\nReporting-MTA: dns; x\r\n\r\nAction: failed\r\nStatus: 5.1.1\r\n\r\n',
      `--a\r\nContent-Type: message/rfc822\r\n\r\nMessage-ID: <unknown@mail.wren.test>\r\n\r\nx\r\n--a--`,
    ].join('');
    expect(await doors.send({ to: ANSWERS, from: 'x@y.test', raw })).toBe('taken');
    expect(mail.done).toEqual([]);
    expect((await states()).some((state) => state.startsWith('failed'))).toBe(false);
  });
});
