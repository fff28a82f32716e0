import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { readBehindBroadcast, readSend } from '@/services/sends/screen';
import { erasePerson } from '@/services/people/erase-person';
import {
  addReader,
  MailDoors,
  mailBroadcast,
  mailConsent,
  makeMailWorld,
  tokenOf,
} from '@/services/testing/mail';
import { type World } from '@/services/testing/world';
import { leaveByToken, readLeavePage, stayByToken } from './leave';

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
const consent = (person: string) => mailConsent(world, person);

describe('leaving', () => {
  it('by one click ends the program by e-mail and what waits; opening the page does not; it can be taken back', async () => {
    const ana = await add('ana1@example.org');
    const id = await broadcast();
    await doors.round();
    const token = tokenOf(doors.letter('ana1@example.org'));
    expect(await readLeavePage(world.ctx, token)).toMatchObject({ program: 'Clear Sky Alerts', state: 'in' });
    expect(await consent(ana)).toBe('in');
    const waiting = await broadcast({ body: 'Later.' });
    expect(await leaveByToken(world.ctx, token, 'one-click', false)).toEqual({ ok: true, value: null });
    expect(await consent(ana)).toBe('out');
    expect(await doors.round()).toEqual([]);
    expect((await world.within((scope) => readSend(scope, id, world.clock.at)))!.result).toMatchObject({
      optOuts: 1,
    });
    expect(await world.within((scope) => readBehindBroadcast(scope, id, 'opt-outs'))).toMatchObject([
      { person_id: ana },
    ]);
    expect((await world.within((scope) => readSend(scope, waiting, world.clock.at)))!.result).toMatchObject({
      cancelled: 1,
    });
    await stayByToken(world.ctx, token);
    expect(await consent(ana)).toBe('in');
    expect(await leaveByToken(world.ctx, 'nosuchtoken', 'page', true)).toMatchObject({ ok: false });
  });

  it('by a letter to the address for it, and by a complaint, which blocks the address', async () => {
    const [bo, cy] = [await add('bo1@example.org'), await add('cy1@example.org')];
    await broadcast();
    await doors.round();
    const leave = /mailto:([^>]+)>/.exec(doors.letter('bo1@example.org').headers['list-unsubscribe']!)![1]!;
    await doors.send({ to: leave, from: 'bo1@example.org', subject: 'unsubscribe', text: '' });
    expect(await consent(bo)).toBe('out');
    expect(await doors.boxes.act(doors.letter('cy1@example.org'), 'complain', '')).toBeNull();
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
    await doors.round();
    await leaveByToken(world.ctx, tokenOf(doors.letter('home@example.org')), 'page', true);
    expect([await consent(ana), await consent(other)]).toEqual(['out', 'out']);
  });
});

describe('erasing', () => {
  it('of somebody erased nothing is left, and their letter no longer opens', async () => {
    const ana = await add('ana7@example.org');
    await broadcast();
    await doors.round();
    const token = tokenOf(doors.letter('ana7@example.org'));
    await world.within((scope) => erasePerson(world.ctx, scope, ana, 'test'));
    expect(await rows(`select 1 from mail where workspace_id = :workspace`)).toEqual([]);
    expect(await readLeavePage(world.ctx, token)).toBeNull();
  });
});
