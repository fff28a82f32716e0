import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { HOUR, MINUTE } from '@/core/shared/instant';
import { MOST_UNFOLDED } from '@/core/audience/plan';
import type { QueueName } from '@/core/work/queues';
import { noLookup } from '@/gateways/lookup';
import { Lanes } from '@/worker/lanes';
import { readAudience } from './audience/audience';
import { createBatch, runBatchSlice, stopBatch, undoBatch } from './batches/batches';
import { createBroadcast, sendBroadcast } from './sends/broadcasts';
import { addAccount } from './access/create-workspace';
import { createKeyword } from './programs/create-program';
import { searchDuplicates, startSearch } from './people/duplicates';
import { advanceImports, importQueue } from './imports/engine';
import { createImport, checkImport, runImport, stopImport, undoImport } from './imports/imports';
import type { ImportInput } from './imports/inputs';
import { pauseBroadcast } from './sends/move-broadcast';
import { beginDueBroadcasts, finishBroadcasts, prepareDueBroadcasts } from './sends/prepare-broadcast';
import { RECEIPT_QUEUE } from './delivery/queues';
import { forgetSettledTroubles, giveUp, readTroubles, tryAgain } from './stuck';
import { reportClearance } from './clearance/report-clearance';
import { createSegment } from './audience/segments';
import { addStage, removeStage } from './people/stages';
import { storeAnswers, storeEach } from './delivery/store-answers';
import { claimDueTexts } from './delivery/send-due-texts';
import { broadcastTo, receipt, round, Scripted, sent } from './testing/sending';
import { makeWorld, phone, type World } from './testing/world';
import { workThrough } from './kit/trouble';

const ME = { name: 'acc_test', accountId: null };
let world: World;
let other: { id: string };
beforeEach(async () => {
  world = await makeWorld();
  other = await world.another();
  vi.spyOn(console, 'error').mockImplementation(() => {});
});
afterEach(async () => {
  vi.restoreAllMocks();
  await world.close();
});

const rows = <T extends object>(sql: string, workspaceId = world.workspaceId) =>
  world.within((scope) => scope.rows<T>(sql), workspaceId);
const value = <T>(result: { ok: true; value: T } | { ok: false; reason: unknown }): T => {
  if (!result.ok) throw new Error(JSON.stringify(result.reason));
  return result.value;
};
const stuck = () => world.within((scope) => readTroubles(scope));
const people = (n: number, workspaceId = world.workspaceId) =>
  world.within(
    (scope) =>
      scope.run(
        `insert into person (id, workspace_id, number, first_name, last_name, postal_code, source, created_at)
         select 'per_' || :workspace || i, :workspace, '+1303555' || lpad((i + 100)::text, 4, '0'), 'Ana', 'Ortiz', '81201', 'test', now() from generate_series(0, :n::int - 1) i`,
        { n },
      ),
    workspaceId,
  );
const broadcast = (name: string, workspaceId = world.workspaceId) =>
  world.within(async (scope) => {
    const made = value(
      await createBroadcast(world.ctx, scope, { program: 'Clear Sky Alerts', name, body: name }, ME),
    );
    value(await sendBroadcast(world.ctx, scope, made.id, {}, ME));
    return made.id;
  }, workspaceId);
const batch = (over: object, workspaceId = world.workspaceId) =>
  world.within(
    async (scope) =>
      value(
        await createBatch(
          world.ctx,
          scope,
          { name: 'B', action: 'keep', condition: '', grace_seconds: 0, ...over } as never,
          ME,
        ),
      ).id,
    workspaceId,
  );
const imported = (text: string | Uint8Array, workspaceId = world.workspaceId) =>
  world.within(async (scope) => {
    const bytes = (async function* () {
      yield typeof text === 'string' ? new TextEncoder().encode(text) : text;
    })();
    return value(await createImport(world.ctx, scope, { name: 'a.csv', bytes }, ME)).id;
  }, workspaceId);
const stateOf = async (table: string, id: string, workspaceId = world.workspaceId) =>
  (
    await rows<{ state: string }>(
      `select state from ${table} where workspace_id = :workspace and id = '${id}'`,
      workspaceId,
    )
  )[0]?.state;

/** Everything the worker does, over and over, with time passing. */
async function work(times = 1, pause = 0): Promise<void> {
  for (let i = 0; i < times; i++) {
    await beginDueBroadcasts(world.ctx);
    await prepareDueBroadcasts(world.ctx);
    await finishBroadcasts(world.ctx);
    await runBatchSlice(world.ctx);
    await advanceImports(world.ctx, noLookup);
    await searchDuplicates(world.ctx);
    await workThrough(world.ctx, RECEIPT_QUEUE);
    world.clock.at += pause;
  }
}

/** It backs off while the other goes on, is set aside in the end, and goes on once it is cured and tried again. */
async function poisoned(
  queue: QueueName,
  id: string,
  {
    table,
    when,
    goesOn,
    done,
  }: { table: string; when: string; goesOn(): Promise<void>; done(): Promise<void> },
): Promise<void> {
  await world.poison(table, when);
  await work(3);
  await goesOn();
  expect(await stuck()).toMatchObject([
    { queue, row_id: id, tries: 1, problem: expect.stringContaining('poisoned'), aside_at: null },
  ]);
  await work(12, 7 * HOUR);
  expect(await stuck()).toMatchObject([{ queue, row_id: id, aside_at: expect.any(Date) }]);
  await world.cure(table);
  await work(1, 7 * HOUR);
  expect(await stuck()).toHaveLength(1);
  await world.within((scope) => tryAgain(world.ctx, scope, queue, id, 'acc_test'));
  await work(3);
  await done();
  expect(await stuck()).toEqual([]);
}

describe('a poisoned row holds up nobody', () => {
  it('among broadcasts that begin', async () => {
    const [bad, good, far] = [
      await broadcast('bad'),
      await broadcast('good'),
      await broadcast('far', other.id),
    ];
    await poisoned('broadcast-begin', bad, {
      table: 'broadcast',
      when: `new.id = '${bad}' and new.state = 'preparing'`,
      goesOn: async () => {
        expect(await stateOf('broadcast', good)).toBe('finished');
        expect(await stateOf('broadcast', far, other.id)).toBe('finished');
      },
      // Days late it is not sent on a guess: it says so, and can be made a draft again.
      done: async () => {
        expect(await stuck()).toMatchObject([{ problem: expect.stringContaining('too late') }]);
        await world.within((scope) => giveUp(world.ctx, scope, 'broadcast-begin', bad, 'acc_test'));
        expect(await stateOf('broadcast', bad)).toBe('draft');
      },
    });
  });

  it('among broadcasts that are made ready', async () => {
    await world.texts(phone(0), 'sky');
    const [bad, good] = [await broadcast('bad'), await broadcast('good')];
    await poisoned('broadcast-prepare', bad, {
      table: 'message',
      when: `new.send_id = '${bad}'`,
      goesOn: async () => expect(await stateOf('broadcast', good)).toBe('sending'),
      done: async () => expect(await stateOf('broadcast', bad)).toBe('sending'),
    });
  });

  it('among batches, an opt-out among those behind it', async () => {
    await people(3);
    await people(3, other.id);
    await world.within((scope) => addStage(world.ctx, scope, 'Guest', 'test'));
    const [stage] = await rows<{ id: string }>(`select id from stage where workspace_id = :workspace`);
    const [program] = await rows<{ id: string }>(`select id from program where workspace_id = :workspace`);
    const bad = await batch({ action: 'stage', id: stage!.id });
    const good = await batch({ action: 'opt-out', id: program!.id });
    const far = await batch({}, other.id);
    await poisoned('batch', bad, {
      table: 'person',
      when: `new.stage_id is not null`,
      goesOn: async () => {
        expect(await stateOf('batch', good)).toBe('finished');
        expect(await stateOf('batch', far, other.id)).toBe('finished');
      },
      done: async () => expect(await stateOf('batch', bad)).toBe('finished'),
    });
  });

  it('among imports', async () => {
    const bad = await imported('number,name\n3035550150,Ana\n');
    const far = await imported('number,name\n3035550151,Ben\n', other.id);
    await poisoned('import', bad, {
      table: 'import',
      when: `new.id = '${bad}' and new.shape <> '{}'`,
      goesOn: async () =>
        expect(
          await rows(`select 1 from import where workspace_id = :workspace and shape <> '{}'`, other.id),
        ).toHaveLength(1),
      done: async () =>
        expect(
          await rows(
            `select 1 from import where workspace_id = :workspace and id = '${bad}' and shape <> '{}'`,
          ),
        ).toHaveLength(1),
    });
    expect(await stateOf('import', far, other.id)).toBe('draft');
  });

  it('among searches for duplicates', async () => {
    await people(3);
    await people(3, other.id);
    for (const id of [world.workspaceId, other.id])
      await world.within((scope) => startSearch(world.ctx, scope), id);
    await poisoned('duplicate-search', world.workspaceId, {
      table: 'duplicate_pair',
      when: `new.workspace_id = '${world.workspaceId}'`,
      goesOn: async () =>
        expect(
          await rows(`select state from duplicate_search where workspace_id = :workspace`, other.id),
        ).toEqual([{ state: 'finished' }]),
      done: async () =>
        expect(await rows(`select state from duplicate_search where workspace_id = :workspace`)).toEqual([
          { state: 'finished' },
        ]),
    });
  });

  it('among texts that are due', async () => {
    for (let i = 0; i < 5; i++) await world.texts(phone(i), 'sky');
    const [bad] = await rows<{ id: string }>(
      `select id from message where workspace_id = :workspace order by id limit 1`,
    );
    await world.poison('message', `new.id = '${bad!.id}' and new.state = 'submitting'`);
    expect(await round(world, new Scripted())).toBe(4);
    expect(await stuck()).toMatchObject([{ queue: 'text', row_id: bad!.id, tries: 1 }]);
    world.clock.at += MINUTE;
    await world.texts(phone(7), 'sky');
    expect(await round(world, new Scripted())).toBe(1);
    expect(await stuck()).toMatchObject([{ tries: 2 }]);
    await world.cure('message');
    await world.within((scope) => tryAgain(world.ctx, scope, 'text', bad!.id, 'acc_test'));
    expect(await round(world, new Scripted())).toBe(1);
    await forgetSettledTroubles(world.ctx);
    expect(await stuck()).toEqual([]);
  });

  it('among answers and receipts: a text is unconfirmed, a receipt is kept and taken in later', async () => {
    const id = await broadcastTo(world, 3);
    const leaving = await claimDueTexts(world.ctx, 1, 10);
    const outcomes = leaving.map((text, i) => ({
      text,
      parts: [{ kind: 'taken' as const, carrierId: `c${i}` }],
    }));
    await world.poison(
      'text_part',
      `new.carrier_id = 'c0' or new.state = 'delivered' and new.carrier_id = 'c1'`,
    );
    const told = ['c1', 'c2'].map((carrierId, i) =>
      receipt({ to: leaving[i + 1]!.number, userReference: 0 }, carrierId),
    );
    await expect(storeAnswers(world.ctx, outcomes, told)).rejects.toThrow();
    expect([...(await storeEach(world.ctx, outcomes, told))].map(({ carrierId }) => carrierId)).toEqual([
      'c1',
    ]);
    expect((await sent(world)).map(({ state }) => state).sort()).toEqual([
      'delivered',
      'submitted',
      'unconfirmed',
    ]);
    // The carrier brings it again and again; in the end it is kept here and acknowledged.
    let again = new Set([told[0]!]);
    for (let i = 0; i < 12 && again.size > 0; i++) again = await storeEach(world.ctx, [], [...again]);
    expect(again.size).toBe(0);
    expect(await stuck()).toMatchObject([
      { queue: 'text' },
      { queue: 'receipt', row_id: 'c1', aside_at: expect.any(Date) },
    ]);
    await world.cure('text_part');
    await world.within((scope) => tryAgain(world.ctx, scope, 'receipt', 'c1', 'acc_test'));
    await workThrough(world.ctx, RECEIPT_QUEUE);
    expect((await sent(world)).map(({ state }) => state).sort()).toEqual([
      'delivered',
      'delivered',
      'unconfirmed',
    ]);
    expect(id).toBeTruthy();
  });
});

describe('what once stopped everybody', () => {
  const NUL = new Uint8Array([110, 117, 109, 98, 101, 114, 10, 51, 0, 48, 51]);
  it.each([
    ['a file of eleven bytes with a NUL', NUL],
    ['a cell with an emoji at its 200th place', `number,name\n3035550150,${'x'.repeat(199)}🐞🐞\n`],
    ['half an emoji in UTF-16', new Uint8Array([255, 254, 110, 0, 10, 0, 61, 216, 10, 0, 51, 0])],
  ])('%s is read, or refused with a sentence', async (_, bytes) => {
    const id = await imported(bytes);
    await work(2);
    expect(await stuck()).toEqual([]);
    const [row] = await rows<{ state: string; problem: string | null; shape: { sample?: unknown } }>(
      `select state, problem, shape from import where workspace_id = :workspace and id = '${id}'`,
    );
    expect(row!.state === 'failed' ? row!.problem : row!.shape.sample).toBeTruthy();
  });

  it('removing a stage a waiting batch is about ends that batch with its reason', async () => {
    await people(3);
    await world.within((scope) => addStage(world.ctx, scope, 'Guest', 'test'));
    const [stage] = await rows<{ id: string }>(`select id from stage where workspace_id = :workspace`);
    const waiting = await batch({ action: 'stage', id: stage!.id, grace_seconds: 60 });
    await world.within((scope) => removeStage(world.ctx, scope, stage!.id, 'test'));
    world.clock.at += 2 * MINUTE;
    await work(2);
    expect(
      await rows(`select state, problem from batch where workspace_id = :workspace and id = '${waiting}'`),
    ).toEqual([{ state: 'stopped', problem: 'The stage it is about was removed since.' }]);
  });

  it('undoing back to a stage that was removed leaves no stage', async () => {
    await people(2);
    for (const name of ['Old', 'New'])
      await world.within((scope) => addStage(world.ctx, scope, name, 'test'));
    const [old, fresh] = await rows<{ id: string }>(
      `select id from stage where workspace_id = :workspace order by position`,
    );
    for (const id of [old!.id, fresh!.id]) {
      await batch({ action: 'stage', id });
      await work(2);
    }
    const [last] = await rows<{ id: string }>(
      `select id from batch where workspace_id = :workspace order by id desc limit 1`,
    );
    await world.within((scope) => removeStage(world.ctx, scope, old!.id, 'test'));
    await world.within((scope) => undoBatch(world.ctx, scope, last!.id, ME));
    await work(2);
    expect(await stateOf('batch', last!.id)).toBe('undone');
    expect(
      await rows(`select 1 from person where workspace_id = :workspace and stage_id is not null`),
    ).toEqual([]);
  });

  it('an undoing can be stopped and taken up again', async () => {
    await people(3);
    await world.within((scope) => addStage(world.ctx, scope, 'Guest', 'test'));
    const [stage] = await rows<{ id: string }>(`select id from stage where workspace_id = :workspace`);
    const id = await batch({ action: 'stage', id: stage!.id });
    await work(2);
    await world.within((scope) => undoBatch(world.ctx, scope, id, ME));
    await world.within((scope) => stopBatch(world.ctx, scope, id, ME));
    expect(await stateOf('batch', id)).toBe('stopped');
    await world.within((scope) => undoBatch(world.ctx, scope, id, ME));
    await work(2);
    expect(await stateOf('batch', id)).toBe('undone');
  });

  it('an import can be stopped wherever it is', async () => {
    const id = await imported('number\n3035550150\n');
    await work(1);
    const input = { name: 'a', columns: [{ to: 'number' }], tags: [] } as unknown as ImportInput;
    await world.within((scope) => checkImport(world.ctx, scope, id, input, ME));
    value(await world.within((scope) => stopImport(world.ctx, scope, id, ME)));
    expect(await stateOf('import', id)).toBe('failed');
    await world.within((scope) => checkImport(world.ctx, scope, id, input, ME));
    await work(1);
    await world.within((scope) => runImport(world.ctx, scope, id, ME));
    await work(1);
    await world.within((scope) => undoImport(world.ctx, scope, id, ME));
    value(await world.within((scope) => stopImport(world.ctx, scope, id, ME)));
    expect(await stateOf('import', id)).toBe('stopped');
  });

  it('a condition that unfolds to more than a database can be asked is refused, and quickly', async () => {
    const leaf = { ask: 'field', field: 'first_name', test: 'is', value: 'Ana' };
    const owner = await addAccount(world.ctx, world.workspaceId, {
      ...{ email: 'o@example.org', name: 'Odile Farrow', password: 'x', role: 'owner' as const },
    });
    let condition: unknown = { any: Array.from({ length: 59 }, () => leaf) };
    for (let depth = 0; depth < 3; depth++) {
      const made = await world.within((scope) =>
        createSegment(
          world.ctx,
          scope,
          { name: `S${depth}`, condition: JSON.stringify(condition) },
          { name: 'me', accountId: owner },
        ),
      );
      if (!made.ok) {
        expect(made.reason.problems[0]!.message).toContain(String(MOST_UNFOLDED));
        return;
      }
      condition = {
        any: Array.from({ length: 59 }, () => ({ ask: 'segment', id: made.value.id, has: true })),
      };
    }
    const counted = await world.within((scope) =>
      readAudience(scope, condition as never, '', world.clock.at),
    );
    expect(counted).toMatchObject({
      ok: false,
      reason: { problems: [{ message: expect.stringContaining(String(MOST_UNFOLDED)) }] },
    });
  });

  it('a paused broadcast with the wording that is being written is counted, not thrown at', async () => {
    await broadcastTo(world, 3, 'Clear tonight.');
    const [row] = await rows<{ id: string }>(`select id from broadcast where workspace_id = :workspace`);
    await world.within((scope) => pauseBroadcast(world.ctx, scope, row!.id));
    const report = await world.within((scope) =>
      reportClearance(scope, {
        ...{
          program: 'Clear Sky Alerts',
          body: 'Clear tonight.',
          at: world.clock.at,
          senderName: null,
          personId: null,
        },
      }),
    );
    expect(value(report).report.lines).toMatchObject([{ code: 'same-text' }]);
    await broadcast('Clear tonight.');
    await work(3);
    expect(await stuck()).toEqual([]);
  });
});

it('a short code with many texts leaves room for another workspace', async () => {
  for (let i = 0; i < 40; i++) await world.texts(phone(i), 'sky');
  await world.within(async (scope) => {
    await createKeyword(world.ctx, scope, { program: 'Clear Sky Alerts', word: 'SKY' }, 'test');
  }, other.id);
  for (let i = 0; i < 3; i++) await world.texts(phone(60 + i), 'sky', '+17195550120');
  const leaving = await claimDueTexts(world.ctx, 1, 24);
  const of = (id: string) => leaving.filter(({ workspaceId }) => workspaceId === id).length;
  expect(of(other.id)).toBe(3);
  expect(of(world.workspaceId)).toBeGreaterThan(3);
});

it('a long import of one workspace does not keep another waiting', async () => {
  await imported(
    `number\n${Array.from({ length: 50 }, (_, i) => `30355501${String(i).padStart(2, '0')}`).join('\n')}`,
  );
  await imported('number\n3035550151\n', other.id);
  const queue = importQueue(() => noLookup);
  const begun: string[] = [];
  let end: () => void = () => {};
  const slow = {
    ...queue,
    work: async (_: unknown, { workspaceId }: { workspaceId: string | null }) => {
      begun.push(workspaceId!);
      await new Promise<void>((resolve) => (end = resolve));
      return true;
    },
  };
  const lanes = new Lanes(world.ctx, slow, 3);
  await lanes.fill();
  await lanes.fill();
  expect(begun.sort()).toEqual([world.workspaceId, other.id].sort());
  end();
});
