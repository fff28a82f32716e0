import { ok } from '@/core/shared/result';
import { act, get, post, viewed, type Endpoint } from '@/services/kit/api';
import { conflict } from '@/services/kit/validation';
import type { Scope } from '@/db/kit/scope';
import { SenderNumberRow } from '@/db/numbers/entities';
import { carrierStates } from '@/db/delivery/carriers';
import { changeCarrier, connectionOf, enterCarrier, removeCarrier } from './carriers';
import {
  CarrierInput,
  ChangeCarrierInput,
  ChangeSenderInput,
  ConnectProviderInput,
  OrderNumberInput,
  PortInInput,
  RestInput,
  SearchNumbersInput,
  SenderNumberInput,
} from './inputs';
import {
  callPortBack,
  giveNumberBack,
  orderNumber,
  orderPortIn,
  readOrders,
  searchStocks,
  wishOf,
} from './market';
import { bringNumberBack, restNumber } from './rest';
import {
  checkProviderAgain,
  connectProvider,
  NO_PROVIDER,
  removeProvider,
  standingProviders,
} from './providers';
import { changeNumber, enterNumber } from './sender-numbers';
import { carrierView, offerView, orderView, providerView, senderView } from './views';

export async function listSenders(scope: Scope) {
  const rows = await scope.em.find(SenderNumberRow, { releasedAt: null }, { orderBy: { id: 'asc' } });
  return { items: rows.map(senderView) };
}

export const NUMBERS_API: readonly Endpoint[] = [
  get('/sender-numbers', 'Sender numbers', ({ scope }) => listSenders(scope).then(ok)),
  post(
    '/sender-numbers',
    'Enter a number that the carrier gave',
    SenderNumberInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      viewed(await enterNumber(ctx, scope, input, actor.name), senderView),
  ),
  post(
    '/sender-numbers/{id}',
    'Change what is known of a number',
    ChangeSenderInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await changeNumber(ctx, scope, id, input, actor.name), senderView),
  ),
  act(
    '/sender-numbers/{id}/release',
    'Give a number back: nothing leaves from it any more',
    async ({ ctx, scope, id, actor }) => viewed(await giveNumberBack(ctx, scope, id, actor), senderView),
  ),
  post(
    '/sender-numbers/{id}/rest',
    'Let a number rest: nothing is begun from it, and what is written to it is answered from it',
    RestInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await restNumber(ctx, scope, id, input, actor), senderView),
  ),
  act(
    '/sender-numbers/{id}/return',
    'Bring a number back that rests: it carries more by the day',
    async ({ ctx, scope, id, actor }) => viewed(await bringNumberBack(ctx, scope, id, actor), senderView),
  ),
  get(
    '/carriers',
    'Carriers, the installation’s first, with how their links stand and what came over them',
    ({ scope }) => carrierStates(scope).then((items) => ok({ items })),
  ),
  post('/carriers', 'Enter a carrier', CarrierInput, 201, async ({ ctx, scope, input, actor }) =>
    viewed(await enterCarrier(ctx, scope, input, actor.name), carrierView),
  ),
  post(
    '/carriers/{id}',
    'Change a carrier',
    ChangeCarrierInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await changeCarrier(ctx, scope, id, input, actor.name), carrierView),
  ),
  act(
    '/carriers/{id}/check',
    'Connect to a carrier once and say what it said; nothing is sent',
    async ({ scope, id }) => {
      const connection = await connectionOf(scope, id);
      return connection.ok ? ok(await connection.value()) : connection;
    },
  ),
  act(
    '/carriers/{id}/remove',
    'Take a carrier away that no number belongs to',
    async ({ ctx, scope, id, actor }) => viewed(await removeCarrier(ctx, scope, id, actor.name), carrierView),
  ),
  get('/number-providers', 'The providers numbers are taken from', async ({ scope }) =>
    ok({ items: (await standingProviders(scope)).map(providerView) }),
  ),
  post(
    '/number-providers',
    'Connect a provider numbers are taken from; it is asked at once',
    ConnectProviderInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      viewed(await connectProvider(ctx, scope, input, actor), providerView),
  ),
  act('/number-providers/{id}/check', 'Ask a provider now', async ({ ctx, scope, id }) =>
    viewed(await checkProviderAgain(ctx, scope, id), providerView),
  ),
  act('/number-providers/{id}/removal', 'Take a provider out', async ({ ctx, scope, id, actor }) =>
    viewed(await removeProvider(ctx, scope, id, actor), providerView),
  ),
  post(
    '/number-searches',
    'Numbers the providers let, by area code, town, digits, kind and what they can',
    SearchNumbersInput,
    200,
    async ({ scope, input }) => {
      const wish = wishOf(input);
      if (!wish.ok) return wish;
      const providers = await standingProviders(scope);
      if (providers.length === 0) return conflict('provider', NO_PROVIDER);
      const { offers, troubles } = await searchStocks(providers, wish.value);
      return ok({ items: offers.map(offerView), troubles });
    },
  ),
  get('/number-orders', 'Numbers that were asked for or given back, the latest first', async ({ scope }) =>
    ok({ items: (await readOrders(scope)).map(orderView) }),
  ),
  post(
    '/number-orders',
    'Take a number of a provider',
    OrderNumberInput,
    201,
    async ({ ctx, scope, input, actor }) => viewed(await orderNumber(ctx, scope, input, actor), orderView),
  ),
  post(
    '/number-ports',
    'Bring a number along from the provider it is with now',
    PortInInput,
    201,
    async ({ ctx, scope, input, actor }) => viewed(await orderPortIn(ctx, scope, input, actor), orderView),
  ),
  act(
    '/number-ports/{id}/call-back',
    'Call a number back that is on its way',
    async ({ ctx, scope, id, actor }) => viewed(await callPortBack(ctx, scope, id, actor), orderView),
  ),
];
