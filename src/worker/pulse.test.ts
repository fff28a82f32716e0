import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { every } from './every';
import { Pulse } from './pulse';

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** A database of which a test says what it tells. */
function world() {
  const told = { mark: 'a', due: false, ahead: 0, away: false, asked: null as Date | null };
  const pulse = new Pulse(
    () => Date.now() + told.ahead,
    async (before) => {
      told.asked = before;
      if (told.away) throw new Error('away');
      return { mark: told.mark, due: told.due };
    },
  );
  return { told, pulse };
}

describe('the pulse', () => {
  it('beats when anything was written and when the clock is moved, and not otherwise', async () => {
    const { told, pulse } = world();
    const beats: number[] = [];
    const feel = async () => (await pulse.feel(), beats.push(pulse.beats));
    await feel();
    await feel();
    told.mark = 'b';
    await feel();
    await feel();
    told.ahead = 3_600_000;
    await feel();
    await feel();
    expect(beats).toEqual([1, 1, 2, 2, 3, 3]);
    expect(told.asked!.getTime() - Date.now()).toBeGreaterThan(3_600_000);
  });

  it('is quiet for five times as long as who looks waits otherwise, at most three seconds; still as long as nothing is due, whatever is written', async () => {
    const { told, pulse } = world();
    await pulse.feel();
    const look = pulse.look();
    expect([look.isQuiet(200), look.isStill()]).toEqual([true, true]);
    const from = performance.now();
    const clock = vi.spyOn(performance, 'now');
    const quietFor = (everyMs: number) =>
      [900, 1_100, 2_900, 3_100, 9_000, 11_000]
        .filter((later) => {
          clock.mockReturnValue(from + later);
          return look.isQuiet(everyMs);
        })
        .at(-1);
    expect([200, 1_000, 10_000].map(quietFor)).toEqual([900, 2_900, 9_000]);
    clock.mockRestore();
    told.due = true;
    await pulse.feel();
    expect([look.isQuiet(200), look.isStill()]).toEqual([true, false]);
    told.due = false;
    told.mark = 'b';
    await pulse.feel();
    expect([look.isQuiet(200), look.isStill()]).toEqual([false, true]);
    const later = vi.spyOn(performance, 'now').mockReturnValue(from + 3_100);
    expect(look.isStill()).toBe(false);
    later.mockRestore();
  });

  it('that cannot be felt beats, so that everybody asks for themselves', async () => {
    const { told, pulse } = world();
    told.away = true;
    pulse.start();
    while (pulse.beats < 2) await pause(5);
    expect(pulse.due).toBe(true);
    told.away = false;
    while (pulse.due) await pause(5);
    pulse.stop();
  });
});

describe('a regular task with a pulse', () => {
  beforeEach(() => void vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance', 'Date'] }));
  afterEach(() => void vi.useRealTimers());

  it('is left out as long as nothing was written; runs after a beat, when woken, and again after a failure', async () => {
    const { pulse, told } = world();
    await pulse.feel();
    let runs = 0;
    const task = every(
      100,
      async () => {
        runs += 1;
        if (runs === 2) throw new Error('once');
      },
      pulse,
    );
    const after = async (ms: number) => (await vi.advanceTimersByTimeAsync(ms), runs);
    expect([await after(0), await after(450)]).toEqual([1, 1]);
    told.mark = 'b';
    await pulse.feel();
    // This one fails: it is tried again although nothing was written.
    expect([await after(100), await after(100), await after(350)]).toEqual([2, 3, 3]);
    task.wake();
    expect([await after(0), await after(450)]).toEqual([4, 4]);
    // What becomes due by the clock alone is seen all the same.
    expect(await after(100)).toBe(5);
    task.stop();
    expect(await after(5_000)).toBe(5);
  });
});
