import { describe, expect, it } from 'vitest';
import { Batcher, Lane } from './batcher';
import { every } from './every';

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

describe('a batcher', () => {
  it('handles what comes together at once, and answers each when it is done', async () => {
    const batches: number[][] = [];
    const batcher = new Batcher<number>(async (items) => void batches.push(items), {
      most: 100,
      waitMs: 5,
      lane: new Lane(),
    });
    await Promise.all([1, 2, 3].map((item) => batcher.add(item)));
    await batcher.add(4);
    expect(batches).toEqual([[1, 2, 3], [4]]);
  });

  it('does not wait once it is full', async () => {
    const batches: number[][] = [];
    const batcher = new Batcher<number>(async (items) => void batches.push(items), {
      most: 2,
      waitMs: 60_000,
      lane: new Lane(),
    });
    await Promise.all([batcher.add(1), batcher.add(2)]);
    expect(batches).toEqual([[1, 2]]);
  });

  it('fails only those of the batch that failed', async () => {
    const batcher = new Batcher<number>(
      async (items) => {
        if (items.includes(1)) throw new Error('no');
      },
      { most: 1, waitMs: 1, lane: new Lane() },
    );
    const results = await Promise.allSettled([batcher.add(1), batcher.add(2)]);
    expect(results.map(({ status }) => status)).toEqual(['rejected', 'fulfilled']);
  });

  it('runs one batch of a lane at a time, also of two batchers', async () => {
    const lane = new Lane();
    let running = 0;
    let most = 0;
    const work = async () => {
      most = Math.max(most, ++running);
      await pause(3);
      running -= 1;
    };
    const one = new Batcher<number>(work, { most: 1, waitMs: 1, lane });
    const two = new Batcher<number>(work, { most: 1, waitMs: 1, lane });
    await Promise.all([one.add(1), two.add(2), one.add(3), two.add(4)]);
    expect(most).toBe(1);
  });

  it('drains what was added', async () => {
    const seen: number[] = [];
    const batcher = new Batcher<number>(async (items) => void seen.push(...items), {
      most: 100,
      waitMs: 60_000,
      lane: new Lane(),
    });
    void batcher.add(1);
    await batcher.drain();
    expect(seen).toEqual([1]);
  });
});

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
});
