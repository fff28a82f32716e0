import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { Program } from '@/db/programs/entities';
import { broadcastTo, round, Scripted } from '@/services/testing/sending';
import { must } from '@/services/testing/people';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { changeProgram } from './change-program';
import { createProgram } from './create-program';
import type { ChangeProgramInput } from './inputs';

let world: World;
beforeEach(async () => {
  world = await makeWorld({ program: { promise: { count: 1, period: 'month' } } });
});
afterEach(() => world.close());

const read = (name = 'Clear Sky Alerts') =>
  world.within((scope) => scope.em.findOneOrFail(Program, { name }));
const change = async (more: Partial<ChangeProgramInput>, name?: string) => {
  const { id, stamp } = await read(name);
  return world.within((scope) =>
    changeProgram(world.ctx, scope, id, { stamp, ...more } as ChangeProgramInput, 'test'),
  );
};
const four = { promise: { count: 4, period: 'month' as const } };

/** To whom a broadcast left. */
async function sent(people: number, body: string): Promise<string[]> {
  const carrier = new Scripted();
  await broadcastTo(world, people, body);
  await round(world, carrier);
  return carrier.parts.map(({ to }) => to).sort();
}

describe('a program that is changed', () => {
  it('says what it says now, and writes down what it said', async () => {
    must(
      await change({
        ...{ name: 'Clear Sky News', welcome: 'Glad you came.', double_opt_in: true },
        hours: { days: [1, 2], from: '10:00', to: '18:00' },
      }),
    );
    expect(await read('Clear Sky News')).toMatchObject({
      ...{ welcome: 'Glad you came.', doubleOptIn: true, stamp: 1 },
      ...{ ownHours: { days: [1, 2], from: '10:00', to: '18:00' }, promiseCount: 1 },
    });
    const [entry] = await world.rows<{ detail: object }>(
      `select detail from audit_entry where workspace_id = :workspace and action = 'program.changed'`,
    );
    expect(entry!.detail).toMatchObject({ name: { from: 'Clear Sky Alerts', to: 'Clear Sky News' } });
    must(await change({ hours: null }, 'Clear Sky News'));
    expect((await read('Clear Sky News')).ownHours).toBeNull();
  });

  it('is not written over by somebody who did not see the last change', async () => {
    const { id } = await read();
    const at = (stamp: number, welcome: string) =>
      world.within((scope) => changeProgram(world.ctx, scope, id, { stamp, welcome }, 'test'));
    const both = await Promise.all([at(0, 'One'), at(0, 'Other')]);
    expect(both.filter(({ ok }) => ok)).toHaveLength(1);
    expect(both.find(({ ok }) => !ok)).toMatchObject({ reason: { problems: [{ field: 'stamp' }] } });
  });

  it.each<[string, Partial<ChangeProgramInput>, string]>([
    ['a name that is taken', { name: 'walks' }, 'name'],
    ['hours that end before they begin', { hours: { days: [1], from: '18:00', to: '09:00' } }, 'hours'],
    ['a number that is not here', { sender_numbers: ['+17195550199'] }, 'sender_numbers'],
  ])('refuses %s', async (_, more, field) => {
    must(
      await world.within((scope) =>
        createProgram(world.ctx, scope, { name: 'Walks', purpose: 'utility' }, 'test'),
      ),
    );
    expect(await change(more)).toMatchObject({ ok: false, reason: { problems: [{ field }] } });
    expect((await read()).stamp).toBe(0);
  });
});

describe('what was promised', () => {
  it('asks what becomes of those who agreed to less, and keeps it for them', async () => {
    await world.texts(phone(0), 'sky');
    expect(await change(four)).toMatchObject({ ok: false, reason: { problems: [{ field: 'members' }] } });
    world.clock.at += 60_000;
    must(await change({ ...four, members: 'keep' }));
    world.clock.at += 60_000;
    await world.texts(phone(1), 'sky');
    expect(await sent(0, 'First.')).toEqual(expect.arrayContaining([phone(0), phone(1)]));
    expect(await sent(0, 'Second.')).toEqual([phone(1)]);
  });

  it('holds for all where they were told, and a lower one without asking', async () => {
    await world.texts(phone(0), 'sky');
    must(await change({ ...four, members: 'all' }));
    await sent(0, 'First.');
    expect(await sent(0, 'Second.')).toEqual([phone(0)]);
    must(await change({ promise: { count: 2, period: 'month' } }));
    expect(await sent(0, 'Third.')).toEqual([]);
  });

  it('is raised without a question where nobody is in it', async () => {
    must(await change(four));
    must(await change({ promise: null }));
    expect(await read()).toMatchObject({ promiseCount: null });
  });

  it('does not reach further over the heads of those who are in it', async () => {
    must(await change({ purpose: 'utility' }));
    await world.texts(phone(0), 'sky');
    expect(await change({ purpose: 'marketing' })).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'purpose' }] },
    });
    must(await change({ purpose: 'inquiry' }));
  });
});

describe('an archived program', () => {
  it('lets nobody join and sends nothing, and comes back', async () => {
    await world.texts(phone(0), 'sky');
    await round(world, new Scripted());
    must(await change({ archived: true }));
    expect(await sent(0, 'Closed.')).toEqual([]);
    await world.texts(phone(1), 'sky');
    const members = () =>
      world.rows(`select 1 from consent_state where workspace_id = :workspace and state = 'in'`);
    expect(await members()).toHaveLength(1);
    must(await change({ archived: false }));
    await world.texts(phone(2), 'sky');
    expect(await members()).toHaveLength(2);
  });
});
