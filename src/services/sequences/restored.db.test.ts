import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR } from '@/core/shared/instant';
import { addField } from '@/services/audience/own-fields';
import { makeHarmless, openInstallation, readHold, release } from '@/services/delivery/installation';
import { workThrough } from '@/services/kit/trouble';
import { ROOMS } from '@/services/rooms';
import { editField, must, personOf } from '@/services/testing/people';
import { line, says, SequenceDesk } from '@/services/testing/sequences';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { DATES_QUEUE } from './dates';
import { moveSequence } from './sequences';

const ME = { name: 'test', accountId: null };
let world: World;
const desk = new SequenceDesk(() => world);
const { publish, settle, pass, bodies, enrolments, passed } = desk;
beforeEach(async () => {
  world = await makeWorld({ program: { promise: null } as never });
  await world.within((scope) => scope.run(`update workspace set weekly_cap = null where id = :workspace`));
  await openInstallation(world.ctx);
});
afterEach(() => world.close());

const MONTH = [
  line('a', { at: 'once' }, says('Hello')),
  line('b', { at: 'after', minutes: 60, from: 'before' }, says('An hour later')),
  line('c', { at: 'day', day: 2, time: '09:40' }, says('Day two')),
  line('d', { at: 'day', day: 9, time: '09:40' }, says('Day nine')),
];
const move = (id: string, verb: 'pause' | 'resume') =>
  world.within((scope) => moveSequence(world.ctx, scope, id, verb, ME));

describe('sequences of a restored copy', () => {
  it('wait for a human; what fell due since the copy is not sent again, what lies ahead is', async () => {
    const id = await publish(MONTH);
    await world.texts(phone(1), 'sky');
    await settle();
    expect(await bodies()).toEqual(['Hello']);
    // The original sent the second and the third meanwhile.
    world.clock.at += 3 * DAY;
    const { due, stopped } = await makeHarmless(world.ctx, ROOMS);
    expect(due).toMatchObject([{ kind: 'lines', id, n: 1 }]);
    expect(stopped).toMatchObject({
      'sequences paused': 1,
      'people in sequences passed over what had fallen due': 1,
    });
    expect(await readHold(world.ctx)).toMatchObject({ because: 'restored' });
    await release(world.ctx);
    await pass(HOUR);
    expect(await bodies()).toEqual(['Hello']);
    expect((await passed()).map(({ line: one, because }) => [one, because])).toEqual([
      ['a', null],
      ['b', 'elsewhere'],
      ['c', 'elsewhere'],
    ]);
    // Made harmless once more, nothing more is behind them.
    expect((await makeHarmless(world.ctx, ROOMS)).stopped['sequences paused']).toBe(0);
    await release(world.ctx);
    must(await move(id, 'resume'));
    await pass(10 * DAY, DAY);
    expect(await bodies()).toEqual(['Hello', 'Day nine']);
    expect(await enrolments()).toMatchObject([{ state: 'ended', ended_why: 'through' }]);
  });

  it('count a message that was held over the night as gone, with what followed from it', async () => {
    // Half past nine in the evening in Denver: the second waits for the morning.
    world.clock.at += 8.5 * HOUR;
    const id = await publish(MONTH);
    await world.texts(phone(1), 'sky');
    await settle();
    await pass(HOUR);
    expect(await enrolments()).toMatchObject([{ state: 'sending', line: 'b' }]);
    world.clock.at += 24 * HOUR;
    expect((await makeHarmless(world.ctx, ROOMS)).stopped).toMatchObject({
      'texts called back': 1,
      'people in sequences passed over what had fallen due': 1,
    });
    await release(world.ctx);
    must(await move(id, 'resume'));
    await pass(12 * DAY, 3 * HOUR);
    expect(await bodies()).toEqual(['Hello', 'Day nine']);
  });

  it('that were paused before stand where they stood, and today begins nobody by a date again', async () => {
    await world.within(async (scope) =>
      must(await addField(world.ctx, scope, { label: 'Born', kind: 'date' }, 'test')),
    );
    const paused = await publish(MONTH);
    await world.texts(phone(1), 'sky');
    await settle();
    must(await move(paused, 'pause'));
    const birthdays = await publish([line('a', { at: 'once' }, says('Many returns'))], {
      begins: [{ on: 'date', field: 'own.born', days: 0, yearly: true, time: '09:00' }],
    });
    world.clock.at += 3 * DAY;
    await makeHarmless(world.ctx, ROOMS);
    await release(world.ctx);
    must(await editField(world, await personOf(world, phone(1)), 'own.born', '1990-11-27'));
    must(await move(birthdays, 'resume'));
    expect(await workThrough(world.ctx, DATES_QUEUE)).toBe(0);
    must(await move(paused, 'resume'));
    await pass(HOUR);
    // It had been paused in the original too: what it holds has gone to nobody.
    expect(await bodies()).toEqual(['Hello', 'An hour later', 'Day two']);
  });
});
