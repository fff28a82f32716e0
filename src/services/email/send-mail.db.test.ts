import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { type MailGateway } from '@/gateways/mail/sender';
import { findProgram } from '@/services/programs/find-program';
import { recordConsent } from '@/services/consent/record-consent';
import { createBroadcast } from '@/services/sends/broadcasts';
import { readSend } from '@/services/sends/screen';
import { finishBroadcasts } from '@/services/sends/prepare-broadcast';
import { reportClearance } from '@/services/clearance/report-clearance';
import { storeAnswers } from '@/services/delivery/store-answers';
import {
  addReader,
  MailDoors,
  mailBroadcast,
  mailStates,
  makeMailWorld,
  tokenOf,
  until,
} from '@/services/testing/mail';
import { type World } from '@/services/testing/world';
import { claimDueMails, handOverMail, settleQuietLetters } from './send-mail';
import { setMailFrom } from './settings';

const ME = { name: 'test', accountId: null };
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

describe('a broadcast by e-mail', () => {
  it('goes with subject, both parts, return path and the way to leave; and is counted', async () => {
    const ana = await add('ana@example.org');
    await add('nobody1@example.org');
    const id = await broadcast();
    expect((await doors.round()).sort()).toEqual(['refused', 'taken']);
    const mail = doors.letter('ana@example.org');
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
    const sent = await world.within((scope) => readSend(scope, id, world.clock.at));
    expect(sent!.broadcast.state).toBe('finished');
    expect(sent!.result).toMatchObject({ people: 2, delivered: 1, failed: 1, blocked: 0, credits: 0 });
    expect(ana).toBeTruthy();
  });

  it('does not go to a mailbox that is gone, ever again', async () => {
    const id = await add('nobody2@example.org');
    await broadcast();
    await doors.round();
    expect(
      await rows(`select state from address where workspace_id = :workspace and person_id = :id`, { id }),
    ).toEqual([{ state: 'bounced' }]);
    await broadcast({ body: 'Another.' });
    expect(await doors.round()).toEqual([]);
  });

  it('comes back later from where it is bounced, and settles by the notice alone', async () => {
    const [gone, full] = [await add('returned@example.org'), await add('full@example.org')];
    await broadcast();
    expect(await doors.round()).toEqual(['taken', 'taken']);
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
    expect(await doors.round()).toEqual(['unknown']);
    expect(await states()).toEqual(['unconfirmed']);
    world.clock.at += 3_600_000;
    expect(await doors.round()).toEqual([]);
    expect(doors.boxes.mails('silent@example.org')).toHaveLength(1);
  });

  it('of which the answer was lost is settled by the notice that comes all the same', async () => {
    await add('gia@example.org');
    await broadcast();
    const [leaving] = await claimDueMails(world.ctx, 1, 50);
    const handed = await handOverMail(world.ctx, doors.gateway, leaving!);
    await storeAnswers(world.ctx, [{ ...handed, parts: [{ kind: 'unknown' }] }], []);
    await until(async () => (await states()).includes('delivered'));
    expect(await states()).toEqual(['delivered']);
    expect(doors.boxes.mails('gia@example.org')).toHaveLength(1);
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
    // The postal address is missing too; each person stands under the one reason that decides.
    expect(draft.ok && draft.value.report.lines.map(({ code }) => code)).toEqual(['no-mail-address']);
    await broadcast();
    expect(await doors.round()).toEqual([]);
    await world.within((scope) =>
      setMailFrom(world.ctx, scope, { from: 'hello@example.org', postal_address: '1 Hill Road' }, ME),
    );
    world.clock.at += 16 * 60_000;
    expect(await doors.round()).toEqual(['taken']);
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
      ...doors.gateway,
      send: async ({ token }) => ({ kind: 'taken', carrierId: `mail:${token}` }),
    };
    await storeAnswers(world.ctx, [await handOverMail(world.ctx, deaf, mail!)], []);
    expect(await settleQuietLetters(world.ctx)).toBe(0);
    world.clock.at += 6 * 86_400_000;
    expect(await settleQuietLetters(world.ctx)).toBe(1);
    expect(await states()).toEqual(['delivered']);
  });
});

describe('clearance', () => {
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
});
