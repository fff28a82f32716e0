import { describe, expect, it } from 'vitest';
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

  it('is quiet for a second since who looks did so, and still only where nothing is due', async () => {
    const { told, pulse } = world();
    await pulse.feel();
    const [beat, now] = [pulse.beats, performance.now()];
    expect([pulse.isQuiet(beat, now), pulse.isStill(beat, now)]).toEqual([true, true]);
    expect([pulse.isQuiet(beat - 1, now), pulse.isQuiet(beat, now - 1_001)]).toEqual([false, false]);
    told.due = true;
    await pulse.feel();
    expect([pulse.isQuiet(beat, now), pulse.isStill(beat, now)]).toEqual([true, false]);
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
  it('is left out as long as nothing was written; runs after a beat, when woken, and again after a failure', async () => {
    const { pulse, told } = world();
    await pulse.feel();
    let runs = 0;
    const task = every(
      5,
      async () => {
        runs += 1;
        if (runs === 2) throw new Error('once');
      },
      pulse,
    );
    const until = async (count: number) => {
      while (runs < count) await pause(2);
    };
    await until(1);
    await pause(60);
    expect(runs).toBe(1);
    told.mark = 'b';
    await pulse.feel();
    // The second fails: it is tried again although nothing was written.
    await until(3);
    await pause(60);
    expect(runs).toBe(3);
    task.wake();
    await until(4);
    await pause(60);
    expect(runs).toBe(4);
    // What becomes due by the clock alone is seen all the same.
    await until(5);
    task.stop();
  });
});
