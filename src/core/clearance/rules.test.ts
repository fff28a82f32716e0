import { describe, expect, it } from 'vitest';
import { limitFor, ruleFor, SHIPPED_RULES } from './rules';

const minutes = (clock: string) => Number(clock.slice(0, 2)) * 60 + Number(clock.slice(3));

describe('rules of hours', () => {
  it('are a state’s own where it has one, else the federal ones', () => {
    const [state] = Object.keys(SHIPPED_RULES.states);
    expect(ruleFor(SHIPPED_RULES, { region: state!, country: 'US' })).toBe(SHIPPED_RULES.states[state!]);
    expect(ruleFor(SHIPPED_RULES, { region: 'ZZ', country: null })).toBe(SHIPPED_RULES.federal);
    expect(ruleFor(SHIPPED_RULES, { region: null, country: null })).toBe(SHIPPED_RULES.federal);
    expect(limitFor(SHIPPED_RULES, { region: null, country: null })).toBeUndefined();
  });

  it('of a state are never wider than the federal ones, and each says where it stands', () => {
    const federal = SHIPPED_RULES.federal.windows[0]!;
    for (const [state, { source, windows }] of Object.entries(SHIPPED_RULES.states)) {
      expect(source.length, state).toBeGreaterThan(5);
      for (const { from, to } of windows) {
        expect(minutes(from), state).toBeGreaterThanOrEqual(minutes(federal.from));
        expect(minutes(to), state).toBeLessThanOrEqual(minutes(federal.to));
      }
    }
  });
});
