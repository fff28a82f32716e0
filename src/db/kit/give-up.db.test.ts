import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { makeWorld, type World } from '@/services/testing/world';
import { whileWaitedFor } from './give-up';
import { TookTooLong } from './scope';

let world: World;
beforeAll(async () => void (world = await makeWorld()));
afterAll(() => world.close());

const asks = (signal: AbortSignal, sql: string, begun = () => {}) =>
  world.within((scope) =>
    whileWaitedFor(scope, signal, () => {
      const answer = scope.rows<{ n: number }>(sql);
      begun();
      return answer;
    }),
  );
const SLOW = `select 1 as n from pg_sleep(60) where :workspace is not null`;
const QUICK = `select 7 as n where :workspace is not null`;

describe('a question nobody waits for', () => {
  it('is ended in the database, and whoever asks next by the same connection is answered', async () => {
    for (let i = 0; i < 12; i++) {
      const left = new AbortController();
      await expect(asks(left.signal, SLOW, () => setTimeout(() => left.abort(), 20))).rejects.toThrow(
        TookTooLong,
      );
      expect(await asks(new AbortController().signal, QUICK)).toEqual([{ n: 7 }]);
    }
  });

  it('is not asked at all where they had left before', async () => {
    await expect(asks(AbortSignal.abort(), SLOW)).rejects.toThrow(/abort/i);
  });

  it('that was answered is not undone by leaving', async () => {
    const left = new AbortController();
    expect(await asks(left.signal, QUICK)).toEqual([{ n: 7 }]);
    left.abort();
    expect(await asks(new AbortController().signal, QUICK)).toEqual([{ n: 7 }]);
  });
});
