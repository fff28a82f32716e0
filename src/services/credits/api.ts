import { ok } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import { entryRows } from '@/db/credits/ledger';
import { act, get, listed, post, viewed, type Endpoint } from '@/services/kit/api';
import { conflict } from '@/services/kit/validation';
import { NO_PROVIDER, standingProviders } from '@/services/numbers/providers';
import { buyCredits, readCreditOrders, readPacksOf } from './buy';
import { BuyInput, DayLimitInput, PricesInput } from './inputs';
import { changePrices, limitDay } from './limits';
import { checkLedger } from './screen';
import { packView, creditOrderView, creditsView, entryView, pricesView } from './views';

export const CREDITS_API: readonly Endpoint[] = [
  get(
    '/credits',
    'Credits that are left, until when they are enough, what messages cost',
    async ({ scope }) => ok(creditsView(await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId }))),
  ),
  {
    ...get('/credit-entries', 'The ledger of credits, the latest first', async ({ scope, page }) => {
      const rows = await entryRows(scope, page.after === '' ? null : Number(page.after) || 0, page.limit + 1);
      return ok(listed(rows.map(entryView), page.limit, (row) => row));
    }),
    paged: true,
  },
  act('/credit-entries/check', 'Whether the ledger adds up; reads every message', async ({ scope }) =>
    ok(await checkLedger(scope)),
  ),
  post(
    '/credit-prices',
    'What messages cost from now on',
    PricesInput,
    200,
    async ({ ctx, scope, input, actor }) => viewed(await changePrices(ctx, scope, input, actor), pricesView),
  ),
  post(
    '/credit-limits',
    'What may be spent in a day on what is begun, of a program or of all',
    DayLimitInput,
    200,
    ({ ctx, scope, input, actor }) => limitDay(ctx, scope, input, actor),
  ),
  get('/credit-packs', 'Credits the providers sell', async ({ scope }) => {
    const providers = await standingProviders(scope);
    if (providers.length === 0) return conflict('provider', NO_PROVIDER);
    const { packs, troubles } = await readPacksOf(providers);
    return ok({ items: packs.map(packView), troubles });
  }),
  get('/credit-orders', 'Credits that were bought, the latest first', async ({ scope }) =>
    ok({ items: (await readCreditOrders(scope)).map(creditOrderView) }),
  ),
  post('/credit-orders', 'Buy a pack', BuyInput, 201, async ({ ctx, scope, input, actor }) =>
    viewed(await buyCredits(ctx, scope, input, actor), creditOrderView),
  ),
];
