import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { overviewOf } from './overview';
import { grainOf, lastDays, periodOf, periodsOf, spanBefore, lengthOf } from './spans';
import type { DaySum } from './sums';

const TODAY = '2026-11-24';
const SPAN = lastDays(7, TODAY);
const BEFORE = spanBefore(SPAN);

const sum = (day: string, what: DaySum['what'], n: number, more: Partial<DaySum> = {}): DaySum => ({
  ...{ day, channel: 'sms', what, reason: '', n, credits: 0 },
  ...more,
});
const of = (...sums: DaySum[]) => overviewOf(sums, SPAN, 'day', BEFORE);

describe('an overview', () => {
  it('counts what left, whatever became of it, and what it cost', () => {
    const { lines, perReply, perConversation } = of(
      sum('2026-11-20', 'delivered', 80, { credits: 160 }),
      sum('2026-11-20', 'begun', 50),
      sum('2026-11-20', 'failed', 20, { credits: 20, reason: 'landline' }),
      sum('2026-11-21', 'submitted', 5, { credits: 5 }),
      sum('2026-11-21', 'replied', 37),
      sum('2026-11-21', 'answered', 20),
      sum('2026-11-12', 'delivered', 10, { credits: 10 }),
    );
    expect([lines.sent.now, lines.sent.before, lines.spent.now]).toEqual([105, 10, 185]);
    expect(lines.delivered.rate?.now).toMatchObject({ count: 80, of: 100 });
    expect(lines.answered.rate?.now).toMatchObject({ count: 20, of: 50 });
    expect([perReply.now, perReply.before, perConversation.now]).toEqual([5, null, null]);
    expect(lines.sent.series).toEqual([0, 0, 0, 100, 5, 0, 0]);
  });

  it('says of what a count consists, the largest first', () => {
    const { lines } = of(
      sum('2026-11-18', 'joined', 2, { reason: 'import' }),
      sum('2026-11-19', 'joined', 9, { reason: 'keyword' }),
      sum('2026-11-11', 'joined', 4, { reason: 'form' }),
    );
    expect(lines.joined.parts).toEqual([
      { reason: 'keyword', now: 9, before: 0 },
      { reason: 'import', now: 2, before: 0 },
      { reason: 'form', now: 0, before: 4 },
    ]);
  });

  it('calls a difference one only where chance does not explain it, and never what somebody decided', () => {
    const many = (answered: number) => [
      sum('2026-11-20', 'begun', 1_000),
      sum('2026-11-20', 'answered', answered),
      sum('2026-11-12', 'begun', 1_000),
      sum('2026-11-12', 'answered', 30),
    ];
    expect(of(...many(80)).lines.answered.trend).toBe('more');
    expect(of(...many(5)).lines.answered.trend).toBe('fewer');
    expect(of(...many(36)).lines.answered.trend).toBeNull();
    expect(of(sum('2026-11-20', 'delivered', 5_000)).lines.sent.trend).toBeNull();
  });

  it('lets no late correction make a share of more than all, or of less than nothing', () => {
    const { lines } = of(
      sum('2026-11-20', 'delivered', 2),
      sum('2026-11-20', 'begun', 2),
      sum('2026-11-20', 'clicked', 5),
      sum('2026-11-20', 'lost', -1),
    );
    expect([lines.clicked.rate?.now.share, lines.left.rate?.now.share]).toEqual([1, 0]);
  });

  it('of nothing is nothing', () => {
    const { lines, periods } = of();
    expect(lines.sent).toMatchObject({ now: 0, before: 0, trend: null, series: periods.map(() => 0) });
    expect(lines.delivered.rate?.now.share).toBeNull();
  });

  it('has in its periods together what it has in all', () => {
    const days = fc.integer({ min: 0, max: 399 });
    const sums = fc.array(
      fc
        .tuple(days, fc.integer({ min: 1, max: 50 }))
        .map(([ago, n]) => sum(lastDays(ago, TODAY).from, 'delivered', n)),
    );
    const grain = fc.constantFrom('day' as const, 'week' as const, 'month' as const);
    fc.assert(
      fc.property(sums, grain, fc.integer({ min: 1, max: 200 }), (all, by, length) => {
        const span = lastDays(length, TODAY);
        const { lines } = overviewOf(all, span, by, spanBefore(span));
        expect(lines.delivered.series.reduce((a, b) => a + b, 0)).toBe(lines.delivered.now);
      }),
    );
  });
});

describe('spans', () => {
  it('end with yesterday, and the time before ends where they begin', () => {
    expect(SPAN).toEqual({ from: '2026-11-17', until: '2026-11-24' });
    expect(BEFORE).toEqual({ from: '2026-11-10', until: '2026-11-17' });
  });

  it.each([
    ['2026-11-24', 'week', '2026-11-23'],
    ['2026-11-23', 'week', '2026-11-23'],
    ['2027-01-01', 'week', '2026-12-28'],
    ['2026-02-28', 'month', '2026-02-01'],
    ['2026-11-24', 'day', '2026-11-24'],
  ] as const)('%s is of the %s of %s', (day, grain, first) => expect(periodOf(day, grain)).toBe(first));

  it('fall into periods without a gap, whatever clocks do in them', () => {
    const span = { from: '2026-10-20', until: '2027-04-02' };
    for (const grain of ['day', 'week', 'month'] as const) {
      const periods = periodsOf(span, grain);
      expect([periods[0]!.from, periods.at(-1)!.until]).toEqual([span.from, span.until]);
      for (const [i, { from }] of periods.slice(1).entries()) expect(from).toBe(periods[i]!.until);
    }
    expect(periodsOf(span, 'day')).toHaveLength(lengthOf(span));
  });

  it.each([
    [7, 'day'],
    [35, 'day'],
    [91, 'week'],
    [364, 'month'],
  ])('of %d days are told by the %s', (days, grain) => expect(grainOf(lastDays(days, TODAY))).toBe(grain));
});
