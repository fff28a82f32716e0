import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { Workspace } from '@/db/access/entities';
import { HOUR } from '@/core/shared/instant';
import { broadcastTo, round, Scripted } from '@/services/testing/sending';
import { must } from '@/services/testing/people';
import { makeWorld, NOON, phone, type World } from '@/services/testing/world';
import { addCredits, changeRule, changeWorkspace, dropRule } from './change-workspace';
import type { RuleInput, WorkspaceInput } from './inputs';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const read = () =>
  world.within((scope) => scope.em.findOneOrFail(Workspace, { id: scope.workspaceId }, { refresh: true }));
const change = async (more: Partial<WorkspaceInput>) => {
  const { stamp } = await read();
  return world.within((scope) => changeWorkspace(world.ctx, scope, { stamp, ...more }, 'test'));
};
const rule = (more: Partial<RuleInput>) =>
  world.within((scope) =>
    changeRule(
      world.ctx,
      scope,
      {
        ...{ where: 'everywhere', source: 'our counsel' },
        ...{ windows: [{ days: [1, 2, 3, 4, 5, 6, 7], from: '10:00', to: '14:00' }] },
        ...more,
      },
      'test',
    ),
  );

describe('a workspace that is changed', () => {
  it('is called so in the next text', async () => {
    must(await change({ business: 'Gap Dome', contact: 'hello@example.org', weekly_cap: null }));
    await world.texts(phone(0), 'help');
    const carrier = new Scripted();
    await round(world, carrier);
    expect(carrier.parts[0]!.body).toContain('Gap Dome');
    expect(carrier.parts[0]!.body).toContain('hello@example.org');
    expect(await read()).toMatchObject({ stamp: 1, weeklyCap: null });
    const [entry] = await world.rows<{ detail: object }>(
      `select detail from audit_entry where workspace_id = :workspace and action = 'workspace.changed'`,
    );
    expect(entry!.detail).toMatchObject({ contact: { to: 'hello@example.org' } });
  });

  it('is not written over by somebody who did not see the last change', async () => {
    const both = await Promise.all(
      ['One', 'Other'].map((business) =>
        world.within((scope) => changeWorkspace(world.ctx, scope, { stamp: 0, business }, 'test')),
      ),
    );
    expect(both.filter(({ ok }) => ok)).toHaveLength(1);
  });

  it.each<[string, Partial<WorkspaceInput>, string]>([
    ['a zone that is none', { zone: 'Denver' }, 'zone'],
    ['a country that is none', { country: 'XX' }, 'country'],
  ])('refuses %s', async (_, more, field) => {
    expect(await change(more)).toMatchObject({ ok: false, reason: { problems: [{ field }] } });
    expect((await read()).stamp).toBe(0);
  });

  it('has the credits that are written down, each in the ledger, and never less than none', async () => {
    const before = (await read()).creditBalance;
    const add = (credits: number) =>
      world.within((scope) => addCredits(world.ctx, scope, { credits, reason: 'bought' }, 'test'));
    must(await add(500));
    must(await add(-200));
    expect((await read()).creditBalance).toBe(before + 300);
    expect(await add(-before - 301)).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'credits' }] },
    });
    const [{ sum }] = (await world.rows<{ sum: number }>(
      `select sum(delta)::int as sum from credit_entry where workspace_id = :workspace`,
    )) as [{ sum: number }];
    expect(sum).toBe(before + 300);
  });
});

describe('a rule of hours of one’s own', () => {
  it('holds at the next text, is dated, and goes back to what ships', async () => {
    world.clock.at = NOON + 3 * HOUR;
    must(await rule({}));
    const carrier = new Scripted();
    await broadcastTo(world, 1);
    await round(world, carrier);
    expect(carrier.parts).toEqual([]);
    expect((await read()).rules?.federal).toMatchObject({ date: '2026-11-24', source: 'our counsel' });
    must(await world.within((scope) => dropRule(world.ctx, scope, 'everywhere', 'test')));
    expect((await read()).rules).toBeNull();
  });

  it.each<[string, Partial<RuleInput>, string]>([
    ['a place that is none', { where: 'XX' }, 'where'],
    ['a name that an object has by itself', { where: 'constructor' }, 'where'],
    ['hours that end before they begin', { windows: [{ days: [1], from: '14:00', to: '10:00' }] }, 'windows'],
  ])('is refused for %s', async (_, more, field) =>
    expect(await rule(more)).toMatchObject({ ok: false, reason: { problems: [{ field }] } }),
  );
});
