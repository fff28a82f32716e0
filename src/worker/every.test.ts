import { describe, expect, it } from 'vitest';
import { every } from './every';

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

describe('a regular task', () => {
  it('runs again after a failure, never twice at once, and stops', async () => {
    let runs = 0;
    let running = 0;
    let most = 0;
    const silent = console.error;
    console.error = () => {};
    const task = every(1, async () => {
      runs += 1;
      most = Math.max(most, ++running);
      await pause(2);
      running -= 1;
      if (runs === 1) throw new Error('once');
    });
    while (runs < 3) await pause(1);
    task.stop();
    console.error = silent;
    await pause(10);
    const after = runs;
    await pause(10);
    expect([most, runs]).toEqual([1, after]);
  });

  it('that is woken runs at once, and once more when it was running', async () => {
    let runs = 0;
    let free: () => void = () => {};
    const task = every(60_000, async () => {
      runs += 1;
      if (runs === 2) await new Promise<void>((resolve) => (free = resolve));
    });
    const until = async (count: number) => {
      while (runs < count) await pause(1);
    };
    await until(1);
    await pause(1);
    task.wake();
    await until(2);
    task.wake();
    task.wake();
    await pause(5);
    expect(runs).toBe(2);
    free();
    await until(3);
    await pause(5);
    expect(runs).toBe(3);
    task.stop();
    task.wake();
    await pause(5);
    expect(runs).toBe(3);
  });
});
