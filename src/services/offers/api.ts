import { ok } from '@/core/shared/result';
import { Offer } from '@/db/offers/entities';
import { found, get, post, viewed, type Endpoint } from '@/services/kit/api';
import { checkCode, undoUse, redeemVoucher, vouchersOfEnding } from './counter';
import { ChangeOfferInput, CodeInput, EndingInput, OfferInput, UndoUseInput, UseInput } from './inputs';
import { changeOffer, createOffer } from './offers';
import { readOfferResult } from './screen';
import { offerView } from './views';

export const OFFERS_API: readonly Endpoint[] = [
  get('/offers', 'Offers', async ({ scope }) =>
    ok({ items: (await scope.em.find(Offer, {}, { orderBy: { id: 'asc' } })).map(offerView) }),
  ),
  post('/offers', 'Make an offer', OfferInput, 201, async ({ ctx, scope, input, actor }) =>
    viewed(await createOffer(ctx, scope, input, actor), offerView),
  ),
  get('/offers/{id}', 'An offer', async ({ scope, id }) => {
    const offer = await scope.em.findOne(Offer, { id });
    return found(offer && offerView(offer), 'offer');
  }),
  post(
    '/offers/{id}',
    'Change the terms of an offer, all of them',
    ChangeOfferInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await changeOffer(ctx, scope, id, input, actor), offerView),
  ),
  get('/offers/{id}/result', 'What came of an offer', async ({ ctx, scope, id }) =>
    found(await readOfferResult(scope, id, ctx.now()), 'offer'),
  ),
  post(
    '/vouchers/check',
    'Whether a code can be used',
    CodeInput,
    200,
    async ({ ctx, scope, input, actor }) => ok(await checkCode(ctx, scope, input.code, actor)),
  ),
  post(
    '/vouchers/search',
    'Vouchers of numbers that end in four digits',
    EndingInput,
    200,
    async ({ ctx, scope, input, actor }) => {
      const vouchers = await vouchersOfEnding(ctx, scope, input.ending, actor);
      return vouchers.ok ? ok({ items: vouchers.value }) : vouchers;
    },
  ),
  post(
    '/vouchers/uses',
    'Use a voucher up: sent again with the same press, it counts once',
    UseInput,
    200,
    async ({ ctx, scope, input, actor }) => ok(await redeemVoucher(ctx, scope, input, actor)),
  ),
  post(
    '/vouchers/uses/undo',
    'Take a use back within two minutes',
    UndoUseInput,
    200,
    ({ ctx, scope, input, actor }) => undoUse(ctx, scope, input.press, actor),
  ),
];
