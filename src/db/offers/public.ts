import type { Crossing } from '@/db/kit/scope';

export interface PublicVoucherRow {
  business: string;
  zone: string;
  offer: string;
  words: string;
  place: string;
  days: number | null;
  from_at: Date | null;
  to_at: Date | null;
  archived_at: Date | null;
  received_at: Date | null;
  uses_left: number;
}

/** A voucher by its code, which says of which workspace it is. Nothing of the person. */
export const publicVoucher = async (crossing: Crossing, code: string): Promise<PublicVoucherRow | null> =>
  (
    await crossing.rows<PublicVoucherRow>(
      `select w.business, w.zone, o.name as offer, o.words, o.place, v.days, o.from_at, o.to_at, o.archived_at, v.uses_left,
              coalesce(v.received_at, (select m.settled_at from message m where m.id = v.message_id and m.state = 'delivered')) as received_at
         from voucher v join offer o on o.id = v.offer_id join workspace w on w.id = v.workspace_id where v.code = :code`,
      { code },
    )
  )[0] ?? null;

export const noteOpened = (crossing: Crossing, code: string, at: Date): Promise<number> =>
  crossing.run(`update voucher set opened_at = :at where code = :code and opened_at is null`, { code, at });
