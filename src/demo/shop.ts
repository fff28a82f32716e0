import { DAY } from '@/core/shared/instant';
import type { Scope } from '@/db/kit/scope';
import { KeywordRow } from '@/db/programs/entities';
import { checkCode, redeemVoucher, undoUse } from '@/services/offers/counter';
import type { OfferInput } from '@/services/offers/inputs';
import { createOffer } from '@/services/offers/offers';
import { openVoucher } from '@/services/offers/public-voucher';
import { changeKeyword } from '@/services/programs/change-keyword';
import type { ChangeKeywordInput } from '@/services/programs/inputs';
import { stream } from './chance';
import { must, type DemoWorld } from './world';

/** Nobody drinks chocolate in the week in which the road is closed; a school holiday brings everybody. */
const QUIET_WEEK = 9;
const GOOD_WEEK = 6;

/** The second hot chocolate on the keyword of the gift shop. */
export async function furnishShop(world: DemoWorld, scope: Scope, accountId: string): Promise<void> {
  const actor = { name: accountId, accountId };
  const input = { name: 'Second hot chocolate', words: 'Show this at the gift shop.' };
  const offer = must(
    await createOffer(world.ctx, scope, { ...input, days: 14, place: 'gift shop' } as OfferInput, actor),
  );
  const { id, stamp } = await scope.em.findOneOrFail(KeywordRow, { word: 'meteor' });
  must(
    await changeKeyword(world.ctx, scope, id, { stamp, offer: offer.id } as ChangeKeywordInput, accountId),
  );
}

/** The till of the gift shop. It draws from a stream of its own: what happens here moves nothing else in the story. */
export class Shop {
  readonly #chance = stream(411_555);

  constructor(
    readonly world: DemoWorld,
    readonly workspaceId: string,
    readonly accountId: string,
  ) {}

  /** One afternoon: who got a voucher looks at it, and some come by with it. */
  async open(day: number): Promise<void> {
    const { ctx } = this.world;
    const till = { name: this.accountId, accountId: this.accountId };
    const week = Math.floor(day / 7);
    const share = week === QUIET_WEEK ? 0.006 : week === GOOD_WEEK ? 0.11 : 0.045;
    const vouchers = await this.world.within(this.workspaceId, (scope) =>
      scope.rows<{ code: string; fresh: boolean }>(
        `select code, received_at > :since as fresh from voucher
          where workspace_id = :workspace and received_at is not null and uses_left > 0 and expires_at > :now order by id`,
        { since: new Date(ctx.now() - DAY), now: new Date(ctx.now()) },
      ),
    );
    const within = <T>(work: (scope: Scope) => Promise<T>) => this.world.within(this.workspaceId, work);
    for (const { code, fresh } of vouchers) {
      if (fresh && this.#chance() < 0.62) await openVoucher(ctx, code);
      if (this.#chance() >= share) continue;
      const press = `demo ${day} ${code}`;
      await within((scope) => redeemVoucher(ctx, scope, { code, press }, till));
      // The wrong voucher of two in one hand: taken back at once, and used for good a moment later.
      if (this.#chance() < 0.03) {
        must(await within((scope) => undoUse(ctx, scope, press, till)));
        await within((scope) => redeemVoucher(ctx, scope, { code, press: `${press} again` }, till));
      }
    }
    if (this.#chance() < 0.15) await within((scope) => checkCode(ctx, scope, 'METEOR', till));
  }
}
