import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { displayNumber } from '@/core/phone/number';
import { addAccount } from '@/services/access/create-workspace';
import { changeSegment, createSegment } from '@/services/audience/segments';
import { createTemplate } from '@/services/templates/templates';
import { must } from '@/services/testing/people';
import { broadcastTo } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { findAnything } from './find';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());
const run = (sql: string) => world.within((scope) => scope.run(sql));
const find = (typed: string, viewer = 'acc_nobody') =>
  world.within((scope) => findAnything(scope, viewer, typed));

describe('what is found by typing', () => {
  it('people by name or digits, and the rest by name; what means something to SQL is only text', async () => {
    await broadcastTo(world, 2);
    await run(
      `update person set first_name = 'Ana', last_name = '100%_sure' where workspace_id = :workspace and number = '${phone(0)}'`,
    );
    expect((await find('ana')).map(({ label }) => label)).toEqual(['Ana 100%_sure']);
    expect((await find('0%_s')).map(({ kind }) => kind)).toEqual(['person']);
    expect(await find('%_%_')).toEqual([]);
    expect(await find("'); drop table person; --")).toEqual([]);
    expect((await find('555-0101')).map(({ label }) => label)).toEqual([displayNumber(phone(1))]);
    expect((await find('clear')).map(({ kind, label }) => [kind, label])).toEqual([
      ['program', 'Clear Sky Alerts'],
    ]);
    expect((await find('B')).map(({ kind }) => kind)).toContain('broadcast');
  });

  it('each with the way to its page, a sender number by what it ends on', async () => {
    const [keyword] = await world.rows<{ id: string; word: string }>(
      `select id, word from keyword where workspace_id = :workspace limit 1`,
    );
    expect(await find(keyword!.word.toLowerCase())).toContainEqual({
      ...{ kind: 'keyword', label: keyword!.word, href: `/programs/keywords/${keyword!.id}` },
    });
    const [sender] = await world.rows<{ id: string; number: string }>(
      `select id, number from sender_number where workspace_id = :workspace limit 1`,
    );
    expect(await find(sender!.number.slice(-7))).toContainEqual({
      ...{ kind: 'sender number', label: displayNumber(sender!.number), href: `/numbers/${sender!.id}` },
    });
    await run(`update sender_number set released_at = now() where workspace_id = :workspace`);
    expect((await find(sender!.number.slice(-7))).map(({ kind }) => kind)).not.toContain('sender number');
  });

  it('nothing that is a teammate’s own, unless it is shared', async () => {
    const account = async (name: string) => {
      const email = `${name}@example.org`;
      const id = await addAccount(world.ctx, world.workspaceId, {
        ...{ email, name, password: 'x', role: 'manager' as const },
      });
      return { name, accountId: id };
    };
    const [me, other, third] = [await account('a'), await account('b'), await account('c')];
    const condition = JSON.stringify({ all: [{ ask: 'field', field: 'first_name', test: 'empty' }] });
    const segment = await world.within(async (scope) =>
      must(await createSegment(world.ctx, scope, { name: 'Nebula people', condition }, me)),
    );
    const template = await world.within(async (scope) =>
      must(await createTemplate(world.ctx, scope, { name: 'Nebula text', body: 'Hi', own: true }, me)),
    );
    const seen = async (viewer: string) => (await find('nebula', viewer)).map(({ href }) => href);
    expect(await seen(me.accountId)).toEqual([
      `/people?segment=${segment.id}`,
      `/sends/templates/${template.id}`,
    ]);
    expect(await seen(other.accountId)).toEqual([]);
    await world.within((scope) =>
      changeSegment(
        ...([world.ctx, scope, segment.id] as const),
        { verb: 'share', shared: 'some', accounts: [other.accountId] },
        me,
      ),
    );
    expect(await seen(other.accountId)).toEqual([`/people?segment=${segment.id}`]);
    expect(await seen(third.accountId)).toEqual([]);
  });
});
