import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { decideUnclear } from '@/services/inbox/leave-by-hand';
import { createKeyword, createProgram } from '@/services/programs/create-program';
import type { CreateProgramInput } from '@/services/programs/inputs';
import { mergePeople } from './merge-people';
import { undoMerge } from './undo-merge';
import { round, Scripted } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';

const ME = { name: 'test', accountId: null };
const [KEPT, GONE] = [phone(1), phone(2)];
let world: World;
let kept: string;
let gone: string;

const rows = <T extends object>(sql: string) => world.within((scope) => scope.rows<T>(sql));
const personOf = async (number: string) =>
  (
    await rows<{ id: string }>(
      `select id from person where workspace_id = :workspace and number = '${number}'`,
    )
  )[0]!.id;
const states = async (id: string) =>
  (
    await rows<{ state: string }>(
      `select state from consent_state where workspace_id = :workspace and person_id = '${id}' and current order by program_id`,
    )
  ).map(({ state }) => state);
const holds = async (id: string) =>
  (
    await rows<{ unclear: boolean; stopped: boolean }>(
      `select unclear_since is not null as unclear, stopped_at is not null as stopped from person where workspace_id = :workspace and id = '${id}'`,
    )
  )[0]!;
async function merge(numberFrom: 'one' | 'other' = 'one'): Promise<string> {
  const merged = await world.within((scope) =>
    mergePeople(world.ctx, scope, kept, gone, { number: numberFrom }, ME),
  );
  if (!merged.ok) throw new Error(JSON.stringify(merged.reason));
  return merged.value.mergeId;
}
const undo = async (id: string) => {
  const undone = await world.within((scope) => undoMerge(world.ctx, scope, id, 'test'));
  if (!undone.ok) throw new Error(JSON.stringify(undone.reason));
};
/** What leaves now, and to which number. */
async function leaves(): Promise<string[]> {
  const carrier = new Scripted();
  while ((await round(world, carrier)) > 0);
  return carrier.parts.map(({ to }) => to);
}
const queueFor = (id: string) =>
  world.within((scope) =>
    scope.run(
      `insert into message (id, workspace_id, person_id, program_id, channel, kind, address, body, body_hash, alphabet, parts, credits, state, priority, not_before, created_at)
       select 'txt_' || :nth || p.id, :workspace, p.id, g.id, 'sms', 'broadcast', p.number, 'Clear.', :nth || p.id, 'GSM-7', 1, 1, 'queued', 5, :at, :at
         from person p, program g where p.workspace_id = :workspace and p.id = :id and g.name = 'Clear Sky Alerts'`,
      { id, at: new Date(world.clock.at), nth: String(nth++) },
    ),
  );
let nth = 0;

beforeEach(async () => {
  world = await makeWorld();
  await world.texts(KEPT, 'sky');
  await world.texts(GONE, 'sky');
  [kept, gone] = [await personOf(KEPT), await personOf(GONE)];
  await leaves();
});
afterEach(() => world.close());

describe('texts that wait', () => {
  it('for the record that goes are called back: they would be the same twice', async () => {
    for (const from of ['one', 'other'] as const) {
      await queueFor(kept);
      await queueFor(gone);
      const id = await merge(from);
      expect(await leaves()).toEqual([KEPT]);
      await undo(id);
      expect(await leaves()).toEqual([]);
    }
  });

  it('for a number they had once do not leave, should they still wait', async () => {
    await queueFor(kept);
    await world.within((scope) =>
      scope.run(
        `update address set value = '+13035550188' where workspace_id = :workspace and person_id = :kept`,
        { kept },
      ),
    );
    expect(await leaves()).toEqual([]);
    const [text] = await rows<{ state: string; clearance: { reasons: { code: string }[] } }>(
      `select state, clearance from message where workspace_id = :workspace and kind = 'broadcast'`,
    );
    expect(text).toMatchObject({ state: 'blocked', clearance: { reasons: [{ code: 'number-changed' }] } });
  });
});

describe('a STOP after a merge', () => {
  it('from the number that went stands on both, also when the merge is undone', async () => {
    const id = await merge();
    await world.texts(GONE, 'STOP');
    expect(await leaves()).toEqual([GONE]);
    expect(await states(kept)).toEqual(['out']);
    await undo(id);
    expect([await states(kept), await states(gone)]).toEqual([['out'], ['out']]);
    expect([await holds(kept), await holds(gone)]).toMatchObject([{ stopped: true }, { stopped: true }]);
    // Their words went back with them.
    expect(
      await rows(
        `select body from inbound_text where workspace_id = :workspace and person_id = '${gone}' and body = 'STOP'`,
      ),
    ).toHaveLength(1);
  });

  it('from the number that was kept stands on both too', async () => {
    const id = await merge();
    await world.texts(KEPT, 'stop');
    await undo(id);
    expect([await states(kept), await states(gone)]).toEqual([['out'], ['out']]);
  });
});

it('a STOP of one record holds for both numbers once they are one, until one of them comes back, for that number', async () => {
  world.clock.at += 60_000;
  await world.texts(KEPT, 'STOP');
  await leaves();
  const id = await merge();
  expect(await states(kept)).toEqual(['out']);
  world.clock.at += 60_000;
  await world.texts(GONE, 'sky');
  expect(await leaves()).toEqual([GONE]);
  expect(
    await rows(
      `select address, state, current from consent_state where workspace_id = :workspace and person_id = '${kept}' order by address`,
    ),
  ).toEqual([
    { address: KEPT, state: 'out', current: false },
    { address: GONE, state: 'in', current: true },
  ]);
  await undo(id);
  expect([await states(kept), await states(gone)]).toEqual([['out'], ['in']]);
});

describe('a hold for an unclear reply', () => {
  it('goes back to the record it came with', async () => {
    await world.texts(GONE, 'this is spam');
    const id = await merge();
    expect(await holds(kept)).toMatchObject({ unclear: true });
    await undo(id);
    expect([await holds(kept), await holds(gone)]).toMatchObject([{ unclear: false }, { unclear: true }]);
  });

  it('that came while they were merged stays with both', async () => {
    const id = await merge();
    await world.texts(GONE, 'this is spam');
    await undo(id);
    expect([await holds(kept), await holds(gone)]).toMatchObject([{ unclear: true }, { unclear: true }]);
  });

  it('that a human settled while they were merged is settled for both', async () => {
    await world.texts(GONE, 'this is spam');
    const id = await merge();
    await world.within((scope) => decideUnclear(world.ctx, scope, kept, false, 'test'));
    await undo(id);
    expect([await holds(kept), await holds(gone)]).toMatchObject([{ unclear: false }, { unclear: false }]);
  });

  it('of both comes back to both', async () => {
    await world.texts(KEPT, 'this is spam');
    world.clock.at += 60_000;
    await world.texts(GONE, 'this is spam');
    const id = await merge();
    await undo(id);
    expect([await holds(kept), await holds(gone)]).toMatchObject([{ unclear: true }, { unclear: true }]);
  });
});

it('a STOP by hand ends it for merged records too', async () => {
  await world.within((scope) =>
    createProgram(
      world.ctx,
      scope,
      { name: 'Dome Members', purpose: 'marketing' } as CreateProgramInput,
      'test',
    ),
  );
  await world.within((scope) =>
    createKeyword(world.ctx, scope, { program: 'Dome Members', word: 'DOME' }, 'test'),
  );
  await world.texts(GONE, 'dome');
  const id = await merge();
  await world.within((scope) => decideUnclear(world.ctx, scope, kept, true, 'test'));
  await undo(id);
  // Of both programs, by text and by voicemail; who was merged had agreed to texts alone.
  expect([await states(kept), await states(gone)]).toEqual([
    ['out', 'out', 'out', 'out'],
    ['out', 'out'],
  ]);
});
