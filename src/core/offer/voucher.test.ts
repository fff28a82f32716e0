import { describe, expect, it } from 'vitest';
import { DAY } from '../shared/instant';
import { endOf, voucherState, type Held, type Terms } from './voucher';

const terms = (more: Partial<Terms> = {}): Terms => ({
  days: 14,
  from: null,
  to: null,
  archived: false,
  ...more,
});
const held = (more: Partial<Held> = {}): Held => ({ received: 0, usesLeft: 1, ...more });

describe('a voucher', () => {
  it('counts its days from receipt; unreceived it has no end', () => {
    expect(endOf(terms(), held({ received: 3 * DAY }))).toBe(17 * DAY);
    expect(endOf(terms(), held({ received: null }))).toBeNull();
    expect(endOf(terms({ days: null }), held())).toBeNull();
  });

  it('ends with its offer, if that is sooner', () => {
    expect(endOf(terms({ to: 5 * DAY }), held())).toBe(5 * DAY);
    expect(endOf(terms({ to: 50 * DAY }), held())).toBe(14 * DAY);
    expect(endOf(terms({ to: 5 * DAY }), held({ received: null }))).toBe(5 * DAY);
  });

  it.each<[string, Partial<Terms>, Partial<Held>, number, string]>([
    ['to the last moment', {}, {}, 14 * DAY - 1, 'valid'],
    ['no longer', {}, {}, 14 * DAY, 'expired'],
    ['not twice', {}, { usesLeft: 0 }, 1, 'used'],
    ['said as used even when its time is over', {}, { usesLeft: 0 }, 20 * DAY, 'used'],
    ['not before the offer begins', { from: 2 * DAY }, {}, DAY, 'not-yet'],
    ['not after the offer was ended', { archived: true }, {}, DAY, 'withdrawn'],
  ])('is good %s', (_, given, had, now, state) =>
    expect(voucherState(terms(given), held(had), now)).toBe(state),
  );
});
