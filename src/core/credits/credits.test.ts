import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { HOUR } from '../shared/instant';
import { balanceAhead, shownAhead, type Drain } from './forecast';
import { ledgerGaps } from './ledger';
import { doubledRule, Prices, type Leaves, type PriceRule } from './prices';
import { Purse } from './purse';

const rule = (credits: number, more: Partial<PriceRule> = {}): PriceRule => ({
  ...{ what: 'text', kind: null, country: null, carrier: null, credits },
  ...more,
});
const leaves = (more: Partial<Leaves> = {}): Leaves => ({
  ...{ what: 'text', country: 'US', kind: 'local', carrier: 'house' },
  ...more,
});

describe('prices', () => {
  const usual = { text: 1, picture: 3 };

  it('are what is usual where no rule fits', () => {
    const prices = new Prices([rule(2, { country: 'CA' })], usual);
    expect(prices.of(leaves())).toBe(1);
    expect(prices.of(leaves({ what: 'picture', country: 'CA' }))).toBe(3);
    expect(prices.of(leaves({ country: 'CA' }))).toBe(2);
    expect(prices.of(leaves({ country: null }))).toBe(1);
  });

  it('go by the narrowest rule, and by the country before the carrier before the kind', () => {
    const rules = [
      rule(2),
      rule(3, { kind: 'local' }),
      rule(4, { carrier: 'house' }),
      rule(5, { country: 'US' }),
      rule(6, { kind: 'local', carrier: 'house' }),
    ];
    for (let most = rules.length; most > 0; most--) {
      const expected = { 5: 6, 4: 5, 3: 4, 2: 3, 1: 2 }[most];
      expect(new Prices(rules.slice(0, most).reverse(), usual).of(leaves()), String(most)).toBe(expected);
    }
  });

  it('never depend on the order the rules stand in', () => {
    const some = fc.record({
      what: fc.constantFrom('text' as const, 'picture' as const),
      kind: fc.constantFrom(null, 'local' as const, 'toll-free' as const),
      country: fc.constantFrom(null, 'US', 'CA'),
      carrier: fc.constantFrom(null, 'house', 'other'),
      credits: fc.nat(9),
    });
    fc.assert(
      fc.property(fc.array(some, { maxLength: 12 }), some, (rules, asked) => {
        fc.pre(doubledRule(rules) === -1);
        const there = new Prices(rules, usual).of(asked);
        expect(new Prices([...rules].reverse(), usual).of(asked)).toBe(there);
      }),
    );
  });

  it('find two rules that name the same', () => {
    expect(doubledRule([rule(1), rule(2, { kind: 'local' }), rule(3)])).toBe(2);
    expect(doubledRule([rule(1), rule(1, { what: 'picture' })])).toBe(-1);
  });
});

describe('a purse', () => {
  it('counts what is taken out of it, and out of every day that is limited', () => {
    const purse = new Purse(10, [{ of: 'program', limit: 5, left: 4, until: 0 }]);
    purse.take(3);
    expect(purse.left).toBe(7);
    expect(purse.days[0]!.left).toBe(1);
    const endless = Purse.endless();
    endless.take(1e9);
    expect(endless.left).toBe(Infinity);
  });
});

describe('the balance ahead', () => {
  const ahead = (balance: number, drains: Drain[], usual = 0, hours = 48) =>
    balanceAhead(balance, drains, () => usual, { now: 0, until: hours * HOUR });
  const drain = (hour: number, credits: number, what = `at ${hour}`): Drain => ({
    ...{ at: hour * HOUR, credits, what },
  });

  it('is enough until the first thing that finds too little', () => {
    const { enoughUntil, because, lacking } = ahead(100, [drain(20, 50), drain(10, 40), drain(30, 20)]);
    expect([enoughUntil, because, lacking]).toEqual([30 * HOUR, 'at 30', 10]);
  });

  it('is less by what usually goes, and says so when that is what lacks', () => {
    expect(ahead(100, [drain(10, 60)], 5)).toMatchObject({ enoughUntil: 10 * HOUR, because: 'at 10' });
    expect(ahead(24, [], 1)).toMatchObject({ enoughUntil: 24 * HOUR, because: null, lacking: 24 });
    expect(ahead(48, [], 1)).toMatchObject({ enoughUntil: null, lacking: 0 });
  });

  it('takes what was due and waits at once, and looks no further than it was asked', () => {
    expect(ahead(10, [drain(-5, 11)])).toMatchObject({ enoughUntil: 0 });
    expect(ahead(10, [drain(48, 11)])).toMatchObject({ enoughUntil: null });
  });

  it('is shown by what it is for, the earliest first, at every sixth hour', () => {
    const drains = [drain(20, 5, 'b'), drain(4, 1, 'a'), drain(30, 7, 'b')];
    const { points, ahead: lines } = shownAhead(ahead(100, drains), drains);
    expect(lines).toEqual([
      { what: 'a', from: 4 * HOUR, until: 4 * HOUR, credits: 1 },
      { what: 'b', from: 20 * HOUR, until: 30 * HOUR, credits: 12 },
    ]);
    expect(points).toHaveLength(8);
    expect(points.at(-1)).toEqual({ at: 48 * HOUR, left: 87 });
  });

  it('ends with what is left of everything', () => {
    fc.assert(
      fc.property(
        fc.nat(1_000),
        fc.array(fc.tuple(fc.nat(47), fc.nat(200)), { maxLength: 20 }),
        (balance, some) => {
          const { points } = ahead(
            balance,
            some.map(([hour, credits]) => drain(hour, credits)),
          );
          expect(points).toHaveLength(48);
          expect(points.at(-1)!.left).toBe(balance - some.reduce((sum, [, credits]) => sum + credits, 0));
        },
      ),
    );
  });
});

describe('a ledger', () => {
  it('adds up, or says what does not', () => {
    expect(ledgerGaps({ entries: 5, balance: 5, spent: 3, messages: 3 })).toEqual([]);
    expect(ledgerGaps({ entries: 5, balance: 6, spent: 3, messages: 2 })).toEqual([
      'The entries come to 5 credits, and 6 are said to be left.',
      'The ledger says that messages took 3 credits, and the messages say 2.',
    ]);
  });
});
