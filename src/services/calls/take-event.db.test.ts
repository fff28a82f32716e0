import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import { CallEvent, Call } from '@/db/calls/entities';
import { callsUpon, callsWith, toCall } from '@/db/calls/calls';
import { Message } from '@/db/delivery/entities';
import { Person } from '@/db/people/entities';
import { erasePerson } from '@/services/people/erase-person';
import { Sequence } from '@/db/sequences/entities';
import { recordCall, changeCall } from './by-hand';
import { createOutcome } from './outcomes';
import { connectSwitchboard, mapSwitchboard } from './switchboards';
import type { CallOutcomeInput } from './inputs';
import { readAsked } from '@/services/results/asked';
import { readWorks } from '@/services/results/works';
import { must } from '@/services/testing/people';
import { VoiceDesk } from '@/services/testing/voicemail';
import { makeWorld, phone, type World } from '@/services/testing/world';

const ME = { name: 'test', accountId: null };
const MAPPING = {
  ...{
    id: '/call/uuid',
    state: '/event',
    direction: '/call/direction',
    from: '/call/caller',
    to: '/call/called',
  },
  ...{
    teammate: '/agent/name',
    rang: '/call/started_at',
    answered: '/call/answered_at',
    ended: '/call/ended_at',
  },
  ...{ at: '/time', outcome: '/disposition', note: '/note' },
};

let world: World;
let ours: string;
const desk = new VoiceDesk(() => world);
beforeAll(() => desk.open());
afterAll(() => desk.close());
beforeEach(async () => {
  world = await makeWorld();
  desk.anew();
  const [row] = await world.rows<{ number: string }>(
    `select number from sender_number where workspace_id = :workspace and voice order by id limit 1`,
  );
  ours = row!.number;
});
afterEach(async () => {
  await desk.quiet();
  await world.close();
});

/** A telephone system whose events are understood. */
async function board(signs: 'none' | 'standard' = 'standard') {
  const made = must(
    await world.within((scope) => connectSwitchboard(world.ctx, scope, { name: 'House', signs }, ME)),
  );
  must(await world.within((scope) => mapSwitchboard(world.ctx, scope, made.id, { mapping: MAPPING }, ME)));
  desk.board.set({ to: `${desk.back}/calls/${made.doorKey}`, secret: signs === 'none' ? '' : made.secret });
  return made;
}

const outcome = (input: Partial<CallOutcomeInput> & { name: string }) =>
  world.within(async (scope) => must(await createOutcome(world.ctx, scope, input, ME)));

const calls = () =>
  world.within((scope) => scope.em.find(Call, {}, { orderBy: { id: 'asc' }, refresh: true }));
const texts = () =>
  world.within((scope) =>
    scope.em.find(Message, { channel: 'sms' }, { orderBy: { createdAt: 'asc', id: 'asc' }, refresh: true }),
  );

/** So many events came in. */
const came = (n: number) =>
  desk.until(async () => ((await world.within((scope) => scope.em.count(CallEvent, {}))) >= n ? true : null));

describe('a call', () => {
  it('is put together from its events, in whatever order and however often they come', async () => {
    await board();
    desk.board.moods = { twice_share: 0.5, disorder_share: 0.5, late_ms: 0 };
    const { id } = desk.board.ring(phone(1), ours, 'inbound');
    desk.board.act(id, 'answer', { agent: 'Ada' });
    desk.board.act(id, 'hang-up', {});
    desk.board.act(id, 'tag', { outcome: 'Wants to come', note: 'in March' });
    await came(4);
    await desk.until(async () => {
      await desk.followCalls();
      const [call] = await calls();
      return call?.answeredAt && call.endedAt && call.outcomeId ? call : null;
    });
    const all = await calls();
    expect(all).toHaveLength(1);
    expect(all[0]).toMatchObject({ direction: 'in', address: phone(1), teammate: 'Ada', note: 'in March' });
    expect(all[0]!.senderId).not.toBeNull();
    // Who calls is somebody from then on.
    const person = await world.within((scope) => scope.em.findOne(Person, { number: phone(1) }));
    const [row] = await world.within((scope) => callsWith(scope, person!.id, 10));
    expect(row).toMatchObject({ outcome: 'Wants to come', number: ours });
  });

  it('back upon a voicemail within a week is known as that, and after it no more', async () => {
    await desk.connect();
    await board();
    await desk.member(1);
    const sendId = await desk.drop(await desk.record());
    await desk.round();
    await desk.settled();
    world.clock.at += HOUR;
    desk.board.act(desk.board.ring(phone(1), ours, 'inbound').id, 'miss', {});
    await came(2);
    await desk.followCalls();
    world.clock.at += 7 * DAY;
    desk.board.act(desk.board.ring(phone(1), ours, 'inbound').id, 'miss', {});
    await came(4);
    await desk.followCalls();
    expect((await calls()).map(({ afterSendId }) => afterSendId)).toEqual([sendId, null]);
    const due = await world.within((scope) =>
      toCall(scope, {
        accountId: 'x',
        at: new Date(world.clock.at),
        since: new Date(world.clock.at - 30 * DAY),
        most: 9,
      }),
    );
    expect(due).toMatchObject([{ why: 'called-back', calls: 2, number: ours, address: phone(1) }]);
    // Called back by us, they wait no more.
    const person = due[0]!.person_id;
    await outcome({ name: 'Spoke', reached: true });
    must(await world.within((scope) => recordCall(world.ctx, scope, { person, outcome: 'spoke' }, ME)));
    const after = await world.within((scope) =>
      toCall(scope, { accountId: 'x', at: new Date(world.clock.at), since: new Date(0), most: 9 }),
    );
    expect(after).toEqual([]);
  });

  it('back at once, before it is told that the voicemail was left, is known as that too', async () => {
    await desk.connect();
    await board();
    await desk.member(1);
    const sendId = await desk.drop(await desk.record());
    await desk.round();
    await desk.settled();
    // What tells that it was left came a minute after the call.
    await world.rows(
      `update message set settled_at = settled_at + interval '1 minute', submitted_at = submitted_at - interval '1 minute' where workspace_id = :workspace and send_id = :sendId returning id`,
      { sendId },
    );
    desk.board.act(desk.board.ring(phone(1), ours, 'inbound').id, 'miss', {});
    await came(2);
    await desk.followCalls();
    expect((await calls()).map(({ afterSendId }) => afterSendId)).toEqual([sendId]);
    const upon = await world.within((scope) => callsUpon(scope, sendId));
    expect(upon).toMatchObject({ called: 1, median: 0 });
    const works = must(
      await world.within(async (scope) =>
        readWorks(
          scope,
          must(await readAsked(scope, { from: '2026-11-24', to: '2026-11-24' }, world.clock.at)),
          'voicemail',
          'called',
        ),
      ),
    );
    expect(works.rows).toMatchObject([{ key: sendId, rate: { count: 1, of: 1 } }]);
    // One that was not left after all brought no call back.
    await world.rows(
      `update message set state = 'failed', failure = 'box-full' where workspace_id = :workspace and send_id = :sendId returning id`,
      { sendId },
    );
    expect(await world.within((scope) => callsUpon(scope, sendId))).toMatchObject({ called: 0 });
  });

  it('whose outcome comes before it waits for who called', async () => {
    const { doorKey } = await board('none');
    const say = (body: object) =>
      fetch(`${desk.back}/calls/${doorKey}`, { method: 'POST', body: JSON.stringify(body) });
    const time = new Date(world.clock.at).toISOString();
    await say({ event: 'call.tagged', time, call: { uuid: 'c1' }, disposition: 'Left a voicemail' });
    await desk.followCalls();
    expect(await calls()).toEqual([]);
    await say({
      event: 'call.ringing',
      time,
      call: { uuid: 'c1', direction: 'outbound', caller: ours, called: phone(3) },
    });
    await desk.followCalls();
    await desk.followCalls();
    const [call] = await calls();
    expect(call).toMatchObject({ direction: 'out', address: phone(3) });
    expect(call!.outcomeId).not.toBeNull();
  });

  it('of somebody who is erased is forgotten, with what was told of their number however it was written', async () => {
    const { doorKey } = await board('none');
    const time = new Date(world.clock.at).toISOString();
    for (const [uuid, caller] of [
      ['c1', '(303) 555-0101'],
      ['c2', '303.555.0102'],
    ])
      await fetch(`${desk.back}/calls/${doorKey}`, {
        method: 'POST',
        body: JSON.stringify({
          ...{ event: 'call.missed', time },
          call: { uuid, direction: 'inbound', caller, called: ours, ended_at: time },
        }),
      });
    await desk.followCalls();
    const person = await world.within((scope) => scope.em.findOneOrFail(Person, { number: phone(1) }));
    expect((await world.within((scope) => erasePerson(world.ctx, scope, person.id, 'test'))).ok).toBe(true);
    expect((await calls()).map(({ address }) => address)).toEqual([phone(2)]);
    expect(await world.within((scope) => scope.em.count(CallEvent, {}))).toBe(1);
  });

  it.each([
    ['no JSON', 'hello', 422],
    ['a list of nothing', '[]', 422],
    ['JSON ten thousand deep', '['.repeat(10_000) + ']'.repeat(10_000), 422],
  ])('told as %s is refused', async (_, body, status) => {
    const { doorKey } = await board('none');
    const response = await fetch(`${desk.back}/calls/${doorKey}`, { method: 'POST', body });
    expect(response.status).toBe(status);
  });

  it('told under a wrong signature, or to nobody, is refused', async () => {
    const { doorKey } = await board('standard');
    const post = (key: string) =>
      fetch(`${desk.back}/calls/${key}`, { method: 'POST', body: '{"event":"x"}' }).then(
        ({ status }) => status,
      );
    expect(await post(doorKey)).toBe(401);
    expect(await post('0'.repeat(30))).toBe(404);
  });

  it('to a number of another workspace shows nothing of that workspace', async () => {
    const { doorKey } = await board('none');
    const other = await makeWorld();
    await other.close();
    const time = new Date(world.clock.at).toISOString();
    await fetch(`${desk.back}/calls/${doorKey}`, {
      method: 'POST',
      body: JSON.stringify({
        ...{ event: 'call.missed', time },
        call: { uuid: 'c9', direction: 'inbound', caller: phone(5), called: '+17195550199', ended_at: time },
      }),
    });
    await desk.followCalls();
    const [call] = await calls();
    expect(call).toMatchObject({ senderId: null, address: phone(5) });
  });
});

describe('what an outcome says', () => {
  const TRIED =
    'Hi {$person.first_name :wren:field fallback=there}, we just tried to call you about your visit. Reply STOP to end.';

  it('goes from the number that called, to who agreed, once within the hour', async () => {
    await board();
    await desk.member(1, { texts: true });
    await outcome({ name: 'No answer', program: 'Clear Sky Alerts', body: TRIED });
    for (let i = 0; i < 2; i += 1) {
      const { id } = desk.board.ring(ours, phone(1), 'outbound', 'Ada');
      desk.board.act(id, 'hang-up', {});
      desk.board.act(id, 'tag', { outcome: 'no answer' });
      await came(3 * (i + 1));
      await desk.followCalls();
      await desk.followCalls();
      world.clock.at += 10 * MINUTE;
    }
    const sent = await texts();
    expect(sent).toHaveLength(1);
    const [number] = await world.rows<{ number: string }>(
      `select s.number from message m join sender_number s on s.id = m.sender_id where m.workspace_id = :workspace and m.channel = 'sms'`,
    );
    expect(number!.number).toBe(ours);
    expect(sent[0]).toMatchObject({ kind: 'call-text' });
    expect(sent[0]!.body).toContain('Hi Ada1, we just tried');
    const [row] = await world.rows<{ because: string }>(
      `select because from call_text where workspace_id = :workspace and because is not null`,
    );
    expect(row!.because).toContain('within the hour');
  });

  it('goes to nobody where the number is none of ours, and says so', async () => {
    await board();
    await desk.member(1, { texts: true });
    await outcome({ name: 'No answer', program: 'Clear Sky Alerts', body: TRIED });
    const { id } = desk.board.ring('+17195550199', phone(1), 'outbound');
    desk.board.act(id, 'tag', { outcome: 'No answer' });
    await came(2);
    await desk.followCalls();
    await desk.followCalls();
    expect(await texts()).toEqual([]);
    const [row] = await world.rows<{ because: string }>(
      `select because from call_text where workspace_id = :workspace`,
    );
    expect(row!.because).toContain('none of your numbers');
  });

  it('answers a call nobody picked up, whatever they agreed to', async () => {
    await board();
    await outcome({ name: 'Nobody picked up', missed: true, program: 'Clear Sky Alerts', body: TRIED });
    desk.board.act(desk.board.ring(phone(2), ours, 'inbound').id, 'miss', {});
    await came(2);
    await desk.followCalls();
    await desk.followCalls();
    expect(await texts()).toEqual([]);
    world.clock.at += MINUTE;
    await desk.followCalls();
    expect(await texts()).toMatchObject([{ kind: 'call-answer', address: phone(2) }]);
  });

  it('says nothing of a call that was picked up, though its end was told first', async () => {
    const { doorKey } = await board('none');
    await outcome({ name: 'Nobody picked up', missed: true, program: 'Clear Sky Alerts', body: TRIED });
    const time = new Date(world.clock.at).toISOString();
    const call = { uuid: 'c7', direction: 'inbound', caller: phone(2), called: ours };
    const say = async (body: object) => {
      await fetch(`${desk.back}/calls/${doorKey}`, { method: 'POST', body: JSON.stringify(body) });
      await desk.followCalls();
      await desk.followCalls();
    };
    await say({ event: 'call.hangup', time, call: { ...call, ended_at: time } });
    expect((await calls())[0]!.outcomeId).not.toBeNull();
    await say({ event: 'call.answered', time, call, agent: { name: 'Ada' } });
    world.clock.at += MINUTE;
    await desk.followCalls();
    expect(await texts()).toEqual([]);
    // It was not missed: what it came to is open again.
    expect((await calls())[0]).toMatchObject({ teammate: 'Ada', outcomeId: null, outcomeAt: null });
  });

  it('does not promise to call back who was called back before it left, nor who waited for hours', async () => {
    await board();
    await outcome({ name: 'Nobody picked up', missed: true, program: 'Clear Sky Alerts', body: TRIED });
    await outcome({ name: 'Spoke', reached: true });
    for (const i of [1, 2]) desk.board.act(desk.board.ring(phone(i), ours, 'inbound').id, 'miss', {});
    await came(4);
    await desk.followCalls();
    await desk.followCalls();
    const quick = (await world.within((scope) => scope.em.findOne(Person, { number: phone(1) })))!.id;
    must(
      await world.within((scope) => recordCall(world.ctx, scope, { person: quick, outcome: 'Spoke' }, ME)),
    );
    world.clock.at += MINUTE;
    await world.poison('message', `new.address = '${phone(2)}'`);
    await desk.followCalls();
    expect(await texts()).toEqual([]);
    await world.cure('message');
    world.clock.at += 3 * HOUR;
    await desk.followCalls();
    expect(await texts()).toEqual([]);
    const because = await world.rows<{ because: string }>(
      `select because from call_text where workspace_id = :workspace order by because`,
    );
    expect(because.map((row) => row.because)).toEqual([
      'It was too late to say something.',
      'They were called back, or spoken to, before it left.',
    ]);
  });

  it('is not said hours later', async () => {
    await board();
    await desk.member(1, { texts: true });
    await outcome({ name: 'Nobody picked up', missed: true, program: 'Clear Sky Alerts', body: TRIED });
    const { id } = desk.board.ring(phone(1), ours, 'inbound');
    desk.board.act(id, 'miss', {});
    await came(2);
    world.clock.at += 3 * HOUR;
    await desk.followCalls();
    expect(await texts()).toEqual([]);
  });

  it('changed by a teammate is said once for each outcome', async () => {
    await desk.member(1, { texts: true });
    const person = (await world.within((scope) => scope.em.findOne(Person, { number: phone(1) })))!.id;
    await outcome({ name: 'No answer', program: 'Clear Sky Alerts', body: TRIED });
    await outcome({ name: 'Spoke', reached: true });
    const call = must(
      await world.within((scope) => recordCall(world.ctx, scope, { person, outcome: 'No answer' }, ME)),
    );
    await desk.followCalls();
    for (const name of ['Spoke', 'No answer'])
      must(await world.within((scope) => changeCall(world.ctx, scope, call.id, { outcome: name }, ME)));
    await desk.followCalls();
    expect(await texts()).toHaveLength(1);
    expect(await world.within((scope) => scope.em.count(Sequence, {}))).toBe(0);
  });
});
