import { expect, it } from 'vitest';
import type { Clearance } from './clear';
import type { Effect, ReasonCode } from './reasons';
import { ReportBuilder } from './report';

const clearance = (
  verdict: Clearance['verdict'],
  ...reasons: [code: ReasonCode, effect: Effect, until: number | null][]
): Clearance => ({
  verdict,
  ...{ until: null, senderId: null },
  reasons: reasons.map(([code, effect, until]) => ({ code, effect, until, evidence: {} })),
});

it('counts each person once, under the reason that decides, with the span in which holds end', () => {
  const report = new ReportBuilder();
  report.add(clearance('cleared'));
  report.add(clearance('held', ['quiet-hours', 'hold', 30]));
  // The week's promise ends after the night, so the night holds nobody.
  report.add(clearance('held', ['quiet-hours', 'hold', 10], ['weekly-cap', 'hold', 60]));
  report.add(clearance('held', ['quiet-hours', 'hold', 10], ['reply-unclear', 'hold', null]));
  // Whoever is blocked gets it at no hour, and once is enough.
  report.add(clearance('blocked', ['quiet-hours', 'hold', 90], ['opted-out', 'block', null]));
  report.add(clearance('blocked', ['opted-out', 'block', null], ['landline', 'block', null]));
  const open = { earliest: null, latest: null };
  const { lines, ...totals } = report.build();
  expect(totals).toEqual({ people: 6, cleared: 1, held: 3, blocked: 2 });
  expect(lines).toEqual([
    { code: 'opted-out', effect: 'block', people: 2, ...open },
    { code: 'quiet-hours', effect: 'hold', people: 1, earliest: 30, latest: 30 },
    { code: 'weekly-cap', effect: 'hold', people: 1, earliest: 60, latest: 60 },
    { code: 'reply-unclear', effect: 'hold', people: 1, ...open },
  ]);
  for (const effect of ['hold', 'block'])
    expect(lines.filter((line) => line.effect === effect).reduce((sum, { people }) => sum + people, 0)).toBe(
      effect === 'hold' ? totals.held : totals.blocked,
    );
});
