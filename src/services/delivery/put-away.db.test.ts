import { gunzipSync } from 'node:zlib';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { BUNDLE_FORMAT } from '@/core/delivery/bundle';
import { DAY } from '@/core/shared/instant';
import { Workspace } from '@/db/access/entities';
import { putAwaySlice } from '@/db/delivery/bundles';
import { Bundle, Message } from '@/db/delivery/entities';
import { personTexts } from '@/db/results/results';
import { Person } from '@/db/people/entities';
import { readTroubles } from '@/services/stuck';
import { workThrough } from '@/services/kit/trouble';
import { erasePerson } from '@/services/people/erase-person';
import { exportPerson } from '@/services/people/export-people';
import { mergePeople } from '@/services/people/merge-people';
import { messagesFile } from '@/services/results/messages';
import { makeProof } from '@/services/results/proofs';
import { must } from '@/services/testing/people';
import { broadcastTo, deliverTo, round, Scripted } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { bundleFile, changePutAway, PUT_AWAY_QUEUE, readPutAway } from './put-away';

const ME = { name: 'test', accountId: null };
let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

function gate(): { opened: Promise<void>; open: () => void } {
  let open: () => void = () => {};
  return { opened: new Promise((resolve) => (open = resolve)), open: () => open() };
}

/** Three people join, get a broadcast that fails for one, one of them leaves; then ten months go by. */
async function longAgo(): Promise<void> {
  await broadcastTo(world, 3, 'Clear tonight.');
  await deliverTo(world, 3, { 1: '027' });
  await world.texts(phone(0), 'STOP');
  await round(world, new Scripted());
  world.clock.at += 300 * DAY;
}

async function want(months: number | null, workspaceId = world.workspaceId): Promise<void> {
  const stamp = await world.within(
    async (scope) => (await scope.em.findOneOrFail(Workspace, { id: workspaceId })).stamp,
    workspaceId,
  );
  must(
    await world.within((scope) => changePutAway(world.ctx, scope, { stamp, months }, 'test'), workspaceId),
  );
}

async function work(): Promise<void> {
  while ((await workThrough(world.ctx, PUT_AWAY_QUEUE)) > 0);
}

const screen = () => world.within((scope) => readPutAway(scope, world.clock.at));
const bundles = () => world.within((scope) => scope.em.find(Bundle, {}));
const personOf = (i: number) =>
  world.within(async (scope) => (await scope.em.findOneOrFail(Person, { number: phone(i) })).id);
const events = () =>
  world.rows<{ message_id: string }>(
    `select message_id, event, detail, at from message_event where workspace_id = :workspace order by message_id, at, event`,
  );
const sums = () =>
  world.rows(
    `select about, id, channel, day, nth, what, reason, sum(n)::int as n, sum(credits)::int as credits from tally where workspace_id = :workspace
      group by 1, 2, 3, 4, 5, 6, 7 having sum(n) <> 0 order by 1, 2, 3, 4, 5, 6, 7`,
  );
const words = () =>
  world.rows<{ id: string; kind: string; body: string }>(
    `select id, kind, body from message where workspace_id = :workspace order by id`,
  );

/** All that shows what messages said: a thread, a person's own data, the file of all, a proof. */
async function shown(): Promise<object> {
  const id = await personOf(0);
  const span = { from: '2026-11-01', until: '2026-12-31' };
  const file = messagesFile(world.ctx.orm, world.workspaceId, { span, zone: 'America/Denver' }, 'jsonl');
  const proof = must(await world.within((scope) => makeProof(world.ctx, scope, phone(0), ME)));
  return {
    thread: await world.within((scope) => personTexts(scope, id, 100)),
    own: ((await world.within((scope) => exportPerson(scope, id))) as { texts: object }).texts,
    file: await new Response(file.body).text(),
    proof: proof.document!.messages,
  };
}

describe('messages of months long past', () => {
  it('are put away, and everything shows them as before', async () => {
    await longAgo();
    const before = { shown: await shown(), sums: await sums() };
    await want(6);
    await work();
    const away = (await words()).filter(({ body }) => body === '');
    expect(away.map(({ kind }) => kind)).toEqual(['broadcast', 'broadcast', 'broadcast']);
    const put = new Set(away.map(({ id }) => id));
    expect((await events()).filter(({ message_id: id }) => put.has(id))).toEqual([]);
    expect(await shown()).toEqual(before.shown);
    expect(await sums()).toEqual(before.sums);
    const { rows, goesOn } = await screen();
    expect(rows).toMatchObject([{ month: '2026-11-01', left: 7, away: 3, goes: true }]);
    expect(goesOn).toBe(false);
  });

  it('come back as they were when they should stay, and go again', async () => {
    await longAgo();
    const before = { words: await words(), events: await events(), shown: await shown() };
    const balance = () =>
      world.within(
        async (scope) => (await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId })).creditBalance,
      );
    const credits = await balance();
    await want(6);
    await work();
    await want(null);
    await work();
    expect(await bundles()).toEqual([]);
    expect({ words: await words(), events: await events(), shown: await shown() }).toEqual(before);
    // What came of them is not followed once more.
    expect(await balance()).toBe(credits);
    await want(3);
    await work();
    expect(await bundles()).toHaveLength(1);
  });

  it('stay while their month is kept, wait, or were written by a human', async () => {
    await broadcastTo(world, 2, 'Clear tonight.');
    const waiting = (await words()).length;
    expect(waiting).toBeGreaterThan(0);
    await want(3);
    await work();
    expect(await bundles()).toEqual([]);
    // Ten months later they still wait to be sent: nothing moved them on.
    world.clock.at += 300 * DAY;
    await world.rows(
      `update message set kind = 'answer' where workspace_id = :workspace and state = 'delivered' returning id`,
    );
    await world.within((scope) =>
      scope.run(`update workspace set put_away_at = :at where id = :workspace`, { at: new Date(0) }),
    );
    await work();
    const left = await world.within((scope) => scope.em.find(Message, {}));
    for (const { state, bundleId, kind } of left)
      if (state === 'queued' || kind === 'answer') expect(bundleId).toBeNull();
    expect(left.some(({ state }) => state === 'queued')).toBe(true);
  });

  it('are a file that any gzip reads', async () => {
    await longAgo();
    await want(6);
    await work();
    const body = await bundleFile(world.ctx.orm, world.workspaceId, '2026-11-01');
    const bytes = Buffer.from(await new Response(body!).arrayBuffer());
    const [head, ...lines] = gunzipSync(bytes)
      .toString('utf8')
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as { words: string });
    expect(head).toEqual({ format: BUNDLE_FORMAT });
    expect(lines.map((line) => line.words.includes('Clear tonight.'))).toEqual([true, true, true]);
    expect(await bundleFile(world.ctx.orm, world.workspaceId, '2026-10-01')).toBeNull();
    const other = await world.another();
    expect(await bundleFile(world.ctx.orm, other.id, '2026-11-01')).toBeNull();
  });

  it('of somebody who is erased are gone from the files as well, those of others are not', async () => {
    await longAgo();
    await want(6);
    await work();
    must(await world.within(async (scope) => erasePerson(world.ctx, scope, await personOf(2), 'test')));
    const [bundle] = await bundles();
    const text = gunzipSync(bundle!.content).toString('utf8');
    expect(text).not.toContain(phone(2));
    expect(text).toContain(phone(0));
    expect(text.match(/"erased":true/g)).toHaveLength(1);
    await want(null);
    await work();
    const left = await world.rows<{ address: string; body: string }>(
      `select address, body from message where workspace_id = :workspace`,
    );
    for (const { address, body } of left) expect(body === '', body).toBe(address === 'erased');
  });

  it('are gone as well where they were being put away while somebody was erased', async () => {
    await longAgo();
    const person = await personOf(2);
    const [written, go] = [gate(), gate()];
    const putting = world.within(async (scope) => {
      const slice = { after: '', before: '2027-01-01', at: new Date(world.clock.at) };
      await putAwaySlice(scope, { ...slice, newId: () => world.ctx.id('bun') });
      written.open();
      await go.opened;
    });
    await written.opened;
    const erasing = world.within((scope) => erasePerson(world.ctx, scope, person, 'test'));
    await vi.waitFor(
      async () =>
        expect(
          await world.rows(
            `select from pg_stat_activity where wait_event_type = 'Lock' and datname = current_database() and :workspace is not null`,
          ),
        ).toHaveLength(1),
      { timeout: 20_000, interval: 20 },
    );
    go.open();
    await putting;
    must(await erasing);
    expect(gunzipSync((await bundles())[0]!.content).toString('utf8')).not.toContain(phone(2));
  });

  it('go with whom somebody is now', async () => {
    await longAgo();
    await want(6);
    await work();
    const [kept, gone] = [await personOf(0), await personOf(1)];
    must(await world.within((scope) => mergePeople(world.ctx, scope, kept, gone, {}, ME)));
    const texts = await world.within((scope) => personTexts(scope, kept, 100));
    expect(texts.filter(({ direction }) => direction === 'out').every(({ body }) => body !== '')).toBe(true);
  });

  it('take a receipt that comes late, and are put together with what they said when they come back', async () => {
    await longAgo();
    await want(6);
    await work();
    await world.rows(
      `update message set state = 'no-receipt' where workspace_id = :workspace and state = 'failed' returning id`,
    );
    await want(null);
    await work();
    expect(
      (await world.within((scope) => scope.em.find(Message, { state: 'no-receipt' })))[0]!.body,
    ).toContain('Clear tonight');
  });
});

describe('a bundle that is damaged', () => {
  it('is told: the thread goes on, no proof is made over it, and nothing of it is lost by bringing it back', async () => {
    await longAgo();
    await want(6);
    await work();
    await world.rows(
      `update bundle set content = overlay(content placing 'x'::bytea from 20) where workspace_id = :workspace returning id`,
    );
    const person = await personOf(0);
    const texts = await world.within((scope) => personTexts(scope, person, 100));
    expect(texts.find(({ kind }) => kind === 'broadcast')!.body).toContain('restore it from a copy');
    await expect(world.within((scope) => makeProof(world.ctx, scope, phone(0), ME))).rejects.toThrow(/copy/);
    await want(null);
    await work();
    expect(await bundles()).toHaveLength(1);
    const stuck = await world.within((scope) => readTroubles(scope, world.workspaceId));
    expect(stuck).toMatchObject([{ problem: expect.stringContaining('restore them from a copy') as string }]);
  });

  it('holds up no other business', async () => {
    const other = await world.another();
    await longAgo();
    await want(6);
    await world.poison('bundle', `new.workspace_id = '${world.workspaceId}'`);
    await want(3, other.id);
    await work();
    expect(await bundles()).toEqual([]);
    expect((await words()).some(({ body }) => body !== '')).toBe(true);
    const looked = await world.within(
      async (scope) => (await scope.em.findOneOrFail(Workspace, { id: other.id })).putAwayAt,
      other.id,
    );
    expect(looked.getTime()).toBe(world.clock.at + DAY);
    await world.cure('bundle');
    world.clock.at += DAY;
    await work();
    expect(await bundles()).toHaveLength(1);
  });
});

it('who saved over one they did not see is told, and only whole choices are taken', async () => {
  await want(12);
  const again = await world.within((scope) =>
    changePutAway(world.ctx, scope, { stamp: 0, months: 6 }, 'test'),
  );
  expect(again).toMatchObject({ ok: false });
});
