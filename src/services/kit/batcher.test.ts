import { describe, expect, it } from 'vitest';
import { Batcher } from './batcher';

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

describe('a batcher', () => {
  it('handles what comes together at once, and answers each when it is done', async () => {
    const batches: number[][] = [];
    const batcher = new Batcher<number>(
      async (items) => {
        batches.push(items);
      },
      {
        most: 100,
        waitMs: 5,
      },
    );
    await Promise.all([1, 2, 3].map((item) => batcher.add(item)));
    await batcher.add(4);
    expect(batches).toEqual([[1, 2, 3], [4]]);
  });

  it('gives each the answer to it', async () => {
    const batcher = new Batcher<number, number>(async (items) => items.map((item) => item * 2), {
      most: 100,
      waitMs: 5,
    });
    expect(await Promise.all([1, 2, 3].map((item) => batcher.add(item)))).toEqual([2, 4, 6]);
  });

  it('does not wait once it is full', async () => {
    const batches: number[][] = [];
    const batcher = new Batcher<number>(
      async (items) => {
        batches.push(items);
      },
      {
        most: 2,
        waitMs: 60_000,
      },
    );
    await Promise.all([batcher.add(1), batcher.add(2)]);
    expect(batches).toEqual([[1, 2]]);
  });

  it('fails only those of the batch that failed', async () => {
    const batcher = new Batcher<number>(
      async (items) => {
        if (items.includes(1)) throw new Error('no');
      },
      { most: 1, waitMs: 1 },
    );
    const results = await Promise.allSettled([batcher.add(1), batcher.add(2)]);
    expect(results.map(({ status }) => status)).toEqual(['rejected', 'fulfilled']);
  });

  it('runs one batch at a time, and the next takes all that came meanwhile', async () => {
    const batches: number[][] = [];
    let running = 0;
    let most = 0;
    const batcher = new Batcher<number>(
      async (items) => {
        most = Math.max(most, ++running);
        batches.push(items);
        await pause(20);
        running -= 1;
      },
      { most: 3, waitMs: 1 },
    );
    const first = batcher.add(1);
    while (running === 0) await pause(1);
    await Promise.all([first, ...[2, 3, 4, 5].map((item) => batcher.add(item))]);
    expect(most).toBe(1);
    expect(batches).toEqual([[1], [2, 3, 4], [5]]);
  });

  it('drains what was added', async () => {
    const seen: number[] = [];
    const batcher = new Batcher<number>(
      async (items) => {
        seen.push(...items);
      },
      {
        most: 100,
        waitMs: 60_000,
      },
    );
    void batcher.add(1);
    await batcher.drain();
    expect(seen).toEqual([1]);
  });
});
