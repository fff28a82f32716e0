import { setTimeout as sleep } from 'node:timers/promises';
import pg from 'pg';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { HAPPENING_KINDS, type Happening } from '@/core/happening/kinds';
import { HAPPENED_CHANNEL, writeHappenings, wantHappenings } from '@/db/kit/happenings';
import { acrossWorkspaces } from '@/db/kit/scope';
import { createBatch, runBatchSlice } from '@/services/batches/batches';
import { editPerson } from '@/services/people/edit-person';
import { erasePerson } from '@/services/people/erase-person';
import { findOrMakeLabel, setLabel } from '@/services/people/labels';
import { mergePeople } from '@/services/people/merge-people';
import { addStage } from '@/services/people/stages';
import { broadcastTo, receipt, round, Scripted } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { storeAnswers } from '@/services/delivery/store-answers';
import { follow, followAll, takeStuck, whoIsBehind, type Consumer } from './happenings';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
  vi.spyOn(console, 'error').mockImplementation(() => {});
});
afterEach(async () => {
  vi.restoreAllMocks();
  await world.close();
});

const ME = { name: 'test', accountId: null };

/** A consumer that keeps what it takes in a table, so that what is rolled back was not taken. */
const keeper = (name: string, trouble: (happening: Happening) => void = () => {}): Consumer => ({
  name,
  follows: () => Promise.resolve(HAPPENING_KINDS),
  async take(_, scope, happenings) {
    for (const happening of happenings) {
      trouble(happening);
      await scope.run(
        `insert into taken (workspace_id, consumer, seq, person_id, kind) values (:workspace, :name, :seq, :person, :kind)`,
        { name, seq: happening.seq, person: happening.personId, kind: happening.kind },
      );
    }
  },
});

const rows = <T extends object>(sql: string) =>
  acrossWorkspaces(world.ctx.orm, (crossing) => crossing.rows<T>(sql));

const makeTable = () =>
  acrossWorkspaces(world.ctx.orm, (crossing) =>
    crossing.run(
      `create table taken (nth bigint generated always as identity, workspace_id text, consumer text, seq bigint, person_id text, kind text, unique (consumer, seq))`,
    ),
  );

const person = async (i: number): Promise<string> => {
  await world.texts(phone(i), 'sky');
  const [row] = await rows<{ id: string }>(`select id from person where number = '${phone(i)}'`);
  return row!.id;
};

const told = (id: string) =>
  rows<{ kind: string; subject: string | null; detail: Record<string, unknown> | null }>(
    `select kind, subject, detail from happening where person_id = '${id}' order by seq`,
  );

const label = async (name: string): Promise<string> => {
  const made = await world.within((scope) => findOrMakeLabel(world.ctx, scope, 'tag', name, 'test'));
  if (!made.ok) throw new Error('refused');
  return made.value.id;
};

describe('what happens to people is told', () => {
  it('when they join, write, leave; are tagged, moved, given, changed; merged', async () => {
    const ana = await person(1);
    const bo = await person(2);
    const tag = await label('walker');
    const stage = await world.within((scope) => addStage(world.ctx, scope, 'Guest', 'test'));
    if (!stage.ok) throw new Error('refused');
    await world.within((scope) => setLabel(world.ctx, scope, tag, [ana], true));
    await world.within((scope) => setLabel(world.ctx, scope, tag, [ana], false));
    await world.within((scope) => editPerson(world.ctx, scope, ana, 'stage', stage.value.id, 'test'));
    await world.within((scope) => editPerson(world.ctx, scope, ana, 'first_name', 'Ana', 'test'));
    await world.texts(phone(1), 'Is there parking?');
    await world.texts(phone(1), 'stop');
    expect((await told(ana)).map(({ kind }) => kind)).toEqual([
      ...['person.added', 'reply.received', 'program.joined', 'keyword.heard', 'tag.put', 'tag.taken'],
      ...['stage.changed', 'person.changed', 'reply.received', 'reply.received', 'program.left'],
    ]);
    const before = (await told(bo)).length;
    const merged = await world.within((scope) =>
      mergePeople(world.ctx, scope, ana, bo, { number: 'one' }, ME),
    );
    expect(merged.ok).toBe(true);
    // What moves with somebody did not happen to them; that they were merged did.
    expect((await told(ana)).slice(11)).toMatchObject([{ kind: 'person.merged', subject: bo }]);
    expect(await told(bo)).toHaveLength(before);
  });

  it('to who listens for it as soon as it is committed, once; not what was taken back', async () => {
    const ana = await person(1);
    const [tag, other] = [await label('walker'), await label('caver')];
    const listener = new pg.Client({ connectionString: world.databaseUrl });
    await listener.connect();
    try {
      let heard = 0;
      listener.on('notification', ({ channel }) => void (heard += channel === HAPPENED_CHANNEL ? 1 : 0));
      await listener.query(`listen ${HAPPENED_CHANNEL}`);
      await world.within(async (scope) => {
        for (const id of [tag, other]) await setLabel(world.ctx, scope, id, [ana], true);
      });
      await vi.waitFor(() => expect(heard).toBe(1));
      await world
        .within(async (scope) => {
          await setLabel(world.ctx, scope, tag, [ana], false);
          throw new Error('taken back');
        })
        .catch(() => {});
      await listener.query(`select 1`);
      expect(heard).toBe(1);
    } finally {
      await listener.end();
    }
  });

  it('in bulk by a batch, with the batch that did it', async () => {
    for (let i = 0; i < 5; i++) await person(i);
    const tag = await label('walker');
    const people = (await rows<{ id: string }>(`select id from person`)).map(({ id }) => id);
    const made = await world.within((scope) =>
      createBatch(
        world.ctx,
        scope,
        { name: 'B', action: 'add-label', id: tag, people, grace_seconds: 0 },
        ME,
      ),
    );
    if (!made.ok) throw new Error('refused');
    while (await runBatchSlice(world.ctx));
    const put = await rows(`select detail ->> 'by' as by from happening where kind = 'tag.put'`);
    expect(put).toEqual(people.map(() => ({ by: made.value.id })));
  });

  it('when a message reached them, and when it failed', async () => {
    await world.within((scope) => wantHappenings(scope, 'somebody', ['message.delivered']));
    await broadcastTo(world, 2);
    const carrier = new Scripted([{ kind: 'taken', carrierId: 'a' }]);
    carrier.script.push({ kind: 'refused', reason: 'number-unknown' } as never);
    await round(world, carrier);
    await storeAnswers(world.ctx, [], [receipt(carrier.parts[0]!, 'a')]);
    const kinds = await rows<{ kind: string; detail: object | null }>(
      `select h.kind, h.detail from happening h where h.kind like 'message.%' order by h.seq`,
    );
    expect(kinds).toMatchObject([
      { kind: 'message.failed', detail: { failure: 'number-unknown' } },
      { kind: 'message.delivered', detail: null },
    ]);
  });

  it('no more once they are erased', async () => {
    const ana = await person(1);
    await world.within((scope) => erasePerson(world.ctx, scope, ana, 'test'));
    expect(await told(ana)).toEqual([]);
  });
});

describe('who follows', () => {
  it('sees each happening once and in order per person, though writers race, commit late, and the consumer dies', async () => {
    await makeTable();
    const people = [await person(1), await person(2), await person(3)];
    let takes = 0;
    const consumer = keeper('keeper');
    /** Takes a slice, and every second time dies before it commits. */
    const dying: Consumer = {
      ...consumer,
      async take(ctx, scope, happenings) {
        await consumer.take(ctx, scope, happenings);
        if (++takes % 2 === 0) {
          // The connection dies: what `attempt` would catch is none of the consumer's own faults.
          await scope.rows(`select pg_terminate_backend(pg_backend_pid()) where :workspace is not null`);
        }
      },
    };
    let writing = true;
    const writers = people.flatMap((personId, i) =>
      [0, 1, 2].map(async (lane) => {
        for (let n = 0; n < 12; n++)
          await world.within(async (scope) => {
            // Who writes about somebody holds them; some wait before they write, some before they commit.
            if (n % 3 === lane) await sleep(Math.random() * 15);
            await scope.rows(
              `select 1 from person where workspace_id = :workspace and id = :personId for update`,
              {
                personId,
              },
            );
            await writeHappenings(scope, [
              ...[1, 2].map(() => ({
                ...{ kind: 'person.changed' as const, personId, subject: null, at: new Date(0) },
                detail: { by: `${i}.${lane}`, n },
              })),
            ]);
            await sleep(Math.random() * 15);
          });
      }),
    );
    const follower = (async () => {
      while (writing) await follow(world.ctx, dying).catch(() => 0);
    })();
    await Promise.all(writers);
    writing = false;
    await follower;
    while ((await follow(world.ctx, consumer)) > 0);
    const all = await rows<{ seq: number; person_id: string }>(
      `select seq, person_id from happening order by person_id, seq`,
    );
    // `unique (consumer, seq)` refuses a second time; the order in which they were taken is `nth`.
    const taken = await rows<{ seq: number; person_id: string }>(
      `select seq, person_id from taken order by person_id, nth`,
    );
    expect(taken).toEqual(all);
    expect(all.length).toBeGreaterThan(200);
    expect(takes).toBeGreaterThan(1);
  });

  it('is taken once where somebody acts on what was found before another process came further', async () => {
    await makeTable();
    const consumer = keeper('keeper');
    await person(1);
    const found = (await whoIsBehind(world.ctx, [consumer])).get(consumer)!;
    await person(2);
    while ((await follow(world.ctx, consumer)) > 0);
    const taken = (await rows(`select 1 from taken`)).length;
    await followAll(world.ctx, consumer, found);
    await followAll(world.ctx, consumer);
    expect(await rows(`select 1 from taken`)).toHaveLength(taken);
    expect(await rows(`select 1 from trouble`)).toEqual([]);
    expect(taken).toBeGreaterThan(3);
  });

  it('is not passed by a happening whose transaction commits after a later one', async () => {
    await makeTable();
    const [ana, bo] = [await person(1), await person(2)];
    const consumer = keeper('keeper');
    while ((await follow(world.ctx, consumer)) > 0);
    const before = (await rows(`select 1 from taken`)).length;
    const one = (personId: string) => ({
      ...{ kind: 'person.changed' as const, personId, subject: null, at: new Date(0) },
    });
    await world.within(async (slow) => {
      await writeHappenings(slow, [one(ana)]);
      await world.within((quick) => writeHappenings(quick, [one(bo)]));
      await follow(world.ctx, consumer);
      expect(await rows(`select 1 from taken`)).toHaveLength(before);
    });
    await follow(world.ctx, consumer);
    const seqs = await rows<{ person_id: string }>(
      `select person_id from taken order by nth offset ${before}`,
    );
    expect(seqs.map(({ person_id: id }) => id)).toEqual([ana, bo]);
  });

  it('keeps one that cannot be taken with its problem; what happened to the same person waits behind it, the rest goes on', async () => {
    await makeTable();
    const [ana, bo] = [await person(1), await person(2)];
    let poisoned = true;
    const consumer = keeper('keeper', ({ personId, kind }) => {
      if (poisoned && personId === ana && kind === 'program.joined') throw new Error('poisoned');
    });
    while ((await follow(world.ctx, consumer)) > 0);
    const of = async (id: string) =>
      (await rows<{ kind: string }>(`select kind from taken where person_id = '${id}' order by nth`)).map(
        ({ kind }) => kind,
      );
    expect(await of(ana)).toEqual(['person.added', 'reply.received']);
    expect(await of(bo)).toEqual(['person.added', 'reply.received', 'program.joined', 'keyword.heard']);
    // Later, and in a slice of its own: it still waits.
    await world.texts(phone(1), 'stop');
    while ((await follow(world.ctx, consumer)) > 0);
    expect(await of(ana)).toHaveLength(2);
    const stuck = await rows<{ row_id: string; problem: string }>(
      `select row_id, problem from trouble where queue = 'happening' order by split_part(row_id, ' ', 2)::bigint`,
    );
    expect(stuck).toHaveLength(4);
    expect(stuck[0]!.problem).toContain('poisoned');
    const last = stuck.at(-1)!.row_id;
    expect(await takeStuck(world.ctx, [consumer], world.workspaceId, last)).toBe(false);
    poisoned = false;
    for (const { row_id: id } of stuck)
      expect(await takeStuck(world.ctx, [consumer], world.workspaceId, id)).toBe(true);
    expect(await of(ana)).toEqual([
      ...['person.added', 'reply.received', 'program.joined', 'keyword.heard'],
      ...['reply.received', 'program.left'],
    ]);
    expect(await rows(`select 1 from trouble where queue = 'happening'`)).toEqual([]);
  });

  it('does not see what happened in another workspace', async () => {
    await makeTable();
    const other = await world.another();
    await person(1);
    const consumer = keeper('keeper');
    while ((await follow(world.ctx, consumer)) > 0);
    expect(await rows(`select 1 from taken where workspace_id = '${other.id}'`)).toEqual([]);
  });
});
