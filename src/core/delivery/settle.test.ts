import { describe, expect, it } from 'vitest';
import { HOUR, MINUTE } from '../shared/instant';
import { RECEIPT_MARGIN, VALIDITY } from './failure';
import { settleSilence } from './settle';

describe('silence', () => {
  const since = 0;
  const late = VALIDITY + RECEIPT_MARGIN;
  const evidence = { at: late, since, linkUpSince: 0, receiptsCome: 100, receiptsMissing: 0, partsKnown: 0 };
  it.each([
    ['is waited out before the validity is over', { at: late - 1 }, 'wait'],
    ['is waited out while the link is down', { linkUpSince: null }, 'wait'],
    ['is waited out until the link was up for long enough', { linkUpSince: late - 9 * MINUTE }, 'wait'],
    ['proves that nothing was taken when every neighbour’s receipt came', {}, 'not-taken'],
    ['proves nothing when a neighbour’s receipt is missing too', { receiptsMissing: 1 }, 'unconfirmed'],
    ['proves nothing once the carrier told of a part', { partsKnown: 1 }, 'unconfirmed'],
    ['proves nothing with too few neighbours', { receiptsCome: 19 }, 'unconfirmed'],
    [
      'proves nothing however long, when receipts get lost',
      { at: late + 100 * HOUR, receiptsMissing: 3 },
      'unconfirmed',
    ],
  ] as const)('%s', (_, change, settlement) =>
    expect(settleSilence({ ...evidence, ...change })).toBe(settlement),
  );
});
