import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { HOUR, SECOND } from '@/core/shared/instant';
import { batchRow, batchPeople, outcomeCounts } from '@/db/batches/batches';
import { createBatch, runBatchSlice, stopBatch, undoBatch } from './batches';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { createPerson } from '@/services/people/create-person';
import { addAccount } from '@/services/access/create-workspace';
import { erasePerson } from '@/services/people/erase-person';
import { findOrMakeLabel, setLabel } from '@/services/people/labels';
import type { BatchInput } from './inputs';
import { beginDueBroadcasts, prepareBroadcast } from '@/services/sends/prepare-broadcast';
import { readBatch, readBatches } from './screen';
import { addStage } from '@/services/people/stages';
import { makeWorld, type World } from '@/services/testing/world';

const ME = { name: 'test', accountId: null };
let world: World;
let people: string[];
let tag: string;
beforeEach(async () => {
  world = await makeWorld();
  for (let i = 0; i < 6; i++)
    await world.within((scope) =>
      createPerson(world.ctx, scope, { number: `303555010${i}`, first_name: `Person ${i}` }, 'test'),
    );
  people = await ids(`select id from person where workspace_id = :workspace order by id`);
  tag = await label('walks');
});
afterEach(() => world.close());

const rows = <T extends object>(sql: string, values = {}) =>
  world.within((scope) => scope.rows<T>(sql, values));
const ids = async (sql: string) => (await rows<{ id: string }>(sql)).map(({ id }) => id);
const label = async (name: string): Promise<string> => {
  const made = await world.within((scope) => findOrMakeLabel(world.ctx, scope, 'tag', name, 'test'));
  return made.ok ? made.value.id : '';
};
const order = (more: Partial<BatchInput>): BatchInput => ({
  name: 'B',
  action: 'add-label',
  id: tag,
  people,
  grace_seconds: 0,
  ...more,
});
async function start(more: Partial<BatchInput>): Promise<string> {
  const made = await world.within((scope) => createBatch(world.ctx, scope, order(more), ME));
  if (!made.ok) throw new Error(made.reason.problems[0]!.message);
  return made.value.id;
}
const refused = async (more: Partial<BatchInput>) => {
  const made = await world.within((scope) => createBatch(world.ctx, scope, order(more), ME));
  return made.ok ? null : made.reason.problems[0]!.field;
};
const runAll = async () => {
  while (await runBatchSlice(world.ctx));
};
const read = async (id: string) => (await world.within((scope) => batchRow(scope, id)))!;
const tagged = () =>
  ids(`select person_id as id from person_label where workspace_id = :workspace order by 1`);

describe('a batch', () => {
  it('does nothing within its grace, and can be stopped in it', async () => {
    const id = await start({ grace_seconds: 10 });
    await runAll();
    expect(await tagged()).toEqual([]);
    await world.within((scope) => stopBatch(world.ctx, scope, id, ME));
    world.clock.at += 60 * SECOND;
    await runAll();
    expect(await tagged()).toEqual([]);
    expect((await read(id)).state).toBe('stopped');
  });

  it('tags everybody meant, tells who had it already, and undoes only its own', async () => {
    await world.within((scope) => setLabel(world.ctx, scope, tag, [people[0]!], true));
    const id = await start({});
    await runAll();
    expect(await tagged()).toEqual(people);
    expect(await world.within((scope) => outcomeCounts(scope, id))).toMatchObject({ already: 1, failed: 0 });
    await world.within((scope) => undoBatch(world.ctx, scope, id, ME));
    await runAll();
    expect(await tagged()).toEqual([people[0]]);
    expect((await read(id)).state).toBe('undone');
  });

  it('puts a tag back as it was: what had put it there, and since when', async () => {
    const first = await start({});
    await runAll();
    const before = await rows(
      `select * from person_label where workspace_id = :workspace order by person_id`,
    );
    world.clock.at += HOUR;
    const second = await start({ action: 'take-label' });
    await runAll();
    expect(await tagged()).toEqual([]);
    world.clock.at += HOUR;
    await world.within((scope) => undoBatch(world.ctx, scope, second, ME));
    await runAll();
    expect(
      await rows(`select * from person_label where workspace_id = :workspace order by person_id`),
    ).toEqual(before);
    // So that the batch which had put it there can still be undone.
    await world.within((scope) => undoBatch(world.ctx, scope, first, ME));
    await runAll();
    expect(await tagged()).toEqual([]);
    expect((await read(first)).kept).toBe(0);
  });

  it('takes a tag off, and puts it back only on who had it', async () => {
    await world.within((scope) => setLabel(world.ctx, scope, tag, people.slice(0, 2), true));
    const id = await start({ action: 'take-label' });
    await runAll();
    expect(await tagged()).toEqual([]);
    await world.within((scope) => undoBatch(world.ctx, scope, id, ME));
    await runAll();
    expect(await tagged()).toEqual(people.slice(0, 2));
  });

  it('moves stages, and leaves those alone that were moved on since when it is undone', async () => {
    const stage = async (name: string) => {
      const made = await world.within((scope) => addStage(world.ctx, scope, name, 'test'));
      return made.ok ? made.value.id : '';
    };
    const [one, other] = [await stage('Curious'), await stage('Regular')];
    const id = await start({ action: 'stage', id: one });
    await runAll();
    await rows(
      `update person set stage_id = :other where workspace_id = :workspace and id = :id returning 1`,
      { other, id: people[3]! },
    );
    await world.within((scope) => undoBatch(world.ctx, scope, id, ME));
    await runAll();
    expect(
      await rows(`select id, stage_id from person where workspace_id = :workspace and stage_id is not null`),
    ).toEqual([{ id: people[3], stage_id: other }]);
    expect((await read(id)).kept).toBe(1);
  });

  it('gives people to a teammate, never to a counter helper', async () => {
    const account = (role: 'teammate' | 'counter') =>
      addAccount(world.ctx, world.workspaceId, {
        email: `${role}@example.org`,
        name: role,
        password: 'x',
        role,
      });
    const tess = await account('teammate');
    expect(await refused({ action: 'owner', id: await account('counter') })).toBe('id');
    await start({ action: 'owner', id: tess });
    await runAll();
    expect(
      await rows(
        `select count(*)::int as n from person where workspace_id = :workspace and owner_id = :tess`,
        { tess },
      ),
    ).toEqual([{ n: 6 }]);
  });

  it('goes at its pace', async () => {
    const id = await start({ pace_count: 2, pace_seconds: 3_600 });
    await runAll();
    expect(await tagged()).toHaveLength(2);
    world.clock.at += HOUR - SECOND;
    await runAll();
    expect(await tagged()).toHaveLength(2);
    world.clock.at += SECOND;
    await runAll();
    expect(await tagged()).toHaveLength(4);
    expect(await world.within((scope) => batchPeople(scope, id, 'waiting', 4, 10))).toHaveLength(2);
    await world.within((scope) => stopBatch(world.ctx, scope, id, ME));
    world.clock.at += 9 * HOUR;
    await runAll();
    expect(await tagged()).toHaveLength(4);
    await world.within((scope) => undoBatch(world.ctx, scope, id, ME));
    await runAll();
    expect(await tagged()).toEqual([]);
  });

  it('means who met the condition when it was started, not who meets it later', async () => {
    await start({
      people: undefined as never,
      condition: JSON.stringify({
        all: [{ ask: 'field', field: 'first_name', test: 'contains', value: 'person' }],
      }),
      search: '0101',
      grace_seconds: 60,
    });
    await world.within((scope) =>
      createPerson(world.ctx, scope, { number: '7205550101', first_name: 'Person late' }, 'test'),
    );
    world.clock.at += 61 * SECOND;
    await runAll();
    expect(await tagged()).toEqual([people[1]]);
  });

  it('opts out of one program, calls back what waits, and cannot be undone', async () => {
    await world.texts('+13035550101', 'sky');
    await world.texts('+13035550102', 'sky');
    const [program] = await ids(`select id from program where workspace_id = :workspace`);
    const id = await start({ action: 'opt-out', id: program! });
    await runAll();
    expect(await rows(`select state from consent_state where workspace_id = :workspace`)).toEqual(
      // Of texts and of voicemails.
      Array.from({ length: 12 }, () => ({ state: 'out' })),
    );
    expect(await rows(`select state from message where workspace_id = :workspace`)).toEqual([
      { state: 'cancelled' },
      { state: 'cancelled' },
    ]);
    expect(await world.within((scope) => undoBatch(world.ctx, scope, id, ME))).toMatchObject({
      ok: false,
      reason: { code: 'conflict' },
    });
  });

  it('deletes only when the count is typed, keeps the opt-out, and nobody comes back by hand', async () => {
    await world.texts('+13035550101', 'sky');
    await world.texts('+13035550101', 'STOP');
    expect(await refused({ action: 'delete', confirm_count: 5 })).toBe('confirm_count');
    await start({ action: 'delete', confirm_count: 6 });
    await runAll();
    const left = await rows<{ number: string; first_name: null; erased_at: Date }>(
      `select number, first_name, erased_at from person where workspace_id = :workspace`,
    );
    expect(
      left.every(({ number, first_name, erased_at }) => number === null && first_name === null && erased_at),
    ).toBe(true);
    expect(
      await rows(`select body from inbound_text where workspace_id = :workspace and body <> ''`),
    ).toEqual([]);
    expect(await rows(`select kind, evidence from consent_event where workspace_id = :workspace`)).toEqual([
      { kind: 'opted-out', evidence: {} },
    ]);
    const back = await world.within((scope) =>
      createPerson(world.ctx, scope, { number: '3035550101' }, 'test'),
    );
    expect(back).toMatchObject({ ok: false, reason: { code: 'conflict', problems: [{ field: 'number' }] } });
    // Only their own act brings them back, as somebody new.
    await world.texts('+13035550101', 'sky');
    expect(
      await rows(
        `select c.state from consent_state c join person p on p.id = c.person_id where p.workspace_id = :workspace and p.erased_at is null`,
      ),
    ).toEqual([{ state: 'in' }]);
  });

  it('tells who is gone since, and does the others', async () => {
    const id = await start({ grace_seconds: 60 });
    await world.within((scope) => erasePerson(world.ctx, scope, people[2]!, 'test'));
    world.clock.at += 61 * SECOND;
    await runAll();
    expect(await world.within((scope) => outcomeCounts(scope, id))).toMatchObject({
      failed: 1,
      reasons: [{ reason: 'merged or erased since', n: 1 }],
    });
    expect(await tagged()).toHaveLength(5);
    expect(await world.within((scope) => readBatch(scope, id, 'failed'))).toMatchObject({
      people: [{ person_id: people[2] }],
      words: 'puts on “walks”',
    });
  });

  it('goes on where it was when the process dies in a slice', async () => {
    const id = await start({ pace_count: 2, pace_seconds: 1 });
    await runBatchSlice(world.ctx);
    world.clock.at += 2 * SECOND;
    // Killed after the work, before the commit: nothing of this slice stays.
    let asked = 0;
    const dying = {
      ...world.ctx,
      now: () => {
        if (asked++ > 0) throw new Error('killed');
        return world.clock.at;
      },
    };
    await runBatchSlice(dying).catch(() => {});
    const between = (await tagged()).length;
    expect([2, 4]).toContain(between);
    for (let i = 0; i < 4; i++) {
      world.clock.at += 2 * SECOND;
      await runAll();
    }
    expect(await tagged()).toEqual(people);
    expect(await read(id)).toMatchObject({ state: 'finished', cursor: 6, failed: 0 });
  });

  it('two workers do each slice once', async () => {
    const id = await start({});
    await Promise.all([runAll(), runAll(), runAll()]);
    expect(await read(id)).toMatchObject({ state: 'finished', cursor: 6 });
    expect(await tagged()).toEqual(people);
  });

  it.each<[string, Partial<BatchInput>, string]>([
    ['nobody', { people: [] }, 'people'],
    ['people of another workspace', { people: ['per_elsewhere'] }, 'people'],
    ['a tag that is gone', { id: 'lab_gone' }, 'id'],
    ['no tag', { id: undefined as never }, 'id'],
    ['a stage that is none', { action: 'stage', id: 'stg_x' }, 'id'],
    ['a program that is none', { action: 'opt-out', id: 'prg_x' }, 'id'],
    ['half a pace', { pace_count: 3 }, 'pace_count'],
    ['a time that is past', { at: '2020-01-01T00:00:00Z' }, 'at'],
    ['a condition that cannot be read', { people: undefined as never, condition: '{' }, 'condition'],
  ])('is refused for %s, and leaves nothing', async (_, more, field) =>
    expect(await refused(more)).toBe(field),
  );

  it('to write to keeps exactly these, and a broadcast to them reaches only those who may be reached', async () => {
    await world.texts('+13035550101', 'sky');
    const id = await start({ action: 'keep', people: people.slice(0, 3) });
    const made = await world.within((scope) =>
      createBroadcast(
        world.ctx,
        scope,
        {
          program: 'Clear Sky Alerts',
          name: 'To three',
          body: 'Clear tonight.',
          audience: JSON.stringify({ ask: 'batch', id, has: true }),
        },
        ME,
      ),
    );
    if (!made.ok) throw new Error('refused');
    await world.within((scope) => sendBroadcast(world.ctx, scope, made.value.id, {}, ME));
    await beginDueBroadcasts(world.ctx);
    await prepareBroadcast(world.ctx, world.workspaceId, made.value.id);
    const texts = await rows<{ person_id: string; state: string }>(
      `select person_id, state from message where workspace_id = :workspace and send_id = :id order by person_id`,
      { id: made.value.id },
    );
    expect(texts).toEqual(
      people.slice(0, 3).map((person, i) => ({ person_id: person, state: i === 1 ? 'queued' : 'blocked' })),
    );
    expect(
      await rows(`select count(*)::int as n from broadcast_person where workspace_id = :workspace`),
    ).toEqual([{ n: 3 }]);
  });

  it('stands in the log with who, what and how many', async () => {
    await start({ name: 'First' });
    await start({ name: 'Second', action: 'take-label' });
    await runAll();
    const log = await world.within((scope) => readBatches(scope, ''));
    expect(log.rows.map(({ name, words, state, total }) => [name, words, state, total])).toEqual([
      ['Second', 'takes off “walks”', 'finished', 6],
      ['First', 'puts on “walks”', 'finished', 6],
    ]);
    expect(await world.within((scope) => readBatches(scope, ''), 'another')).toEqual({
      rows: [],
      next: null,
    });
  });
});
