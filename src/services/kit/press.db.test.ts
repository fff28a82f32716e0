import { afterEach, beforeEach, expect, it } from 'vitest';
import { answerThread } from '@/services/inbox/answer-thread';
import { addAccount } from '@/services/access/create-workspace';
import { countPress, forgetPresses, rememberAnswer } from './press';
import { makeWorld, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

it('four presses at the same moment send one answer', async () => {
  const me = await addAccount(world.ctx, world.workspaceId, {
    ...{ email: 't@example.org', name: 'Tess Nightjar', password: 'x', role: 'teammate' },
  });
  await world.texts('+13035550142', 'Is it open?');
  const [person] = await world.within((scope) =>
    scope.rows<{ id: string }>(`select id from person where workspace_id = :workspace`),
  );
  const press = (token: string) =>
    world.within(async (scope) => {
      if (!(await countPress(world.ctx, scope, token)).first) return 'again';
      const sent = await answerThread(world.ctx, scope, person!.id, 'Yes, it is.', me);
      await rememberAnswer(scope, token, sent);
      return 'first';
    });
  const pressed = await Promise.all(Array.from({ length: 4 }, () => press('t1')));
  expect(pressed.sort()).toEqual(['again', 'again', 'again', 'first']);
  expect(await press('t2')).toBe('first');
  const sent = await world.within((scope) =>
    scope.rows(`select 1 from message where workspace_id = :workspace and kind = 'answer'`),
  );
  expect(sent).toHaveLength(2);
});

it('a press that was refused counts for nothing; an old one is forgotten', async () => {
  await expect(
    world.within(async (scope) => {
      await countPress(world.ctx, scope, 't');
      throw new Error('refused');
    }),
  ).rejects.toThrow();
  const first = () => world.within(async (scope) => (await countPress(world.ctx, scope, 't')).first);
  expect([await first(), await first()]).toEqual([true, false]);
  expect(
    await world.within((scope) => countPress(world.ctx, scope, 't'), (await world.another()).id),
  ).toEqual({ first: true });
  world.clock.at += 3 * 86_400_000;
  await forgetPresses(world.ctx);
  expect(await first()).toBe(true);
});
