import { afterEach, beforeEach, expect, it } from 'vitest';
import { DAY, HOUR } from '@/core/shared/instant';
import { addField } from '@/services/audience/own-fields';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { tellDatesReached } from './dates';
import { editPerson } from './edit-person';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const told = () =>
  world.within((scope) =>
    scope.rows<{ number: string; years: number; value: string }>(
      `select p.number, (h.detail ->> 'years')::int as years, h.detail ->> 'value' as value from happening h join person p on p.id = h.person_id
        where h.workspace_id = :workspace and h.kind = 'date.reached' order by h.seq`,
    ),
  );

async function born(i: number, day: string, to?: string, workspaceId?: string): Promise<void> {
  await world.texts(phone(i), 'sky', to);
  await world.within(async (scope) => {
    const [row] = await scope.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace and number = :number`,
      { number: phone(i) },
    );
    const edited = await editPerson(world.ctx, scope, row!.id, 'own.birthday', day, 'test');
    if (!edited.ok) throw new Error(JSON.stringify(edited.reason));
  }, workspaceId);
}

it('tells each date once on its day, in the workspace’s zone, with the years', async () => {
  // Noon on 24 November in Denver.
  const field = await world.within((scope) =>
    addField(world.ctx, scope, { label: 'Birthday', kind: 'date' }, 'test'),
  );
  expect(field.ok).toBe(true);
  await born(1, '1990-11-24');
  await born(2, '1985-11-25');
  await born(3, '2030-11-24');
  await tellDatesReached(world.ctx);
  await tellDatesReached(world.ctx);
  expect(await told()).toEqual([{ number: phone(1), years: 36, value: '1990-11-24' }]);
  // Eleven at night there: still the same day, though the next one in Greenwich.
  world.clock.at += 11 * HOUR;
  await tellDatesReached(world.ctx);
  expect(await told()).toHaveLength(1);
  world.clock.at += 2 * HOUR;
  await tellDatesReached(world.ctx);
  expect((await told()).slice(1)).toEqual([{ number: phone(2), years: 41, value: '1985-11-25' }]);
});

it('tells those of another workspace where the first cannot be told', async () => {
  const other = await world.another();
  for (const id of [world.workspaceId, other.id])
    await world.within(
      (scope) => addField(world.ctx, scope, { label: 'Birthday', kind: 'date' }, 'test'),
      id,
    );
  await born(1, '1990-11-24');
  await born(2, '1980-11-24', '+17195550120', other.id);
  await world.poison('happening', `new.workspace_id = '${world.workspaceId}'`);
  expect(await tellDatesReached(world.ctx)).toBe(1);
  await world.cure('happening');
  expect(await tellDatesReached(world.ctx)).toBe(1);
  expect(await told()).toEqual([{ number: phone(1), years: 36, value: '1990-11-24' }]);
});

it('makes up for days nobody was there, but not for what is long over', async () => {
  await world.within((scope) => addField(world.ctx, scope, { label: 'Birthday', kind: 'date' }, 'test'));
  await born(1, '1990-11-26');
  await born(2, '1990-12-20');
  await tellDatesReached(world.ctx);
  world.clock.at += 3 * DAY;
  await tellDatesReached(world.ctx);
  expect((await told()).map(({ number }) => number)).toEqual([phone(1)]);
  world.clock.at += 60 * DAY;
  await tellDatesReached(world.ctx);
  expect(await told()).toHaveLength(1);
});
