import { describe, expect, it } from 'vitest';
import {
  allowsMore,
  countryPlace,
  EVERYWHERE,
  isShipped,
  withRule,
  withShippedRule,
  wrongHours,
} from './own-rules';
import { ruleFor, SHIPPED_RULES, type HoursRule } from './rules';

const WEEK = [1, 2, 3, 4, 5, 6, 7];
const rule = (from: string, to: string, more: Partial<HoursRule> = {}): HoursRule => ({
  ...{ source: 'our counsel', windows: [{ days: WEEK, from, to }] },
  ...more,
});

describe('own rules of hours', () => {
  it('hold where they are written, with their day, and leave the others as they were', () => {
    const own = withRule(SHIPPED_RULES, 'CO', rule('10:00', '17:00'), '2026-11-26');
    expect(ruleFor(own, { region: 'CO', country: null })).toMatchObject({
      date: '2026-11-26',
      windows: [{ from: '10:00', to: '17:00' }],
    });
    expect(ruleFor(own, { region: 'CT', country: null })).toEqual(SHIPPED_RULES.states.CT);
    expect(ruleFor(own, { region: null, country: null })).toEqual(SHIPPED_RULES.federal);
    expect(isShipped(own)).toBe(false);
  });

  it('hold for another country, of which none ships, and never for a state with the same two letters', () => {
    const where = countryPlace('DE');
    const own = withRule(SHIPPED_RULES, where, rule('09:00', '20:00'), '2026-11-26');
    const hours = (region: string | null, country: string | null) =>
      ruleFor(own, { region, country }).windows[0]!.from;
    expect([hours(null, 'DE'), hours('DE', 'US'), hours(null, 'FR')]).toEqual(['09:00', '08:00', '08:00']);
    expect(isShipped(own)).toBe(false);
    expect(isShipped(withShippedRule(own, where))).toBe(true);
    const both = withRule(own, 'CO', rule('10:00', '17:00'), '2026-11-26');
    expect(ruleFor(both, { region: null, country: 'DE' })).toMatchObject({ date: '2026-11-26' });
  });

  it('go back to the shipped ones, place by place', () => {
    let own = withRule(SHIPPED_RULES, 'CO', rule('10:00', '17:00'), '2026-11-26');
    own = withRule(own, 'CT', rule('10:00', '17:00'), '2026-11-26');
    own = withRule(own, EVERYWHERE, rule('09:00', '20:00'), '2026-11-26');
    for (const where of ['CO', 'CT', EVERYWHERE]) own = withShippedRule(own, where);
    expect(isShipped(own)).toBe(true);
    expect(own.states).toEqual(SHIPPED_RULES.states);
    expect(own.federal).toEqual(SHIPPED_RULES.federal);
  });

  it.each<[string, HoursRule, string, boolean]>([
    ['narrower hours', rule('09:00', '20:00'), EVERYWHERE, false],
    ['the same hours', rule('08:00', '21:00'), EVERYWHERE, false],
    ['an hour earlier', rule('07:00', '20:00'), EVERYWHERE, true],
    ['what holds elsewhere, in a stricter state', rule('08:00', '21:00'), 'CT', true],
    ['the hours of a state with a limit, without it', rule('08:00', '20:00'), 'FL', true],
    ['a stricter limit', rule('08:00', '20:00', { limit: { count: 1, hours: 24 } }), 'FL', false],
    ['a looser limit', rule('08:00', '20:00', { limit: { count: 3, hours: 12 } }), 'FL', true],
    ['a Sunday morning in Texas', rule('09:00', '21:00'), 'TX', true],
  ])('with %s', (_, own, where, more) => expect(allowsMore(own, where)).toBe(more));

  it.each([
    [[], 'at least one span'],
    [[{ days: [], from: '08:00', to: '20:00' }], 'day of the week'],
    [[{ days: [1], from: '20:00', to: '08:00' }], 'end after'],
  ])('are refused as %j', (windows, words) => expect(wrongHours(windows)).toContain(words));

  it('are taken where they can be', () => expect(wrongHours(rule('08:00', '20:00').windows)).toBeNull());
});
