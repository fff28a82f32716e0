import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, MINUTE, toIso } from '@/core/shared/instant';
import { must } from '@/services/testing/people';
import { broadcastTo, round, Scripted, sent } from '@/services/testing/sending';
import { makeWorld, NOON, type World } from '@/services/testing/world';
import {
  actOnBroadcast,
  callBackBroadcast,
  createBroadcast,
  sendBroadcast,
  updateBroadcast,
} from './broadcasts';
import type { CreateBroadcastInput } from './inputs';
import { pauseBroadcast, resumeBroadcast, stopBroadcast } from './move-broadcast';

const ME = { name: 'test', accountId: null };
let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const DRAFT = { program: 'Clear Sky Alerts', name: ' Tonight ', body: 'Clear tonight.' };
const create = (more: Partial<CreateBroadcastInput> = {}) =>
  world.within((scope) => createBroadcast(world.ctx, scope, { ...DRAFT, ...more }, ME));
const send = (id: string, at?: string) =>
  world.within((scope) => sendBroadcast(world.ctx, scope, id, at ? { at } : {}, ME));
const act = (id: string, verb: typeof pauseBroadcast) =>
  world.within((scope) => actOnBroadcast(world.ctx, scope, id, verb, ME));

describe('a draft', () => {
  it('is changed until it is scheduled, and again once it was called back', async () => {
    const { id, name } = must(await create());
    expect(name).toBe('Tonight');
    const update = () =>
      world.within((scope) => updateBroadcast(world.ctx, scope, id, { ...DRAFT, name: 'Later' }));
    expect((await update()).ok).toBe(true);
    must(await send(id, toIso(NOON + DAY)));
    expect(await update()).toMatchObject({ ok: false, reason: { code: 'conflict' } });
    must(await act(id, callBackBroadcast));
    expect((await update()).ok).toBe(true);
  });

  it.each<[string, Partial<CreateBroadcastInput>, string]>([
    ['no such program', { program: 'Nothing' }, 'program'],
    ['a subject on a text', { subject: 'Tonight' }, 'subject'],
    ['a field that no person has', { body: 'Hi {$person.shoe :wren:field}' }, 'body'],
    [
      'an audience nobody can be asked for',
      { audience: '{"ask":"field","field":"own.x","test":"empty"}' },
      'condition',
    ],
  ])('is refused with %s', async (_, more, field) => {
    const made = await create(more);
    expect(made.ok ? 'taken' : made.reason.problems[0]!.field.split('.')[0]).toBe(field);
  });

  it.each([
    ['an hour ago', NOON - 61 * MINUTE, false],
    ['in two years', NOON + 731 * DAY, false],
    ['tomorrow', NOON + DAY, true],
  ])('is scheduled for %s: %s', async (_, at, taken) =>
    expect((await send(must(await create()).id, toIso(at))).ok).toBe(taken),
  );
});

describe('a broadcast on its way', () => {
  const states = async () => (await sent(world)).map(({ state }) => state);

  it('waits while it is paused, goes on when resumed, and what has not left is called back when stopped', async () => {
    const id = await broadcastTo(world, 2);
    must(await act(id, pauseBroadcast));
    expect(await round(world, new Scripted())).toBe(0);
    must(await act(id, resumeBroadcast));
    expect(await round(world, new Scripted(), 1)).toBe(1);
    must(await act(id, stopBroadcast));
    expect((await states()).sort()).toEqual(['cancelled', 'submitted']);
    expect(await act(id, resumeBroadcast)).toMatchObject({ ok: false, reason: { code: 'conflict' } });
  });

  it('of somebody else is not there', async () => {
    const id = await broadcastTo(world, 1);
    const { id: other } = await world.another();
    const verb = await world.within(
      (scope) => actOnBroadcast(world.ctx, scope, id, stopBroadcast, ME),
      other,
    );
    expect(verb).toMatchObject({ ok: false, reason: { code: 'not-found' } });
  });
});
