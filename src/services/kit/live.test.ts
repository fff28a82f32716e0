import { EventEmitter } from 'node:events';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';

const made = vi.hoisted(() => ({ clients: [] as EventEmitter[], down: false }));

vi.mock('pg', () => ({
  default: {
    /** As the driver does: a connection that cannot be made rejects, and says that it ended. */
    Client: class extends EventEmitter {
      constructor() {
        super();
        made.clients.push(this);
      }
      connect(): Promise<void> {
        if (!made.down) return Promise.resolve();
        this.emit('end');
        return Promise.reject(new Error('nobody listens there'));
      }
      query = () => Promise.resolve();
      end = () => Promise.resolve();
    },
  },
}));

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubEnv('DATABASE_URL', 'postgresql://nobody@127.0.0.1:1/none');
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllEnvs();
});

it('tries one connection after another while the database is away, in growing pauses, and tells everybody afterwards', async () => {
  const { subscribe, markOf } = await import('./live');
  const told = vi.fn();
  const { mark } = await subscribe('ws_1', told);
  expect(await markOf('ws_1')).toBe(mark);
  made.clients[0]!.emit('notification', { payload: 'ws_1' });
  made.clients[0]!.emit('notification', { payload: 'ws_2' });
  expect(told).toHaveBeenCalledTimes(1);
  const after = await markOf('ws_1');
  expect(after).not.toBe(mark);
  expect(told).toHaveBeenLastCalledWith(after);
  made.down = true;
  made.clients[0]!.emit('error', new Error('terminated'));
  made.clients[0]!.emit('end');
  await vi.advanceTimersByTimeAsync(120_000);
  // After half a second, one, two, four, eight, and then every ten.
  expect(made.clients.length - 1).toBe(5 + Math.floor((120 - 15.5) / 10));
  made.down = false;
  await vi.advanceTimersByTimeAsync(10_000);
  expect(told).toHaveBeenCalledTimes(2);
  // Whoever read while nothing could be heard stands at no mark that is told from now on.
  expect(told).toHaveBeenLastCalledWith(await markOf('ws_1'));
  expect([mark, after]).not.toContain(await markOf('ws_1'));
  const stood = made.clients.length;
  await vi.advanceTimersByTimeAsync(120_000);
  expect(made.clients.length).toBe(stood);
});

it('a page stands nowhere while there is no listening, and is read when there is', async () => {
  vi.resetModules();
  (globalThis as { wrenLive?: unknown }).wrenLive = undefined;
  made.down = true;
  const { markOf } = await import('./live');
  expect(await markOf('ws_1')).toBeNull();
  made.down = false;
  expect(await markOf('ws_1')).not.toBeNull();
});
