import { endOf, voucherState, type VoucherState } from '@/core/offer/voucher';
import type { Millis } from '@/core/shared/instant';
import type { PublicVoucherRow } from '@/db/offers/public';

type Row = Pick<PublicVoucherRow, 'days' | 'from_at' | 'to_at' | 'archived_at' | 'received_at' | 'uses_left'>;

/** What a voucher is worth at an instant, and when it ends. */
export function worthOf(row: Row, now: Millis): { state: VoucherState; end: Millis | null } {
  const terms = {
    ...{ days: row.days, archived: row.archived_at !== null },
    ...{ from: row.from_at?.getTime() ?? null, to: row.to_at?.getTime() ?? null },
  };
  const held = { received: row.received_at?.getTime() ?? null, usesLeft: row.uses_left };
  return { state: voucherState(terms, held, now), end: endOf(terms, held) };
}
