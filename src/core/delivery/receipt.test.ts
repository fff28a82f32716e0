import { describe, expect, it } from 'vitest';
import { failureOf, partAfter } from './receipt';

describe('receipts', () => {
  it.each([
    ['DELIVRD', '000', null],
    ['ACCEPTD', '000', null],
    ['EXPIRED', '000', 'unreachable'],
    ['UNDELIV', '001', 'number-unknown'],
    ['UNDELIV', '1', 'number-unknown'],
    ['REJECTD', '040', 'spam-blocked'],
    ['UNDELIV', '013', 'carrier-opt-out'],
    ['UNDELIV', '999', 'refused'],
  ] as const)('%s %s is %s', (stat, err, reason) =>
    expect(partAfter(stat) === 'failed' ? failureOf(stat, err) : null).toBe(reason),
  );

  it('with codes of a carrier of its own are read by its table', () =>
    expect(failureOf('UNDELIV', '007', { '7': 'landline' })).toBe('landline'));
});
