import { describe, expect, it, vi } from 'vitest';
import { TillQueue, type Answer, type Kept } from './till-queue';

const LOST: Answer = { ok: false, message: 'The line is bad: try again.', lost: true };
const REFUSED: Answer = { ok: false, message: 'Two minutes are over.', lost: false };
const GOOD: Answer = { ok: true, value: { state: 'used' } };
const press = (id: string): Kept => ({ do: 'use', code: 'x', press: id });

/** What a browser keeps when the page is gone. */
const storage = {
  value: '[]',
  getItem: () => storage.value,
  setItem: (_: string, value: string) => void (storage.value = value),
};

function till(answers: Answer[], before = '[]') {
  storage.value = before;
  const asked: string[] = [];
  const told: Answer[] = [];
  const queue = new TillQueue(
    storage,
    (answer) => told.push(answer),
    () => {},
    (question) => {
      asked.push((question as Kept).press);
      return Promise.resolve(answers.shift() ?? GOOD);
    },
  );
  return { queue, asked, told };
}

describe('presses at a till', () => {
  it('are sent again with the same id until the house has answered, each in its turn', async () => {
    vi.useFakeTimers();
    const { queue, asked, told } = till([LOST, LOST, GOOD]);
    queue.start();
    queue.add(press('one'));
    queue.add(press('two'));
    await vi.advanceTimersByTimeAsync(10_000);
    expect(asked).toEqual(['one', 'one', 'one', 'two']);
    expect(told).toEqual([LOST, LOST, GOOD, GOOD]);
    expect(storage.value).toBe('[]');
    queue.stop();
    vi.useRealTimers();
  });

  it('outlive the page', async () => {
    vi.useFakeTimers();
    const { queue, asked } = till([], JSON.stringify([press('from before')]));
    queue.start();
    await vi.advanceTimersByTimeAsync(100);
    expect(asked).toEqual(['from before']);
    queue.stop();
    vi.useRealTimers();
  });

  it('that are refused are not sent again, and hold up nobody', async () => {
    vi.useFakeTimers();
    const { queue, asked, told } = till([REFUSED]);
    queue.start();
    queue.add(press('one'));
    queue.add(press('two'));
    await vi.advanceTimersByTimeAsync(10_000);
    expect(asked).toEqual(['one', 'two']);
    expect(told[0]).toBe(REFUSED);
    queue.stop();
    vi.useRealTimers();
  });

  it('begin empty where what was kept cannot be read', async () => {
    const { queue, asked } = till([], '{broken');
    queue.start();
    await Promise.resolve();
    expect(asked).toEqual([]);
    queue.stop();
  });
});
