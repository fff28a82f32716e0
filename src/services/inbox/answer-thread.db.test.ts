import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import { acceptNearMiss, answerThread, closeThread } from './answer-thread';
import { decideUnclear } from './leave-by-hand';
import { createPerson } from '@/services/people/create-person';
import { addAccount } from '@/services/access/create-workspace';
import { findAnything } from '@/services/find';
import { readRibbon, startOfDay } from '@/services/shell/screen';
import { readBehindBroadcast, readSends } from '@/services/sends/screen';
import { readNumbers } from '@/services/numbers/screen';
import { readPersonScreen } from '@/services/people/screen';
import { readPrograms, readProgramScreen } from '@/services/programs/screen';
import { readAsked } from '@/services/results/asked';
import { readOverview } from '@/services/results/screen';
import { readBox } from './screen';
import { wordAnswer } from './word-answer';
import { readToday } from '@/services/today/screen';
import { claimDueTexts, submitText } from '@/services/delivery/send-due-texts';
import { storeAnswers } from '@/services/delivery/store-answers';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { beginDueBroadcasts, finishBroadcasts, prepareBroadcast } from '@/services/sends/prepare-broadcast';
import { EVERYBODY } from '@/core/audience/condition';
import { readPeopleTable } from '@/services/people/people-table';
import { personOf as personWith } from '@/services/testing/people';
import { makeWorld, NOON, NUMBER, type World } from '@/services/testing/world';

const ANA = '+13035550142';
const table = async (search: string, after = '', most = 100) => {
  const page = await world.within((scope) =>
    readPeopleTable(scope, { condition: EVERYBODY, search, sort: '', after }, world.clock.at, most),
  );
  if (!page.ok) throw new Error('refused');
  return page.value;
};
let world: World;
let me: string;
beforeEach(async () => {
  world = await makeWorld();
  me = await addAccount(world.ctx, world.workspaceId, {
    email: 'tess@example.org',
    name: 'Tess Nightjar',
    password: 'x',
    role: 'teammate',
  });
});
afterEach(() => world.close());

/** Lets everything due leave and arrive. */
async function deliver(): Promise<string[]> {
  const leaving = await claimDueTexts(world.ctx, 1, 500);
  let ids = 0;
  const stamp = world.ctx.id('run');
  const carrier = {
    free: () => 500,
    close: async () => {},
    submit: async () => ({ kind: 'taken' as const, carrierId: `${stamp}${ids++}` }),
  };
  await storeAnswers(world.ctx, await Promise.all(leaving.map((text) => submitText(carrier, text))), []);
  await storeAnswers(
    world.ctx,
    [],
    Array.from({ length: ids }, (_, i) => ({
      carrierId: `${stamp}${i}`,
      stat: 'DELIVRD' as const,
      err: '000',
      number: '',
      userReference: null,
    })),
  );
  return leaving.map(({ body }) => body);
}
const personOf = (number: string) => personWith(world, number);
const waiting = async () =>
  (
    await world.within((scope) =>
      readBox(scope, { box: 'team', filters: {}, accountId: me, now: world.clock.at }),
    )
  ).rows;

async function broadcast(name: string, body: string): Promise<string> {
  const id = await world.within(async (scope) => {
    const made = await createBroadcast(
      world.ctx,
      scope,
      { program: 'Clear Sky Alerts', name, body },
      { name: me, accountId: me },
    );
    if (!made.ok) throw new Error('refused');
    await sendBroadcast(world.ctx, scope, made.value.id, {}, { name: me, accountId: me });
    return made.value.id;
  });
  await beginDueBroadcasts(world.ctx);
  await prepareBroadcast(world.ctx, world.workspaceId, id);
  await deliver();
  await finishBroadcasts(world.ctx);
  return id;
}

describe('a thread', () => {
  it('waits until it is answered, from the number that was written to, also at night', async () => {
    await world.texts(ANA, 'sky');
    await world.texts(ANA, 'Can I bring a friend?');
    await deliver();
    expect(await waiting()).toMatchObject([{ address: ANA, words: 'Can I bring a friend?', why: 'reply' }]);
    world.clock.at += 11 * HOUR;
    const id = await personOf(ANA);
    expect(await world.within((scope) => answerThread(world.ctx, scope, id, ' Yes, do. ', me))).toMatchObject(
      {
        ok: true,
        value: { messageId: expect.any(String) },
      },
    );
    expect(await waiting()).toEqual([]);
    expect(await deliver()).toEqual(['Yes, do.']);
    const { entries } = (await world.within((scope) => readPersonScreen(scope, id, world.clock.at)))!;
    expect(entries[0]).toMatchObject({
      body: 'Yes, do.',
      sent_by: 'Tess Nightjar',
      state: 'delivered',
      sender: NUMBER,
    });
  });

  it.each([
    ['', /write something/],
    ['x'.repeat(1_601), /too long/],
  ])('refuses an answer of %j', async (body, message) => {
    await world.texts(ANA, 'hello there');
    const id = await personOf(ANA);
    const result = await world.within((scope) => answerThread(world.ctx, scope, id, body, me));
    expect(result.ok ? '' : result.reason.problems[0]!.message).toMatch(message);
  });

  it('takes no answer to somebody who left, or who never wrote nor agreed', async () => {
    await world.texts(ANA, 'sky');
    await world.texts(ANA, 'stop');
    const id = await personOf(ANA);
    expect(await world.within((scope) => answerThread(world.ctx, scope, id, 'Wait!', me))).toMatchObject({
      ok: false,
      reason: { problems: [{ message: expect.stringContaining('opted out') }] },
    });
    const stranger = await world.within((scope) =>
      createPerson(world.ctx, scope, { number: '3035550150' }, me),
    );
    if (!stranger.ok) throw new Error('refused');
    expect(
      await world.within((scope) => answerThread(world.ctx, scope, stranger.value.id, 'Hi', me)),
    ).toMatchObject({
      ok: false,
      reason: { problems: [{ message: expect.stringContaining('never agreed') }] },
    });
    expect(await world.within((scope) => answerThread(world.ctx, scope, 'nobody', 'Hi', me))).toMatchObject({
      reason: { code: 'not-found' },
    });
  });

  it('can be closed without an answer', async () => {
    await world.texts(ANA, 'lovely');
    const id = await personOf(ANA);
    await world.within((scope) => closeThread(world.ctx, scope, id, me));
    expect(await waiting()).toEqual([]);
    expect(await deliver()).toEqual([]);
  });
});

describe('an answer with fields', () => {
  const word = (source: string, personId: string) =>
    world.within((scope) => wordAnswer(world.ctx, scope, personId, { source, senderName: 'Tess' }));
  const HI = 'Hi {$person.first_name :wren:field}, {$sender.first_name :wren:field} here';

  it('is put into the words they get, and never goes as it is stored', async () => {
    const { personId } = (await world.texts(ANA, 'Is there parking?'))!;
    expect(await word(HI, personId)).toMatchObject({ ok: false, reason: { problems: [{ field: 'body' }] } });
    await world.rows(
      `update person set first_name = 'Ana' where workspace_id = :workspace and id = :personId returning id`,
      { personId },
    );
    expect(await word(HI, personId)).toEqual({ ok: true, value: 'Hi Ana, Tess here' });
    expect(await word('Plain \\{words\\}', personId)).toEqual({ ok: true, value: 'Plain {words}' });
    expect(await word('{broken', personId)).toMatchObject({ ok: false });
    expect(await word(HI, 'per_none')).toMatchObject({ ok: false, reason: { code: 'not-found' } });
  });
});

describe('an unclear reply', () => {
  it('stands first, and holds until a human says that they stay', async () => {
    await world.texts('+13035550143', 'when does it start');
    await world.texts(ANA, 'sky');
    await deliver();
    await world.texts(ANA, 'this is spam');
    expect((await waiting())[0]).toMatchObject({ address: ANA, why: 'opt-out' });
    const id = await personOf(ANA);
    await broadcast('One', 'Clear tonight.');
    expect((await world.within((scope) => readPersonScreen(scope, id, world.clock.at)))!.coming).toHaveLength(
      1,
    );
    await world.within((scope) => decideUnclear(world.ctx, scope, id, false, me));
    world.clock.at += 20 * MINUTE;
    expect(await deliver()).toEqual(['Clear tonight.']);
  });

  it('ends every consent, with the final text, when a human says that they leave', async () => {
    await world.texts(ANA, 'sky');
    await deliver();
    await world.texts(ANA, 'this is spam');
    const id = await personOf(ANA);
    await world.within((scope) => decideUnclear(world.ctx, scope, id, true, me));
    expect(await deliver()).toEqual([expect.stringContaining('you are opted out')]);
    await broadcast('Two', 'Clear again.');
    const { entries, person, consents } = (await world.within((scope) =>
      readPersonScreen(scope, id, world.clock.at),
    ))!;
    expect(entries[0]).toMatchObject({ body: 'Clear again.', state: 'blocked' });
    expect(person.stoppedAt).not.toBeNull();
    expect(consents[0]).toMatchObject({
      kind: 'opted-out',
      method: 'by-hand',
      evidence: { recordedBy: me, said: 'this is spam' },
    });
  });
});

describe('a near miss', () => {
  it('is shown, joins nobody by itself, and joins them when a human takes it', async () => {
    await world.texts(ANA, 'ksy');
    expect(await deliver()).toEqual([]);
    expect(await waiting()).toMatchObject([{ near_keyword: 'sky' }]);
    const id = await personOf(ANA);
    await world.within((scope) => acceptNearMiss(world.ctx, scope, id, me));
    expect(await deliver()).toEqual([expect.stringContaining('Clear Sky Alerts')]);
    expect(
      (await world.within((scope) => readPersonScreen(scope, id, world.clock.at)))!.consents,
    ).toMatchObject([{ kind: 'opted-in', method: 'keyword', evidence: { said: 'ksy', rule: 'near-miss' } }]);
  });

  it('is none where there was none', async () => {
    await world.texts(ANA, 'good evening');
    const id = await personOf(ANA);
    expect(await world.within((scope) => acceptNearMiss(world.ctx, scope, id, me))).toMatchObject({
      reason: { code: 'not-found' },
    });
  });
});

describe('the screens', () => {
  it('count what happened', async () => {
    for (let i = 0; i < 3; i++) await world.texts(`+1303555014${i}`, 'sky');
    await deliver();
    const id = await broadcast('Saturn week', 'Saturn is up.');
    world.clock.at += 5 * MINUTE;
    await world.texts('+13035550140', 'we will be there');
    await world.texts('+13035550141', 'STOP');
    await deliver();
    const now = world.clock.at;
    const today = await world.within((scope) => readToday(scope, now, 'America/Denver', 'acc_nobody'));
    expect(today.counts).toMatchObject({
      sent: 7,
      delivered: 7,
      failed: 0,
      replies: 1,
      joined: 3,
      left: 1,
      held: 0,
    });
    expect(today.waiting.team).toBe(1);
    const sends = await world.within((scope) => readSends(scope, '', 10));
    expect(sends).toMatchObject({
      next: null,
      rows: [
        { id, name: 'Saturn week', state: 'finished', result: { delivered: 3, replies: 1, optOuts: 1 } },
      ],
    });
    expect(await world.within((scope) => readBehindBroadcast(scope, id, 'replies'))).toMatchObject([
      { body: 'we will be there' },
    ]);
    expect(await world.within((scope) => readBehindBroadcast(scope, id, 'opt-outs'))).toMatchObject([
      { address: '+13035550141' },
    ]);
    expect(await world.within((scope) => readBehindBroadcast(scope, id, 'state:delivered'))).toHaveLength(3);
    const ribbon = await world.within((scope) => readRibbon(scope, now));
    expect(ribbon.hours.reduce((sum, hour) => sum + hour.left, 0)).toBe(7);
    expect(ribbon.hours.reduce((sum, hour) => sum + hour.came + hour.stopped, 0)).toBe(5);
    const {
      programs: [program],
    } = await world.within((scope) => readPrograms(scope, now));
    expect(program).toMatchObject({
      name: 'Clear Sky Alerts',
      keywords: ['sky'],
      members: 2,
      left: 1,
      joined30: 3,
      left30: 1,
    });
    expect(await world.within((scope) => readProgramScreen(scope, program!.id, now))).toMatchObject({
      counts: { sources: [{ source: 'SKY', joined: 3, left: 1 }] },
    });
    const day = { from: '2026-11-24', to: '2026-11-24' };
    const happened = await world.within(async (scope) => {
      const asked = await readAsked(scope, day, now);
      return asked.ok ? readOverview(scope, asked.value) : null;
    });
    expect(happened?.lines).toMatchObject({ joined: { now: 3 }, left: { now: 1 } });
    expect(await world.within((scope) => readNumbers(scope, now))).toMatchObject([
      { number: NUMBER, sent_7: 7, delivered_7: 7, dropped: false },
    ]);
  });

  it('find people by part of a name, number or e-mail, with the wild cards of SQL as plain characters', async () => {
    const add = (number: string, first_name: string, email: string) =>
      world.within((scope) =>
        createPerson(world.ctx, scope, { number, first_name, last_name: '100%_sure', email }, me),
      );
    await add('3035550101', 'Łucja', 'lucja@example.org');
    await add('3035550102', 'Ana', 'ana@example.org');
    const find = async (search: string) => (await table(search)).rows.map(({ first_name: name }) => name);
    expect([
      await find('łuc'),
      await find('ANA'),
      await find('555-0102'),
      await find('lucja@'),
      await find('0%_s'),
      await find('%'),
      await find('\\'),
      await find('zz'),
    ]).toEqual([['Łucja'], ['Ana'], ['Ana'], ['Łucja'], ['Ana', 'Łucja'], ['Ana', 'Łucja'], [], []]);
    expect(await world.within((scope) => findAnything(scope, 'acc_nobody', 'clear sky'))).toMatchObject([
      { kind: 'program', label: 'Clear Sky Alerts' },
    ]);
  });

  it('page through more people than fit', async () => {
    for (let i = 0; i < 55; i++) await world.texts(`+1720555${String(100 + i).padStart(4, '0')}`, 'hello');
    const first = await table('', '', 50);
    const second = await table('', first.next!, 50);
    expect([first.rows.length, second.rows.length, second.next]).toEqual([50, 5, null]);
    expect(new Set([...first.rows, ...second.rows].map(({ id }) => id)).size).toBe(55);
  });

  it('begin the day at midnight where the workspace is, also when the clocks change', () => {
    expect(startOfDay(NOON, 'America/Denver')).toBe(Date.UTC(2026, 10, 24, 7));
    expect(startOfDay(Date.UTC(2026, 2, 8, 20), 'America/Denver')).toBe(Date.UTC(2026, 2, 8, 7));
    expect(
      startOfDay(Date.UTC(2026, 2, 9, 20), 'America/Denver') -
        startOfDay(Date.UTC(2026, 2, 8, 20), 'America/Denver'),
    ).toBe(DAY - HOUR);
  });
});
