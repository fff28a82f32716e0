import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR } from '@/core/shared/instant';
import { readMaySend } from '@/services/clearance/may-send';
import { endPause, pausePerson } from '@/services/consent/pause';
import { workThrough } from '@/services/kit/trouble';
import { mergePeople } from '@/services/people/merge-people';
import { erasePeople } from '@/services/people/erase-person';
import { addAccount } from '@/services/access/create-workspace';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { beginDueBroadcasts, prepareBroadcast } from '@/services/sends/prepare-broadcast';
import { addPerson, must } from '@/services/testing/people';
import { round, Scripted } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { createKeyword, createProgram } from '@/services/programs/create-program';
import { beginLeaving, LEAVE_GRACE, LEAVING_QUEUE, undoLeaving } from './leave-by-hand';
import { pauseAsWished } from './pause-as-wished';
import { readLeaving } from './screen';

const ANA = phone(0);
let world: World;
let me: string;
beforeEach(async () => {
  world = await makeWorld();
  me = await addAccount(world.ctx, world.workspaceId, {
    ...{
      email: `tess${world.workspaceId}@example.org`,
      name: 'Tess Nightjar',
      password: 'x',
      role: 'manager',
    },
  });
});
afterEach(() => world.close());

const idOf = async (number: string) =>
  (
    await world.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace and number = '${number}'`,
    )
  )[0]!.id;
const leave = (id: string, more: { program?: string; confirms?: boolean; why?: string } = {}) =>
  world.within((scope) =>
    beginLeaving(
      world.ctx,
      scope,
      id,
      { program: more.program ?? null, confirms: more.confirms ?? true, why: more.why ?? 'on the phone' },
      me,
    ),
  );
const graceEnds = (after = LEAVE_GRACE) => {
  world.clock.at += after;
  return workThrough(world.ctx, LEAVING_QUEUE);
};
const ledger = () =>
  world.rows<{ kind: string; method: string; program: string; why: string | null }>(
    `select e.kind, e.method, g.name as program, e.evidence ->> 'why' as why from consent_event e join program g on g.id = e.program_id
      where e.workspace_id = :workspace and e.channel = 'sms' and e.kind = 'opted-out' order by e.seq`,
  );
async function leaves(): Promise<string[]> {
  world.clock.at += 1_000;
  const carrier = new Scripted();
  await round(world, carrier);
  return carrier.parts.map(({ body }) => body);
}
/** What a broadcast to everybody leads to for those who are in the program. */
async function broadcast(): Promise<string[]> {
  const actor = { name: me, accountId: null };
  const input = { program: 'Clear Sky Alerts', name: 'B', body: `Clear tonight ${world.clock.at}.` };
  const { id } = must(await world.within((scope) => createBroadcast(world.ctx, scope, input, actor)));
  must(await world.within((scope) => sendBroadcast(world.ctx, scope, id, {}, actor)));
  world.clock.at += 60_000;
  await beginDueBroadcasts(world.ctx);
  await prepareBroadcast(world.ctx, world.workspaceId, id);
  return (
    await world.rows<{ state: string; code: string | null }>(
      `select t.state, t.clearance -> 'reasons' -> 0 ->> 'code' as code from message t where t.workspace_id = :workspace and t.send_id = '${id}'`,
    )
  ).map(({ state, code }) => `${state} ${code ?? ''}`.trim());
}
const joined = async () => {
  await world.texts(ANA, 'sky');
  await leaves();
  return idOf(ANA);
};

describe('opting out by hand', () => {
  it('counts after its grace, with who, why and the final text', async () => {
    const id = await joined();
    must(await leave(id));
    expect(await ledger()).toEqual([]);
    expect(await workThrough(world.ctx, LEAVING_QUEUE)).toBe(0);
    expect(await graceEnds()).toBe(1);
    expect(await ledger()).toContainEqual({
      ...{ kind: 'opted-out', method: 'by-hand', program: 'Clear Sky Alerts', why: 'on the phone' },
    });
    expect(await leaves()).toEqual([expect.stringContaining('you are opted out')]);
    expect(await graceEnds()).toBe(0);
  });

  it('sends no final text where none is wanted', async () => {
    const id = await joined();
    must(await leave(id, { confirms: false }));
    await graceEnds();
    expect(await leaves()).toEqual([]);
  });

  it('leaves nothing behind when it is taken back, and not after it counted', async () => {
    const id = await joined();
    must(await leave(id));
    must(await world.within((scope) => undoLeaving(world.ctx, scope, id, me)));
    expect(await graceEnds()).toBe(0);
    expect(await ledger()).toEqual([]);
    expect(await broadcast()).toEqual(['queued']);
    must(await leave(id));
    await graceEnds();
    const late = await world.within((scope) => undoLeaving(world.ctx, scope, id, me));
    expect(late).toMatchObject({ ok: false, reason: { code: 'conflict' } });
  });

  it('holds everything automatic meanwhile, and keeps a doubt that came in between', async () => {
    const id = await joined();
    must(await leave(id));
    expect(await broadcast()).toEqual(['queued reply-unclear']);
    await world.texts(ANA, 'this is spam');
    must(await world.within((scope) => undoLeaving(world.ctx, scope, id, me)));
    const [row] = await world.rows<{ unclear_since: Date | null }>(
      `select unclear_since from person where workspace_id = :workspace and id = '${id}'`,
    );
    expect(row!.unclear_since).not.toBeNull();
  });

  it('takes them out of one program of several', async () => {
    const id = await joined();
    await world.within(async (scope) => {
      await createProgram(world.ctx, scope, { name: 'Dome Nights', purpose: 'recurring' }, 'test');
      await createKeyword(world.ctx, scope, { program: 'Dome Nights', word: 'DOME' }, 'test');
    });
    await world.texts(ANA, 'dome');
    await leaves();
    must(await leave(id, { program: 'Clear Sky Alerts' }));
    await graceEnds();
    expect((await ledger()).map(({ program }) => program)).toEqual(['Clear Sky Alerts']);
    expect(await leaves()).toEqual([expect.stringContaining('you are out of Clear Sky Alerts')]);
    const { programs, never } = await world.within((scope) => readMaySend(scope, id, world.clock.at));
    const sms = programs.map(({ name, channels }) => `${name}: ${channels[0]!.because?.code ?? 'cleared'}`);
    expect(sms).toContain('Clear Sky Alerts: opted-out');
    expect(sms).toContain('Dome Nights: cleared');
    expect(sms.filter((one) => one.endsWith('opted-out'))).toHaveLength(1);
    expect(never).not.toContain('Clear Sky Alerts');
  });

  it('wants to know how they said so, and asks once', async () => {
    const id = await joined();
    expect(await leave(id, { why: ' ' })).toMatchObject({ ok: false, reason: { code: 'invalid' } });
    must(await leave(id));
    expect(await leave(id)).toMatchObject({ ok: false, reason: { code: 'conflict' } });
    await graceEnds();
    expect(await leave(id)).toMatchObject({ ok: false, reason: { code: 'conflict' } });
  });

  it('reaches whoever they were merged into meanwhile', async () => {
    const id = await joined();
    const kept = await addPerson(world, phone(1));
    must(await leave(id));
    const merged = await world.within((scope) =>
      mergePeople(world.ctx, scope, kept, id, {}, { name: me, accountId: null }),
    );
    must(merged);
    await graceEnds();
    const [row] = await world.rows<{ stopped_at: Date | null }>(
      `select stopped_at from person where workspace_id = :workspace and id = '${kept}'`,
    );
    expect(row!.stopped_at).not.toBeNull();
  });
});

describe('a pause', () => {
  const pause = (id: string, until: string, why = '') =>
    world.within((scope) => pausePerson(world.ctx, scope, id, { until, why, said: null }, me));
  const inDays = (days: number) => new Date(world.clock.at + days * DAY).toISOString().slice(0, 10);

  it('blocks what it outlasts, holds what can wait, and ends by itself', async () => {
    const id = await joined();
    must(await pause(id, inDays(30)));
    expect(await broadcast()).toEqual(['blocked paused']);
    must(await pause(id, inDays(1)));
    expect(await broadcast()).toEqual(['queued paused']);
    world.clock.at += DAY;
    expect(await leaves()).toHaveLength(1);
    expect(await world.within((scope) => readLeaving(scope, id, world.clock.at))).toMatchObject({
      pause: null,
    });
  });

  it('is over with a keyword or START of theirs, or by hand', async () => {
    const id = await joined();
    must(await pause(id, inDays(30)));
    await world.texts(ANA, 'sky');
    await leaves();
    expect(await broadcast()).toEqual(['queued']);
    must(await pause(id, inDays(30), 'away'));
    must(await world.within((scope) => endPause(world.ctx, scope, id, me)));
    expect(await broadcast()).toEqual(['queued']);
    expect(
      await world.rows(`select why, ended_by from pause where workspace_id = :workspace order by since`),
    ).toEqual([
      { why: '', ended_by: 'their own act' },
      { why: 'away', ended_by: me },
    ]);
  });

  it('is proposed from the words of a reply, and settles it', async () => {
    const id = await joined();
    world.clock.at += HOUR;
    await world.texts(ANA, 'please stop these for a month');
    const { proposed } = await world.within((scope) => readLeaving(scope, id, world.clock.at));
    expect(proposed).toMatchObject({ words: 'for a month', wished: true });
    must(
      await world.within((scope) =>
        pauseAsWished(world.ctx, scope, id, { until: proposed.day, why: '' }, me),
      ),
    );
    const read = await world.within((scope) => readLeaving(scope, id, world.clock.at));
    expect(read.pause).toMatchObject({ said: 'please stop these for a month', by: 'Tess Nightjar' });
    const [row] = await world.rows<{ unclear_since: Date | null; waiting_since: Date | null }>(
      `select unclear_since, waiting_since from person where workspace_id = :workspace and id = '${id}'`,
    );
    expect(row).toEqual({ unclear_since: null, waiting_since: null });
    expect(await broadcast()).toEqual(['blocked paused']);
  });

  it('is offered where they name no day, and holds everything until it is decided', async () => {
    const id = await joined();
    world.clock.at += HOUR;
    await world.texts(ANA, 'put me on hold please');
    const { proposed } = await world.within((scope) => readLeaving(scope, id, world.clock.at));
    expect(proposed).toMatchObject({ words: null, wished: true });
    expect(await broadcast()).toEqual(['queued reply-unclear']);
  });

  it.each(['2026-02-31', '2020-01-01', '2100-01-01'])('until %s is refused', async (until) => {
    const id = await joined();
    expect(await pause(id, until)).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'until' }] },
    });
  });

  it('goes along at a merge, and its words are gone after an erasure', async () => {
    const id = await joined();
    const kept = await addPerson(world, phone(1));
    must(await pause(id, inDays(30), 'gone sailing'));
    must(
      await world.within((scope) =>
        mergePeople(world.ctx, scope, kept, id, {}, { name: me, accountId: null }),
      ),
    );
    expect((await world.within((scope) => readLeaving(scope, kept, world.clock.at))).pause).toMatchObject({
      why: 'gone sailing',
    });
    await world.within((scope) => erasePeople(world.ctx, scope, [kept], me));
    expect(await world.rows(`select 1 from pause where workspace_id = :workspace`)).toEqual([]);
  });
});
