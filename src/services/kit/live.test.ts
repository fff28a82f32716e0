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
  const { subscribe } = await import('./live');
  const told = vi.fn();
  await subscribe('ws_1', told);
  made.clients[0]!.emit('notification', { payload: 'ws_1' });
  made.clients[0]!.emit('notification', { payload: 'ws_2' });
  expect(told).toHaveBeenCalledTimes(1);
  made.down = true;
  made.clients[0]!.emit('error', new Error('terminated'));
  made.clients[0]!.emit('end');
  await vi.advanceTimersByTimeAsync(120_000);
  // After half a second, one, two, four, eight, and then every ten.
  expect(made.clients.length - 1).toBe(5 + Math.floor((120 - 15.5) / 10));
  made.down = false;
  await vi.advanceTimersByTimeAsync(10_000);
  expect(told).toHaveBeenCalledTimes(2);
  const stood = made.clients.length;
  await vi.advanceTimersByTimeAsync(120_000);
  expect(made.clients.length).toBe(stood);
});
