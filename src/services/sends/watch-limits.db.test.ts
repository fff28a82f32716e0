import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { toJson } from '@/db/kit/json';
import { MINUTE } from '@/core/shared/instant';
import { workThrough } from '@/services/kit/trouble';
import { storeAnswers } from '@/services/delivery/store-answers';
import { waitingSends } from '@/db/sends/broadcasts';
import { addCrowd } from '@/services/testing/crowd';
import { must } from '@/services/testing/people';
import { receipt, round, Scripted } from '@/services/testing/sending';
import { makeWorld, type World } from '@/services/testing/world';
import { actOnBroadcast, createBroadcast, sendBroadcast } from './broadcasts';
import { leaveOutOf } from './leave-out';
import { resumeBroadcast } from './move-broadcast';
import { beginDueBroadcasts, prepareBroadcast } from './prepare-broadcast';
import { LIMITS_QUEUE } from './watch-limits';

const ME = { name: 'test', accountId: null };
let world: World;
beforeEach(async () => {
  world = await makeWorld();
  const [program] = await world.rows<{ id: string }>(
    `select id from program where workspace_id = :workspace`,
  );
  await world.within((scope) => addCrowd(scope, program!.id, 100));
});
afterEach(() => world.close());

async function going(): Promise<string> {
  const { id } = must(
    await world.within((scope) =>
      createBroadcast(world.ctx, scope, { program: 'Clear Sky Alerts', name: 'B', body: 'Clear.' }, ME),
    ),
  );
  must(await world.within((scope) => sendBroadcast(world.ctx, scope, id, {}, ME)));
  await beginDueBroadcasts(world.ctx);
  await prepareBroadcast(world.ctx, world.workspaceId, id);
  return id;
}

/** So many leave and are delivered, but for those the carrier refuses as spam; the first few opt out. */
async function leave(people: number, { stops = 0, spam = 0 }): Promise<void> {
  const carrier = new Scripted();
  await round(world, carrier, people);
  await storeAnswers(
    world.ctx,
    [],
    carrier.parts.map((part, i) =>
      i < spam ? receipt(part, carrier.ids[i]!, 'UNDELIV', '040') : receipt(part, carrier.ids[i]!),
    ),
  );
  world.clock.at += MINUTE;
  for (const part of carrier.parts.slice(0, stops)) await world.texts(part.to, 'STOP');
  // Their confirmations, which go first.
  if (stops > 0) await round(world, new Scripted(), stops);
}

const state = async (id: string) =>
  (
    await world.rows<{ state: string; held: { of: string } | null }>(
      `select state, held from broadcast where workspace_id = :workspace and id = :id`,
      { id },
    )
  )[0]!;

describe('a broadcast that many leave', () => {
  it('goes on after the first three, is held at a tenth, tells the owners, and goes on when somebody says so', async () => {
    const id = await going();
    await leave(40, { stops: 3 });
    expect(await workThrough(world.ctx, LIMITS_QUEUE)).toBe(0);
    await leave(30, { stops: 7 });
    expect(await workThrough(world.ctx, LIMITS_QUEUE)).toBe(1);
    expect(await state(id)).toMatchObject({ state: 'paused', held: { of: 'opt-outs', count: 10 } });
    expect(await world.within(waitingSends)).toMatchObject([{ id, held: { of: 'opt-outs' } }]);
    must(await world.within((scope) => actOnBroadcast(world.ctx, scope, id, resumeBroadcast, ME)));
    expect(await state(id)).toEqual({ state: 'sending', held: null });
    expect(await world.within(waitingSends)).toEqual([]);
    expect(await workThrough(world.ctx, LIMITS_QUEUE)).toBe(0);
  });

  it('is held where the carrier refuses too much of it as spam', async () => {
    const id = await going();
    await leave(60, { spam: 8 });
    expect(await workThrough(world.ctx, LIMITS_QUEUE)).toBe(1);
    expect(await state(id)).toMatchObject({ state: 'paused', held: { of: 'spam', count: 8, people: 60 } });
  });

  it('goes on where the workspace has no such limit', async () => {
    await world.rows(`update workspace set send_limits = :limits::jsonb where id = :workspace returning id`, {
      limits: toJson({ 'opt-outs': null, spam: null, failures: null }),
    });
    await going();
    await leave(70, { stops: 12 });
    expect(await workThrough(world.ctx, LIMITS_QUEUE)).toBe(0);
  });
});

describe('not these people any more', () => {
  it('calls back what waits for them, and leaves what left', async () => {
    const id = await going();
    await leave(40, {});
    const everybody = await world.within((scope) =>
      leaveOutOf(world.ctx, scope, id, toJson({ all: [] }), ME),
    );
    expect(must(everybody)).toEqual({ called_back: 60 });
    const states = await world.rows<{ state: string; n: number }>(
      `select state, count(*)::int as n from message where workspace_id = :workspace and send_id = :id group by state order by state`,
      { id },
    );
    expect(states).toEqual([
      { state: 'cancelled', n: 60 },
      { state: 'delivered', n: 40 },
    ]);
  });

  it('also before their message is made', async () => {
    const { id } = must(
      await world.within((scope) =>
        createBroadcast(world.ctx, scope, { program: 'Clear Sky Alerts', name: 'B', body: 'Clear.' }, ME),
      ),
    );
    must(await world.within((scope) => sendBroadcast(world.ctx, scope, id, {}, ME)));
    await beginDueBroadcasts(world.ctx);
    await world.within((scope) =>
      leaveOutOf(
        world.ctx,
        scope,
        id,
        toJson({ ask: 'field', field: 'number', test: 'starts', value: '+1201555011' }),
        ME,
      ),
    );
    await prepareBroadcast(world.ctx, world.workspaceId, id);
    const [row] = await world.rows<{ n: number; theirs: number }>(
      `select count(*)::int as n, count(*) filter (where address like '+1201555011%')::int as theirs from message where workspace_id = :workspace and send_id = :id`,
      { id },
    );
    expect(row!.theirs).toBe(0);
    expect(row!.n).toBe(90);
  });
});
