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

it('counts people by verdict and by the reasons of theirs, with the span in which holds end', () => {
  const report = new ReportBuilder();
  report.add(clearance('cleared'));
  report.add(clearance('held', ['quiet-hours', 'hold', 30]));
  report.add(clearance('held', ['quiet-hours', 'hold', 10], ['reply-unclear', 'hold', null]));
  // Whoever is blocked gets it at no hour: they stand under their blocks alone.
  report.add(clearance('blocked', ['opted-out', 'block', null], ['quiet-hours', 'hold', 90]));
  report.add(clearance('blocked', ['opted-out', 'block', null], ['landline', 'block', null]));
  const open = { earliest: null, latest: null };
  expect(report.build()).toEqual({
    ...{ people: 5, cleared: 1, held: 2, blocked: 2 },
    lines: [
      { code: 'quiet-hours', effect: 'hold', people: 2, earliest: 10, latest: 30 },
      { code: 'opted-out', effect: 'block', people: 2, ...open },
      { code: 'reply-unclear', effect: 'hold', people: 1, ...open },
      { code: 'landline', effect: 'block', people: 1, ...open },
    ],
  });
});
