import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import type { Condition } from '@/core/audience/condition';
import { HOUR, toIso } from '@/core/shared/instant';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { findOrMakeLabel, setLabel } from '@/services/people/labels';
import { readPersonScreen } from '@/services/people/screen';
import { makeWorld, type World } from '@/services/testing/world';

const ANA = '+13035550142';
const ME = { name: 'test', accountId: null };
let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const personOf = async (number: string): Promise<string> =>
  (
    await world.within((scope) =>
      scope.rows<{ id: string }>(
        `select id from person where workspace_id = :workspace and number = :number`,
        {
          number,
        },
      ),
    )
  )[0]!.id;

const schedule = (name: string, hours: number, condition?: Condition): Promise<string> =>
  world.within(async (scope) => {
    const made = await createBroadcast(
      world.ctx,
      scope,
      {
        ...{ program: 'Clear Sky Alerts', name, body: 'Clear tonight.' },
        ...(condition ? { audience: JSON.stringify(condition) } : {}),
      },
      ME,
    );
    if (!made.ok) throw new Error(made.reason.problems[0]!.message);
    const at = toIso(world.clock.at + hours * HOUR);
    const sent = await sendBroadcast(world.ctx, scope, made.value.id, { at }, ME);
    if (!sent.ok) throw new Error(sent.reason.problems[0]!.message);
    return made.value.id;
  });

const planned = async (number: string) =>
  (await world.within(async (scope) => readPersonScreen(scope, await personOf(number), world.clock.at)))!
    .planned;

describe('what is scheduled for somebody', () => {
  it('is each broadcast of a program they are in, the next one first', async () => {
    await world.texts(ANA, 'sky');
    await schedule('Later', 48);
    const soon = await schedule('Soon', 24);
    const found = await planned(ANA);
    expect(found.map(({ name }) => name)).toEqual(['Soon', 'Later']);
    expect(found[0]).toMatchObject({ id: soon, at: new Date(world.clock.at + 24 * HOUR) });
  });

  it('is not what is meant for others, and follows the cut as they come into it', async () => {
    await world.texts(ANA, 'sky');
    const tag = await world.within(async (scope) => {
      const made = await findOrMakeLabel(world.ctx, scope, 'tag', 'member', 'test');
      return made.ok ? made.value.id : '';
    });
    await schedule('Members', 24, { ask: 'tag', id: tag, has: true });
    expect(await planned(ANA)).toEqual([]);
    const id = await personOf(ANA);
    await world.within((scope) => setLabel(world.ctx, scope, tag, [id], true));
    expect((await planned(ANA)).map(({ name }) => name)).toEqual(['Members']);
  });

  it('is nothing once they opted out, nor for a stranger', async () => {
    await world.texts(ANA, 'sky');
    await world.texts('+13035550143', 'when does it start');
    await schedule('Soon', 24);
    expect(await planned('+13035550143')).toEqual([]);
    await world.texts(ANA, 'STOP');
    expect(await planned(ANA)).toEqual([]);
  });
});
