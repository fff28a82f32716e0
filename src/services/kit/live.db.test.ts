import pg from 'pg';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { announce } from '@/db/delivery/texts';
import { writeAudit } from './audit';
import { markOf, subscribe } from './live';
import { makeWorld, type World } from '@/services/testing/world';

let world: World;
let previous: string | undefined;
beforeEach(async () => {
  world = await makeWorld();
  previous = process.env.DATABASE_URL;
  process.env.DATABASE_URL = world.databaseUrl;
  (globalThis as { wrenLive?: unknown }).wrenLive = undefined;
});
afterEach(async () => {
  vi.restoreAllMocks();
  if (previous === undefined) delete process.env.DATABASE_URL;
  else process.env.DATABASE_URL = previous;
  (globalThis as { wrenLive?: unknown }).wrenLive = undefined;
  await world.close();
});

const change = () => world.within((scope) => announce(scope, false));
/** Ends the connection that listens, from the database's side. */
const cut = () =>
  world.within((scope) =>
    scope.rows(
      `select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and query like 'listen%' and :workspace <> ''`,
    ),
  );

it('pages come back after the database was away for longer than one try', async () => {
  const nudge = vi.fn();
  const { leave } = await subscribe(world.workspaceId, nudge);
  await change();
  await vi.waitFor(() => expect(nudge).toHaveBeenCalledOnce(), { timeout: 60_000 });
  // The next three tries to connect fail, as while a database starts again.
  const real = pg.Client.prototype.connect as unknown as () => Promise<void>;
  let refused = 0;
  vi.spyOn(pg.Client.prototype, 'connect').mockImplementation(function (this: pg.Client) {
    return refused++ < 3 ? Promise.reject(new Error('starting up')) : real.call(this);
  } as never);
  await cut();
  // What changed meanwhile was told to nobody: they are nudged once it is back.
  await vi.waitFor(() => expect(nudge).toHaveBeenCalledTimes(2), { timeout: 60_000 });
  expect(refused).toBeGreaterThan(3);
  await change();
  await vi.waitFor(() => expect(nudge).toHaveBeenCalledTimes(3), { timeout: 60_000 });
  leave();
});

it('whatever is written down as done wakes the screens of its workspace, once it is so', async () => {
  const nudge = vi.fn();
  const elsewhere = vi.fn();
  const mine = await subscribe(world.workspaceId, nudge);
  const other = await subscribe('ws_other', elsewhere);
  await world.within(async (scope) => {
    await writeAudit(world.ctx, scope, 'test', 'thing.changed', 'thing');
    await writeAudit(world.ctx, scope, 'test', 'thing.changed', 'other');
  });
  await vi.waitFor(() => expect(nudge).toHaveBeenCalledOnce(), { timeout: 60_000 });
  expect(elsewhere).not.toHaveBeenCalled();
  expect(await markOf(world.workspaceId)).not.toBe(mine.mark);
  expect(await markOf('ws_other')).toBe(other.mark);
  mine.leave();
  other.leave();
});
