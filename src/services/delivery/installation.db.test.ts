import { MikroORM } from '@mikro-orm/postgresql';
import pg from 'pg';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import { ormConfig } from '@/db/kit/config';
import { copyDatabase } from '@/db/testing/database';
import { createBatch } from '@/services/batches/batches';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { makeContext } from '@/services/context';
import { addAccount } from '@/services/access/create-workspace';
import {
  keepAlive,
  makeHarmless,
  openInstallation,
  readHold,
  release,
  releaseAfterGap,
} from './installation';
import { changePace } from '@/services/sends/change-pace';
import { beginDueBroadcasts, prepareDueBroadcasts } from '@/services/sends/prepare-broadcast';
import { beginSending, registerWorker } from './register-worker';
import { claimDueTexts } from './send-due-texts';
import { ROOMS } from '@/services/rooms';
import { broadcastTo } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';

const ME = { name: 'test', accountId: null };
let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

async function schedule(inMs: number): Promise<void> {
  await world.within(async (scope) => {
    const made = await createBroadcast(
      world.ctx,
      scope,
      { program: 'Clear Sky Alerts', name: 'Tonight', body: 'Clear.' },
      ME,
    );
    if (!made.ok) throw new Error('refused');
    const at = new Date(world.clock.at + inMs).toISOString();
    await sendBroadcast(world.ctx, scope, made.value.id, { at }, ME);
  });
}

describe('an installation', () => {
  it('sends from its first start on, and after a short pause or a long one in which nothing fell due', async () => {
    expect(await openInstallation(world.ctx)).toBeNull();
    world.clock.at += 30 * MINUTE;
    await schedule(-30 * MINUTE + MINUTE * 30);
    expect(await openInstallation(world.ctx)).toBeNull();
    await beginDueBroadcasts(world.ctx);
    world.clock.at += 30 * DAY;
    expect(await openInstallation(world.ctx)).toBeNull();
  });

  it('is held when it was away while something fell due, until an owner of all it concerns says go', async () => {
    await openInstallation(world.ctx);
    await schedule(2 * HOUR);
    world.clock.at += 5 * HOUR;
    expect(await openInstallation(world.ctx)).toMatchObject({ because: 'gap' });
    expect(await keepAlive(world.ctx, false)).toMatchObject({ because: 'gap' });
    const add = (role: 'owner' | 'manager') =>
      addAccount(world.ctx, world.workspaceId, {
        email: `${role}@example.org`,
        name: role,
        password: 'x',
        role,
      });
    const [owner, manager] = [await add('owner'), await add('manager')];
    expect(await world.within((scope) => releaseAfterGap(world.ctx, scope, manager))).toMatchObject({
      ok: false,
    });
    expect(await world.within((scope) => releaseAfterGap(world.ctx, scope, owner))).toMatchObject({
      ok: true,
    });
    expect(await openInstallation(world.ctx)).toBeNull();
  });

  it('is held when it was away while a broadcast with a pace was under way', async () => {
    const id = await broadcastTo(world, 3);
    await world.within((scope) =>
      changePace(
        world.ctx,
        scope,
        id,
        { pace: { people: 1, per: 'hour' } },
        { name: 'test', accountId: null },
      ),
    );
    await openInstallation(world.ctx);
    world.clock.at += 5 * HOUR;
    expect(await openInstallation(world.ctx)).toMatchObject({ because: 'gap' });
  });

  it('goes on where a worker starts late beside one that sends, after the clock was moved by hand', async () => {
    await openInstallation(world.ctx, true);
    await schedule(2 * HOUR);
    world.clock.at += 5 * HOUR;
    const first = new pg.Client({ connectionString: world.databaseUrl });
    await first.connect();
    await beginSending(first, await registerWorker(world.ctx, first));
    expect(await openInstallation(world.ctx, true)).toBeNull();
    await first.end();
  });

  it('is held where one starts beside another that waits for somebody’s go', async () => {
    await openInstallation(world.ctx, true);
    await schedule(2 * HOUR);
    world.clock.at += 5 * HOUR;
    const other = new pg.Client({ connectionString: world.databaseUrl });
    await other.connect();
    await registerWorker(world.ctx, other);
    expect(await openInstallation(world.ctx, true)).toMatchObject({ because: 'gap' });
    await other.end();
  });

  it('is held when it wakes from being frozen, where the clock is the machine’s', async () => {
    await openInstallation(world.ctx);
    await schedule(2 * HOUR);
    world.clock.at += 5 * HOUR;
    expect(await keepAlive(world.ctx, true)).toMatchObject({ because: 'gap' });
  });
});

describe('a copy of a database', () => {
  it('knows that it is one, is made harmless by one command, and texts nobody before somebody says go', async () => {
    await openInstallation(world.ctx);
    await broadcastTo(world, 3);
    await schedule(2 * HOUR);
    await world.within((scope) =>
      createBatch(
        world.ctx,
        scope,
        { name: 'Later', action: 'keep', condition: '', grace_seconds: 600 } as never,
        ME,
      ),
    );
    await world.texts(phone(9), 'sky');
    const copy = await copyDatabase(world.databaseUrl);
    const orm = MikroORM.initSync(ormConfig(copy.url)) as MikroORM;
    try {
      const ctx = makeContext(orm, () => world.clock.at);
      expect(await openInstallation(world.ctx)).toBeNull();
      expect(await openInstallation(ctx)).toMatchObject({ because: 'copy' });
      world.clock.at += 3 * HOUR;
      const { due, stopped } = await makeHarmless(ctx, ROOMS);
      expect(due.map(({ kind, name, n }) => `${kind} ${name || n}`).sort()).toEqual([
        'batch Later',
        'broadcast Tonight',
        'texts 4',
      ]);
      expect(stopped).toMatchObject({
        'broadcasts made drafts again': 1,
        'broadcasts stopped': 1,
        'texts called back': 4,
        'batches stopped': 1,
      });
      expect(await readHold(ctx)).toMatchObject({ because: 'restored' });
      await release(ctx);
      expect(await openInstallation(ctx)).toBeNull();
      await beginDueBroadcasts(ctx);
      await prepareDueBroadcasts(ctx);
      expect(await claimDueTexts(ctx, 1, 100)).toEqual([]);
      // The original goes on as if nothing had been.
      expect(await claimDueTexts(world.ctx, 1, 100)).toHaveLength(4);
    } finally {
      await orm.close(true);
      await copy.drop();
    }
  });
});
