import { makeCode } from '@/core/offer/code';
import { ok, refuse, type Result } from '@/core/shared/result';
import { writeHappenings } from '@/db/kit/happenings';
import type { Scope } from '@/db/kit/scope';
import { Offer, Voucher } from '@/db/offers/entities';
import { insertVoucher, takeOneOf } from '@/db/offers/vouchers';
import type { Context } from '@/services/kit/context';
import { publicUrl } from '@/services/kit/settings';

export interface GivenVoucher {
  id: string;
  code: string;
  link: string;
  /** What it says. */
  words: string;
}

export const voucherLink = (code: string): string => `${publicUrl()}/v/${code}`;

/**
 * A voucher of an offer for somebody: theirs, when they have one. Refused, in words that can be sent to them, when there
 * is none to be had.
 */
export async function giveVoucher(
  ctx: Context,
  scope: Scope,
  { offerId, personId, keyword }: { offerId: string; personId: string; keyword: string | null },
): Promise<Result<GivenVoucher, string>> {
  const offer = await scope.em.findOneOrFail(Offer, { id: offerId }, { refresh: true });
  const theirs = await scope.em.findOne(Voucher, { offerId, personId });
  if (theirs) return ok(givenOf(theirs, offer));
  const now = new Date(ctx.now());
  if (offer.archivedAt !== null || (offer.toAt !== null && offer.toAt <= now))
    return refuse(`"${offer.name}" is over.`);
  // The count is kept only where there is a limit: else everybody would wait for everybody's voucher.
  if (offer.most !== null && !(await takeOneOf(scope, offerId)))
    return refuse(`All of "${offer.name}" are given away.`);
  const row = await insertVoucher(scope, {
    ...{ id: ctx.id('vou'), offerId, personId, keyword, code: makeCode(ctx.bytes(5)), madeAt: now },
    ...{ usesLeft: offer.uses, days: offer.days, expiresAt: offer.toAt },
  });
  await writeHappenings(scope, [
    {
      kind: 'voucher.given',
      personId,
      subject: offerId,
      at: now,
      ...(keyword ? { detail: { keyword } } : {}),
    },
  ]);
  return ok(givenOf(row, offer));
}

const givenOf = ({ id, code }: { id: string; code: string }, { words }: Offer): GivenVoucher => ({
  ...{ id, code, words, link: voucherLink(code) },
});
