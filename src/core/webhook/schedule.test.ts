import { describe, expect, it } from 'vitest';
import { DAY, HOUR } from '../shared/instant';
import { outcomeOf, pauseAfterTry } from './schedule';

describe('the pauses between tries', () => {
  it('grow, and last about three days in all', () => {
    const pauses: number[] = [];
    for (let tries = 1; pauseAfterTry(tries) !== null; tries++) pauses.push(pauseAfterTry(tries)!);
    expect(pauses).toEqual([...pauses].sort((a, b) => a - b));
    const all = pauses.reduce((sum, pause) => sum + pause, 0);
    expect(all).toBeGreaterThan(2.75 * DAY);
    expect(all).toBeLessThanOrEqual(3 * DAY + HOUR);
  });
});

describe('an answer', () => {
  it.each([
    [200, 'arrived'],
    [204, 'arrived'],
    [301, 'again'],
    [400, 'again'],
    [410, 'gone'],
    [500, 'again'],
  ] as const)('%i means %s', (status, outcome) => {
    expect(outcomeOf({ kind: 'answered', status, body: '', ms: 1 })).toBe(outcome);
  });

  it('that never came means again', () => {
    expect(outcomeOf({ kind: 'unreachable', why: 'no answer', ms: 1 })).toBe('again');
  });
});
