import { DAY, type Millis } from '../shared/instant';

/** The terms of an offer. */
export interface Terms {
  /** How many days a voucher counts, from when it was received; null: as long as the offer stands. */
  days: number | null;
  from: Millis | null;
  to: Millis | null;
  archived: boolean;
}

export interface Held {
  /** Null: nobody knows that it came; its days have not begun. */
  received: Millis | null;
  usesLeft: number;
}

/** `valid` can be used now. The others say why not. */
export type VoucherState = 'valid' | 'used' | 'expired' | 'not-yet' | 'withdrawn';

/** What a till shows: a word and a shape, never colour alone. */
export const VOUCHER_WORDS: Record<VoucherState, { word: string; shape: string; means: string }> = {
  valid: { word: 'valid', shape: '✓', means: 'It can be used now.' },
  used: { word: 'used', shape: '●', means: 'It was used before.' },
  expired: { word: 'expired', shape: '✕', means: 'Its time is over.' },
  'not-yet': { word: 'not for today', shape: '◷', means: 'It counts from a later day.' },
  withdrawn: { word: 'withdrawn', shape: '✕', means: 'The offer was ended.' },
};

/** When a voucher ends: its days after receipt, or with the offer, whichever is first. Null: not known yet, or never. */
export function endOf({ days, to }: Terms, { received }: Held): Millis | null {
  const own = days !== null && received !== null ? received + days * DAY : null;
  if (own === null || to === null) return own ?? to;
  return Math.min(own, to);
}

export function voucherState(terms: Terms, held: Held, now: Millis): VoucherState {
  if (held.usesLeft <= 0) return 'used';
  const end = endOf(terms, held);
  if (end !== null && now >= end) return 'expired';
  if (terms.archived) return 'withdrawn';
  return terms.from !== null && now < terms.from ? 'not-yet' : 'valid';
}

/** What a till is told. `unknown`: no voucher of ours; `wait`: too many of those, and it must wait. */
export interface Told {
  state: VoucherState | 'unknown' | 'wait';
  /** Why it is unknown, or until when to wait. */
  because: string | null;
  code: string | null;
  offer: { name: string; words: string; place: string } | null;
  uses_left: number;
  ends_at: string | null;
  begins_at: string | null;
  used_at: string | null;
  used_by: string | null;
  /** The press by which it was used just now; it can be undone until then. */
  undo: { press: string; until: string } | null;
}
