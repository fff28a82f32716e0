import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { type Condition } from '@/core/audience/condition';
import { parseCondition } from '@/core/audience/parse';
import { createBroadcast } from '@/services/sends/broadcasts';
import { addAccount } from '@/services/access/create-workspace';
import {
  changeSegment,
  copySegment,
  createSegment,
  deleteSegment,
  saveSegment,
  visibleSegments,
} from './segments';
import { must } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';

const API = { name: 'test', accountId: null };
let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const rows: World['rows'] = (sql, values) => world.rows(sql, values);

describe('segments', () => {
  const cut = JSON.stringify({ all: [{ ask: 'field', field: 'first_name', test: 'is', value: 'Ana' }] });
  const accounts = async () => {
    const one = await addAccount(world.ctx, world.workspaceId, {
      email: 'a@example.org',
      name: 'A',
      password: 'x',
      role: 'manager',
    });
    const two = await addAccount(world.ctx, world.workspaceId, {
      email: 'b@example.org',
      name: 'B',
      password: 'x',
      role: 'manager',
    });
    return [
      { name: one, accountId: one },
      { name: two, accountId: two },
    ] as const;
  };
  const make = (name: string, actor: { name: string; accountId: string | null }, condition = cut) =>
    world.within(async (scope) => must(await createSegment(world.ctx, scope, { name, condition }, actor)));
  const names = (accountId: string) =>
    world.within(async (scope) => (await visibleSegments(scope, accountId)).map(({ name }) => name));

  it('are one’s own until they are shared, with some or all; pinned ones stand first, the others in their order', async () => {
    const [me, other] = await accounts();
    const first = await make('First', me);
    const second = await make('Second', me);
    expect(await names(other.accountId)).toEqual([]);
    const change = (id: string, verb: Parameters<typeof changeSegment>[3], actor = me) =>
      world.within((scope) => changeSegment(world.ctx, scope, id, verb, actor));
    must(
      await change(first.id, { verb: 'share', shared: 'some', accounts: [other.accountId, 'acc_elsewhere'] }),
    );
    must(await change(second.id, { verb: 'share', shared: 'all', accounts: [] }));
    expect(await names(other.accountId)).toEqual(['First', 'Second']);
    expect(await change(first.id, { verb: 'share', shared: 'all', accounts: [] }, other)).toMatchObject({
      ok: false,
    });
    must(await change(second.id, { verb: 'move', up: true }));
    expect(await names(me.accountId)).toEqual(['Second', 'First']);
    must(await change(first.id, { verb: 'pin', on: true }));
    expect(await names(me.accountId)).toEqual(['First', 'Second']);
    must(await change(first.id, { verb: 'rename', name: 'Primero' }));
    expect(await change(first.id, { verb: 'rename', name: 'SECOND' })).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'name' }] },
    });
    const copy = must(await world.within((scope) => copySegment(world.ctx, scope, first.id, other)));
    expect([copy.name, copy.ownerId, copy.shared]).toEqual(['Copy of Primero', other.accountId, 'me']);
    must(await change(first.id, { verb: 'share', shared: 'me', accounts: [] }));
    expect(await names(other.accountId)).toEqual(['Second', 'Copy of Primero']);
  });

  it('saved by two at once: the second is told, and loses nothing', async () => {
    const [me] = await accounts();
    const segment = await make('Shared', me);
    const save = (name: string) =>
      world.within((scope) =>
        saveSegment(world.ctx, scope, segment.id, { name, condition: cut, version: 1 }, me),
      );
    expect((await save('Mine')).ok).toBe(true);
    expect(await save('Yours')).toMatchObject({
      ok: false,
      reason: { code: 'conflict', problems: [{ field: 'version' }] },
    });
    expect(await names(me.accountId)).toEqual(['Mine']);
  });

  it('cannot be part of themselves, however far round', async () => {
    const [me] = await accounts();
    const one = await make('One', me);
    const two = await make('Two', me, JSON.stringify({ ask: 'segment', id: one.id, has: true }));
    const save = await world.within((scope) =>
      saveSegment(
        world.ctx,
        scope,
        one.id,
        {
          name: 'One',
          condition: JSON.stringify({ none: [{ ask: 'segment', id: two.id, has: true }] }),
          version: 1,
        },
        me,
      ),
    );
    expect(save).toMatchObject({ ok: false, reason: { problems: [{ field: 'condition' }] } });
  });

  it('are not deleted while something rests on them: which is said', async () => {
    const [me] = await accounts();
    const one = await make('One', me);
    const two = await make('Two', me, JSON.stringify({ ask: 'segment', id: one.id, has: true }));
    const uses = JSON.stringify({ ask: 'segment', id: two.id, has: true });
    must(
      await world.within((scope) =>
        createBroadcast(
          world.ctx,
          scope,
          { program: 'Clear Sky Alerts', name: 'Saturn week', body: 'x', audience: uses },
          me,
        ),
      ),
    );
    const remove = (id: string) => world.within((scope) => deleteSegment(world.ctx, scope, id, me));
    expect(await remove(one.id)).toMatchObject({
      ok: false,
      reason: { problems: [{ message: expect.stringContaining('“Two”') as string }] },
    });
    expect(await remove(two.id)).toMatchObject({
      ok: false,
      reason: { problems: [{ message: expect.stringContaining('“Saturn week”') as string }] },
    });
    await rows(`update broadcast set state = 'finished' where workspace_id = :workspace returning 1`);
    expect((await remove(two.id)).ok).toBe(true);
    expect((await remove(one.id)).ok).toBe(true);
  });

  it.each<[string, string, string]>([
    ['', cut, 'name'],
    ['x'.repeat(81), cut, 'name'],
    ['Fine', '{"all":[{"ask":"tag","id":"lab_gone","has":true}]}', 'condition'],
    ['Fine', '{"all":[{"ask":"nothing"}]}', 'condition.all.0'],
    ['Fine', 'not json', 'condition'],
  ])('are refused with the field: %s %s', async (name, condition, field) => {
    expect(
      await world.within((scope) => createSegment(world.ctx, scope, { name, condition }, API)),
    ).toMatchObject({ ok: false, reason: { problems: [{ field }] } });
  });

  it('are stored as the JSON they were given, and read again', async () => {
    const [me] = await accounts();
    const segment = await make('One', me);
    expect(parseCondition(segment.condition)).toEqual({ ok: true, value: JSON.parse(cut) as Condition });
  });
});
