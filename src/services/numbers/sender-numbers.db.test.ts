import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { SenderNumberRow } from '@/db/numbers/entities';
import { broadcastTo, round, Scripted } from '@/services/testing/sending';
import { must } from '@/services/testing/people';
import { makeWorld, NUMBER, phone, type World } from '@/services/testing/world';
import { changeNumber, enterNumber, releaseNumber } from './sender-numbers';
import type { SenderNumberInput } from './inputs';

const OTHER = '+17195550111';
let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const enter = (more: Partial<SenderNumberInput> = {}) =>
  world.within((scope) =>
    enterNumber(
      world.ctx,
      scope,
      { number: OTHER, kind: 'local', registration: 'registered', programs: ['Clear Sky Alerts'], ...more },
      'test',
    ),
  );
const read = (number: string) => world.within((scope) => scope.em.findOneOrFail(SenderNumberRow, { number }));
const release = async (number: string) => {
  const { id } = await read(number);
  return world.within((scope) => releaseNumber(world.ctx, scope, id, 'test'));
};
const from = async (): Promise<string[]> => {
  const carrier = new Scripted();
  await round(world, carrier);
  return carrier.parts.map((part) => part.from);
};

describe('a sender number', () => {
  it('is entered as people write it, with what is usual for its kind', async () => {
    expect(must(await enter({ number: '(719) 555-0111' }))).toMatchObject({
      number: OTHER,
      partsPerSecond: 1,
    });
    expect(must(await enter({ number: '555-01', kind: 'short-code' }))).toMatchObject({
      ...{ number: '55501', partsPerSecond: 30 },
    });
  });

  it.each<[string, Partial<SenderNumberInput>, string]>([
    ['one that is here', { number: NUMBER }, 'number'],
    ['no number', { number: 'nonsense' }, 'number'],
    ['a short code of three digits', { number: '123', kind: 'short-code' }, 'number'],
    ['a program that is not here', { programs: ['Nowhere'] }, 'programs'],
  ])('is refused: %s', async (_, more, field) =>
    expect(await enter(more)).toMatchObject({ ok: false, reason: { problems: [{ field }] } }),
  );

  it('of another workspace is refused, and not told whose it is', async () => {
    const other = await world.another();
    await world.within(
      (scope) =>
        enterNumber(world.ctx, scope, { number: OTHER, kind: 'local', registration: 'registered' }, 'test'),
      other.id,
    );
    expect(await enter()).toMatchObject({ ok: false, reason: { code: 'conflict' } });
  });

  it('sends nothing while it is not registered', async () => {
    const { id } = await read(NUMBER);
    must(
      await world.within((scope) => changeNumber(world.ctx, scope, id, { registration: 'question' }, 'test')),
    );
    await world.texts(phone(0), 'sky');
    expect(await from()).toEqual([]);
  });

  it('given back sends nothing: what waits and whoever knew it goes to another; a STOP to it is heard', async () => {
    await world.texts(phone(0), 'sky');
    expect(await from()).toEqual([NUMBER]);
    must(await enter());
    await broadcastTo(world, 0);
    must(await release(NUMBER));
    expect(await from()).toEqual([OTHER]);
    // It carries one part a second.
    world.clock.at += 2_000;
    await world.texts(phone(0), 'STOP');
    expect(await from()).toEqual([OTHER]);
    expect(
      await world.rows(`select 1 from consent_state where workspace_id = :workspace and state = 'out'`),
    ).toHaveLength(1);
    expect(await release(NUMBER)).toMatchObject({ ok: false, reason: { code: 'not-found' } });
  });

  it('comes back as the one it was', async () => {
    const { id } = await read(NUMBER);
    must(await release(NUMBER));
    expect(must(await enter({ number: NUMBER }))).toMatchObject({ id, releasedAt: null });
    await world.texts(phone(0), 'sky');
    expect(await from()).toEqual([NUMBER]);
  });
});
