import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DAY, HOUR, MINUTE } from '../shared/instant';
import { instantAt } from '../shared/zone';
import {
  callbackRate,
  CALLED_BACK_WITHIN,
  exposure,
  NOTHING_SEEN,
  QUARTER,
  shareBy,
  USUAL_SPREAD,
} from './callbacks';
import { loadFor, shareBusy } from './erlang';
import { peopleAtPhones } from './phones';
import { planWaves, whyWave, type WaveQuestion } from './waves';

const AT = Date.UTC(2026, 10, 24, 17, 0);
const MINE = { callTakes: 4 * MINUTE, mayBeBusy: 0.05 };

const question = (over: Partial<WaveQuestion> = {}): WaveQuestion => ({
  ...{ people: 200, from: AT, rate: callbackRate(NOTHING_SEEN) },
  phones: { at: () => 3, ...MINE },
  mayDrop: () => true,
  ...over,
});

/** Mulberry32: the same numbers each time, as even as chance. */
function chanceOf(seed: number): () => number {
  let state = seed;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let t = Math.imul(state ^ (state >>> 15), 1 | state);
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t;
    return ((t ^ (t >>> 14)) >>> 0) / 4_294_967_296;
  };
}

describe('the share of calls that finds nobody free', () => {
  // Erlang B as it is tabulated everywhere: so many people carry so much load at this share.
  it.each([
    [1, 0.01, 0.0101],
    [5, 0.01, 1.361],
    [10, 0.01, 4.461],
    [20, 0.01, 12.03],
    [10, 0.02, 5.084],
    [5, 0.05, 2.219],
    [10, 0.05, 6.216],
    [100, 0.01, 84.06],
  ])('of %s people at %s is that of %s Erlang', (people, share, load) => {
    expect(loadFor(people, share)).toBeCloseTo(load, load < 1 ? 3 : 1);
    expect(shareBusy(load, people)).toBeCloseTo(share, 2);
  });

  it('is what the closed form says', () => {
    const factorial = (n: number): number => (n < 2 ? 1 : n * factorial(n - 1));
    for (const [load, people] of [
      [2, 3],
      [7.5, 6],
      [0.4, 1],
    ] as const) {
      const terms = Array.from({ length: people + 1 }, (_, k) => load ** k / factorial(k));
      expect(shareBusy(load, people)).toBeCloseTo(terms.at(-1)! / terms.reduce((a, b) => a + b), 12);
    }
  });

  it('rises with the load, falls with the people, and is all where nobody is', () => {
    expect(shareBusy(3, 0)).toBe(1);
    expect(shareBusy(0, 3)).toBe(0);
    expect(loadFor(0, 0.05)).toBe(0);
    const load = fc.double({ min: 0.01, max: 200, noNaN: true });
    fc.assert(
      fc.property(load, fc.integer({ min: 1, max: 150 }), (a, n) => {
        expect(shareBusy(a * 1.1, n)).toBeGreaterThanOrEqual(shareBusy(a, n));
        expect(shareBusy(a, n + 1)).toBeLessThanOrEqual(shareBusy(a, n));
      }),
    );
  });
});

describe('what is thought of calls back', () => {
  it('begins with one in ten, and says how little is known', () => {
    const rate = callbackRate(NOTHING_SEEN);
    expect(rate.mean).toBeCloseTo(0.1, 10);
    expect(rate.high).toBeGreaterThan(0.2);
    expect(rate.ownPast).toBe(false);
    expect(rate.spread.reduce((sum, one) => sum + one, 0)).toBeCloseTo(0.85, 6);
  });

  it('is outweighed by what is seen, but never sure of the next drop', () => {
    const few = callbackRate({ exposed: 30, called: 12, byQuarter: [8, 2], later: 2 });
    expect(few.mean).toBeGreaterThan(0.25);
    const many = callbackRate({ exposed: 100_000, called: 3_000, byQuarter: [], later: 0 });
    expect(many.mean).toBeCloseTo(0.03, 2);
    expect(many.high - many.low).toBeGreaterThan(0.02);
  });

  it('takes a voicemail that was just left for next to nothing', () => {
    expect(exposure(USUAL_SPREAD, [0])).toBe(0);
    // Left by a worker whose clock is ahead.
    expect(exposure(USUAL_SPREAD, [-2_000])).toBe(0);
    expect(exposure(USUAL_SPREAD, [CALLED_BACK_WITHIN, 8 * DAY])).toBe(2);
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 8 * DAY }), fc.integer({ min: 0, max: DAY }), (a, more) => {
        expect(shareBy(USUAL_SPREAD, a + more)).toBeGreaterThanOrEqual(shareBy(USUAL_SPREAD, a));
        expect(shareBy(USUAL_SPREAD, a)).toBeLessThanOrEqual(1);
      }),
    );
  });
});

describe('waves', () => {
  it('leave everybody in time, in no quarter more than can be taken', () => {
    const plan = planWaves(question());
    expect(plan.waves.reduce((sum, { people }) => sum + people, 0)).toBe(200);
    expect(plan.left).toBe(0);
    expect(plan.waves.length).toBeGreaterThan(3);
    // What is expected stays below what there is room for, by the rate that is rarely surpassed and so by the best guess.
    for (const { calls, room } of plan.quarters) expect(calls).toBeLessThanOrEqual(room + 1e-9);
    expect(plan.unanswered).toBeLessThan(0.05);
  });

  it('of a rate known to be low are larger', () => {
    const first = (asked: WaveQuestion) => planWaves(asked).waves[0]!.people;
    const rare = callbackRate({ exposed: 5_000, called: 100, byQuarter: [], later: 0 });
    expect(first(question({ rate: rare }))).toBeGreaterThan(2 * first(question()));
    expect(first(question({ phones: { at: () => 8, ...MINE } }))).toBeGreaterThan(2 * first(question()));
  });

  it('wait for who is at the phones, and end before they go home', () => {
    const open = (at: number) => (at >= AT + 2 * HOUR && at < AT + 6 * HOUR ? 2 : 0);
    const plan = planWaves(question({ phones: { at: open, ...MINE }, people: 20 }));
    expect(plan.waves[0]!.at).toBe(AT + 2 * HOUR);
    expect(Math.max(...plan.waves.map(({ at }) => at))).toBeLessThan(AT + 5 * HOUR);
  });

  it('go only while voicemails may be left, over nights and days', () => {
    const day = (at: number) => (at - AT) % DAY < 8 * HOUR;
    const plan = planWaves(question({ people: 2_000, mayDrop: day }));
    expect(plan.waves.every(({ at }) => day(at))).toBe(true);
    expect(plan.waves.at(-1)!.at - AT).toBeGreaterThan(DAY);
  });

  it('have room taken by voicemails that were left before', () => {
    const left = [{ at: AT - 10 * MINUTE, people: 60 }];
    const first = planWaves(question()).waves[0]!.people;
    const after = planWaves(question({ left })).waves[0];
    expect(!after || after.at > AT || after.people < first).toBe(true);
  });

  it('where nobody ever takes calls are none', () => {
    const plan = planWaves(question({ phones: { at: () => 0, ...MINE } }));
    expect(plan).toMatchObject({ waves: [], left: 200 });
  });

  it('keep their promise in a simulation, within its error', () => {
    // A drop with exactly the rate that was planned for; calls come by chance, nobody waits.
    const rate = callbackRate({ exposed: 4_000, called: 400, byQuarter: [], later: 0 });
    const asked = question({ people: 600, rate });
    const plan = planWaves(asked);
    let [calls, busy] = [0, 0];
    const chance = chanceOf(7);
    for (let run = 0; run < 60; run += 1) {
      const arrivals: number[] = [];
      for (const { at, people } of plan.waves)
        for (let i = 0; i < people; i += 1) {
          if (chance() >= rate.high) continue;
          let u = chance();
          const quarter = rate.spread.findIndex((share) => (u -= share) < 0);
          if (quarter >= 0) arrivals.push(at + (quarter + chance()) * QUARTER);
        }
      arrivals.sort((a, b) => a - b);
      const until = [0, 0, 0];
      for (const at of arrivals) {
        calls += 1;
        const free = until.findIndex((end) => end <= at);
        if (free < 0) busy += 1;
        else until[free] = at - Math.log(chance()) * MINE.callTakes;
      }
    }
    const share = busy / calls;
    const error = 2 * Math.sqrt((share * (1 - share)) / calls);
    expect(share - error).toBeLessThan(MINE.mayBeBusy);
    // And it is not so careful that it would take all day.
    expect(share).toBeGreaterThan(0.01);
  });

  it('say why the next is smaller or larger', () => {
    expect(whyWave(0, 10, true)).toBe('nobody-there');
    expect(whyWave(0, 10, false)).toBe('phones-full');
    expect(whyWave(5, 10, false)).toBe('more-call');
    expect(whyWave(20, 10, false)).toBe('fewer-call');
    expect(whyWave(10, 10, false)).toBe('as-planned');
  });
});

describe('who is at the phones', () => {
  const ZONE = 'America/Denver';
  const week = [1, 2, 3, 4, 5].map((day) => ({ day, from: '09:00', to: '17:00' }));
  const at = (day: string, time: string) => instantAt(day, time, ZONE);

  it('follows the hours of each, and who is away', () => {
    const there = peopleAtPhones(
      [
        { hours: week, awayUntil: null },
        { hours: [{ day: 2, from: '12:00', to: '13:00' }], awayUntil: null },
        { hours: week, awayUntil: at('2026-11-25', '00:00') },
      ],
      ZONE,
      at('2026-11-24', '00:00'),
      3,
    );
    expect(there(at('2026-11-24', '08:59'))).toBe(0);
    expect(there(at('2026-11-24', '09:00'))).toBe(1);
    expect(there(at('2026-11-24', '12:30'))).toBe(2);
    expect(there(at('2026-11-24', '17:00'))).toBe(0);
    expect(there(at('2026-11-25', '10:00'))).toBe(2);
  });

  it('keeps the clock on the wall when it is changed', () => {
    const there = peopleAtPhones(
      [{ hours: [{ day: 7, from: '09:00', to: '24:00' }], awayUntil: null }],
      ZONE,
      at('2026-10-31', '00:00'),
      4,
    );
    expect(there(at('2026-11-01', '08:59'))).toBe(0);
    expect(there(at('2026-11-01', '09:00'))).toBe(1);
    expect(there(at('2026-11-01', '23:59'))).toBe(1);
    expect(there(at('2026-11-02', '00:00'))).toBe(0);
  });

  it('with no hours named is always', () => {
    const there = peopleAtPhones([{ hours: [], awayUntil: null }], ZONE, AT, 2);
    expect([there(AT), there(AT + DAY)]).toEqual([1, 1]);
    expect(peopleAtPhones([], ZONE, AT, 2)(AT)).toBe(0);
  });
});
