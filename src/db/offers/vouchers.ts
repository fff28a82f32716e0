import type { Crossing, Scope } from '@/db/kit/scope';

/** Counts one more voucher of an offer, unless there are as many as there may be. */
export const takeOneOf = async (scope: Scope, offerId: string): Promise<boolean> =>
  (await scope.run(
    `update offer set made = made + 1 where workspace_id = :workspace and id = :offerId and (most is null or made < most)`,
    { offerId },
  )) === 1;

interface NewVoucher {
  id: string;
  offerId: string;
  personId: string;
  keyword: string | null;
  code: string;
  madeAt: Date;
  usesLeft: number;
  days: number | null;
  /** Known at once where it does not count from receipt. */
  expiresAt: Date | null;
}

export async function insertVoucher(scope: Scope, row: NewVoucher): Promise<{ id: string; code: string }> {
  const [made] = await scope.rows<{ id: string; code: string }>(
    `insert into voucher (id, workspace_id, offer_id, person_id, code, ending, days, keyword, made_at, expires_at, uses_left)
     select :id, :workspace, :offerId, p.id, :code, right(p.number, 4), :days::integer, :keyword, :madeAt::timestamptz, :expiresAt::timestamptz, :usesLeft
       from person p where p.workspace_id = :workspace and p.id = :personId returning id, code`,
    { ...row },
  );
  return made!;
}

/** The message that brings vouchers: their days count from when it is delivered. */
export const broughtBy = (scope: Scope, voucherIds: readonly string[], messageId: string): Promise<number> =>
  scope.run(
    `update voucher set message_id = :messageId where workspace_id = :workspace and id = any(:voucherIds::text[]) and received_at is null`,
    { voucherIds, messageId },
  );

/** On rows `v` of voucher and `o` of offer: it can be used at `:at`. The same as `voucherState` in `core/offer`. */
const VALID = `v.uses_left > 0 and (v.expires_at is null or v.expires_at > :at) and (o.to_at is null or o.to_at > :at)
  and (o.from_at is null or o.from_at <= :at) and o.archived_at is null`;

/**
 * Uses a voucher once, for a press at a till. Of two tills at once one succeeds, since the second finds the row as the
 * first left it; the same press sent twice counts once. False: it could not be used, or this press had counted before.
 */
export const redeemOnce = async (
  scope: Scope,
  use: { press: string; code: string; accountId: string | null; at: Date },
): Promise<boolean> =>
  (await scope.run(
    `with them as (
       select v.id from voucher v join offer o on o.id = v.offer_id where v.workspace_id = :workspace and v.code = :code and ${VALID} for update of v),
     pressed as (
       insert into redemption (id, workspace_id, voucher_id, at, account_id) select :press, :workspace, them.id, :at, :accountId from them
       on conflict (id) do nothing returning voucher_id)
     update voucher v set uses_left = v.uses_left - 1 from pressed where v.id = pressed.voucher_id`,
    { ...use },
  )) === 1;

/** Takes a use back, as long as nothing followed from it. */
export const takeBack = async (scope: Scope, press: string, since: Date, at: Date): Promise<boolean> =>
  (await scope.run(
    `with undone as (
       update redemption set undone_at = :at where workspace_id = :workspace and id = :press and undone_at is null and counted_at is null and at > :since
       returning voucher_id)
     update voucher v set uses_left = v.uses_left + 1 from undone where v.id = undone.voucher_id`,
    { press, since, at },
  )) === 1;

export interface VoucherRow {
  id: string;
  code: string;
  offer_id: string;
  offer: string;
  words: string;
  place: string;
  uses: number;
  uses_left: number;
  days: number | null;
  from_at: Date | null;
  to_at: Date | null;
  archived_at: Date | null;
  received_at: Date | null;
  expires_at: Date | null;
  first_name: string | null;
  /** The last time it was used, and by whom. */
  used_at: Date | null;
  used_by: string | null;
  used_press: string | null;
}

const ROW = `v.id, v.code, v.offer_id, o.name as offer, o.words, o.place, o.uses, v.uses_left, v.days, o.from_at, o.to_at, o.archived_at,
  coalesce(v.received_at, b.at) as received_at, v.expires_at, p.first_name, r.at as used_at, a.name as used_by, r.id as used_press`;

// A message that has just been delivered counts before the worker has written it down.
const FROM = `voucher v join offer o on o.id = v.offer_id join person p on p.id = v.person_id
  left join lateral (select m.settled_at as at from message m where m.id = v.message_id and m.state = 'delivered') b on true
  left join lateral (select id, at, account_id from redemption where voucher_id = v.id and undone_at is null order by at desc limit 1) r on true
  left join account a on a.id = r.account_id`;

export const voucherByCode = async (scope: Scope, code: string): Promise<VoucherRow | null> =>
  (
    await scope.rows<VoucherRow>(
      `select ${ROW} from ${FROM} where v.workspace_id = :workspace and v.code = :code`,
      {
        code,
      },
    )
  )[0] ?? null;

/** Vouchers with uses left that went to numbers that end so. */
export const vouchersByEnding = (scope: Scope, digits: string): Promise<VoucherRow[]> =>
  scope.rows<VoucherRow>(
    `select ${ROW} from ${FROM} where v.workspace_id = :workspace and v.ending = :digits and v.uses_left > 0 and o.archived_at is null
      order by v.made_at desc limit 20`,
    { digits },
  );

/** Writes down which vouchers were delivered, and when they end; how many these were. */
export const settleReceived = (crossing: Crossing): Promise<number> =>
  crossing.run(
    `update voucher v set received_at = m.settled_at, expires_at = least(m.settled_at + make_interval(days => v.days), o.to_at)
       from message m, offer o where v.received_at is null and v.message_id = m.id and m.state = 'delivered' and o.id = v.offer_id`,
  );

/** When vouchers of an offer end, after its own end was changed. Who has longer now is told anew. */
export const settleEnds = (scope: Scope, offerId: string): Promise<number> =>
  scope.run(
    `update voucher v set told = case when n.at is distinct from v.expires_at and (n.at is null or n.at > v.expires_at) then null else v.told end, expires_at = n.at
       from voucher b join offer o on o.id = b.offer_id, lateral (select least(b.received_at + make_interval(days => b.days), o.to_at) as at) n
      where b.workspace_id = :workspace and b.offer_id = :offerId and v.id = b.id and v.expires_at is distinct from n.at`,
    { offerId },
  );

/** Tells of vouchers that end before `soon`, and of those that have ended: each once. */
export const tellEnds = (crossing: Crossing, { now, soon }: { now: Date; soon: Date }): Promise<number> =>
  crossing.run(
    `with ending as (
       select v.id, case when v.expires_at <= :now then 'expired' else 'expiring' end as told from voucher v
        where v.expires_at <= :soon and v.told is distinct from 'expired' and (v.told is null or v.expires_at <= :now) and v.uses_left > 0
        order by v.expires_at limit 5000 for update skip locked),
     told as (
       update voucher v set told = e.told from ending e where v.id = e.id returning v.workspace_id, v.person_id, v.offer_id, v.expires_at, e.told)
     insert into happening (workspace_id, person_id, kind, subject, detail, at)
     select t.workspace_id, t.person_id, 'voucher.' || t.told, t.offer_id, jsonb_build_object('ends', t.expires_at), :now::timestamptz
       from (select happening_begin() as may) b, told t where b.may`,
    { now, soon },
  );

/** What cannot be undone any more happened: it is noted with its person, and told. */
export const countUses = (crossing: Crossing, before: Date): Promise<number> =>
  crossing.run(
    `with counted as (
       update redemption r set counted_at = r.at where r.id in (
         select id from redemption where counted_at is null and undone_at is null and at <= :before order by at limit 5000 for update skip locked)
       returning r.workspace_id, r.voucher_id, r.at)
     insert into engagement (workspace_id, person_id, kind, text_id, at)
     select c.workspace_id, v.person_id, 'redeemed', v.message_id, c.at from counted c join voucher v on v.id = c.voucher_id`,
    { before },
  );

export interface OfferRow {
  id: string;
  made: number;
  received: number;
  opened: number;
  redeemed: number;
  uses: number;
  expired: number;
  /** Half of those who used it did so within so many hours of receipt. */
  median_hours: number | null;
}

/** What came of offers. */
export const offerResults = (scope: Scope, now: Date): Promise<OfferRow[]> =>
  scope.rows<OfferRow>(
    `select v.offer_id as id, count(*)::int as made, count(v.received_at)::int as received, count(v.opened_at)::int as opened,
            count(u.first)::int as redeemed, coalesce(sum(u.n), 0)::int as uses,
            count(*) filter (where u.first is null and v.expires_at <= :now)::int as expired,
            percentile_cont(0.5) within group (order by extract(epoch from u.first - v.received_at) / 3600) as median_hours
       from voucher v left join lateral (
         select min(at) as first, nullif(count(*), 0) as n from redemption r where r.voucher_id = v.id and r.undone_at is null) u on true
      where v.workspace_id = :workspace group by 1`,
    { now },
  );

/** The same by keyword, and by day of use, for one offer. */
export const offerByKeyword = (
  scope: Scope,
  offerId: string,
): Promise<{ keyword: string | null; made: number; redeemed: number }[]> =>
  scope.rows(
    `select v.keyword, count(*)::int as made, count(*) filter (where exists (select 1 from redemption r where r.voucher_id = v.id and r.undone_at is null))::int as redeemed
       from voucher v where v.workspace_id = :workspace and v.offer_id = :offerId group by 1 order by 2 desc`,
    { offerId },
  );

export const usesByDay = (
  scope: Scope,
  offerId: string,
  zone: string,
): Promise<{ day: string; given: number; used: number }[]> =>
  scope.rows(
    `select to_char(day, 'YYYY-MM-DD') as day, sum(given)::int as given, sum(used)::int as used from (
       select (made_at at time zone :zone)::date as day, 1 as given, 0 as used from voucher where workspace_id = :workspace and offer_id = :offerId
       union all
       select (r.at at time zone :zone)::date, 0, 1 from redemption r join voucher v on v.id = r.voucher_id
        where r.workspace_id = :workspace and v.offer_id = :offerId and r.undone_at is null) d
      group by 1 order by 1`,
    { offerId, zone },
  );

/** Codes typed lately that are none of ours, by who typed them. */
export const wrongCodes = (
  scope: Scope,
  since: Date,
): Promise<{ account_id: string | null; name: string | null; n: number; last: Date }[]> =>
  scope.rows(
    `select w.account_id, a.name, count(*)::int as n, max(w.at) as last from wrong_code w left join account a on a.id = w.account_id
      where w.workspace_id = :workspace and w.at > :since group by 1, 2 order by 3 desc`,
    { since },
  );

/** When somebody typed codes that are none, the last ones first. */
export const wrongSince = async (
  scope: Scope,
  accountId: string | null,
  since: Date,
  most: number,
): Promise<Date[]> =>
  (
    await scope.rows<{ at: Date }>(
      `select at from wrong_code where workspace_id = :workspace and at > :since and account_id is not distinct from :accountId order by at desc limit :most`,
      { accountId, since, most },
    )
  ).map(({ at }) => at);
