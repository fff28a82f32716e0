import { isSenderNumber, type StockNumber, type StockWish } from '@/core/numbers/stock';
import { cleanText, cutText } from '@/core/shared/clean-text';
import { isRecord } from '@/core/shared/json';
import type { PortFacts, PortStanding } from '@/core/numbers/port-in';
import type { CreditPack, PaymentStanding } from '@/core/credits/packs';
import { isDay } from '@/core/audience/days';
import { ok, refuse, type Result } from '@/core/shared/result';
import { doneBy, jsonBy, problemOf, type CallRefusal } from '../answered';
import { call, type Call, type Called } from '../call';

/** How an account is reached at its provider of numbers: the interface is described in `docs/formats/number-provider.json`. */
export interface ProviderAccess {
  url: string;
  account: string;
  token: string;
}

export interface Provider {
  account(access: ProviderAccess): Promise<Result<{ name: string; state: 'open' | 'closed' }, CallRefusal>>;
  /** What it lets now that somebody looks for, at most a page of it. */
  stock(access: ProviderAccess, wish: StockWish): Promise<Result<StockNumber[], CallRefusal>>;
  /** Takes a number, once for each reference. `gone`: somebody else has it. */
  take(
    access: ProviderAccess,
    number: string,
    reference: string,
  ): Promise<Result<StockNumber, CallRefusal | { kind: 'gone'; why: string }>>;
  giveBack(access: ProviderAccess, number: string): Promise<Result<null, CallRefusal>>;
  /** Brings a number along from another provider, once for each reference; asked again, how that stands, and the number once it is ours. */
  portIn(
    access: ProviderAccess,
    number: string,
    facts: PortFacts,
    reference: string,
  ): Promise<Result<PortStanding & { number: StockNumber | null }, CallRefusal>>;
  /** False: it is too late. */
  callPortBack(access: ProviderAccess, reference: string): Promise<Result<boolean, CallRefusal>>;
  packs(access: ProviderAccess): Promise<Result<CreditPack[], CallRefusal>>;
  /** Buys a pack, once for each reference; asked again, how the payment stands. */
  buy(access: ProviderAccess, pack: string, reference: string): Promise<Result<PaymentStanding, CallRefusal>>;
}

const PROVIDER = { name: 'The provider', kind: 'provider of numbers' };
const NONE: CallRefusal = { kind: 'refused', why: 'What answered there is no provider of numbers.' };
const MOST = 50;
const DEAREST = 1_000_000;

/** A provider of numbers over HTTP. `allowed`: hosts of private networks that may be called. */
export function providerOver(allowed: readonly string[]): Provider {
  const ask = (
    { url, account, token }: ProviderAccess,
    { path, ...rest }: Omit<Call, 'token' | 'url'> & { path: string },
  ): Promise<Called> =>
    call(
      { ...rest, url: `${url.replace(/\/+$/, '')}/accounts/${encodeURIComponent(account)}${path}`, token },
      allowed,
    );
  const of = (number: string) => `/numbers/${encodeURIComponent(number)}`;
  return {
    account: async (access) => {
      const body = jsonBy(await ask(access, { method: 'GET', path: '' }), PROVIDER);
      if (!body.ok) return body;
      if (!isRecord(body.value) || (body.value.state !== 'open' && body.value.state !== 'closed'))
        return refuse(NONE);
      const { name, state } = body.value;
      return ok({ state, name: typeof name === 'string' ? cutText(cleanText(name), 80) : '' });
    },
    stock: async (access, wish) => {
      const asked = { method: 'GET' as const, path: `/stock?${queryOf(wish)}`, timeoutMs: 10_000 };
      const body = jsonBy(await ask(access, asked), PROVIDER);
      if (!body.ok) return body;
      if (!isRecord(body.value) || !Array.isArray(body.value.numbers)) return refuse(NONE);
      return ok((body.value.numbers as unknown[]).slice(0, MOST).flatMap((one) => readNumber(one) ?? []));
    },
    take: async (access, number, reference) => {
      const called = await ask(access, { method: 'PUT', path: of(number), body: { reference } });
      if (called.kind === 'answered' && called.status === 409)
        return refuse({ kind: 'gone', why: problemOf(called).words || 'Somebody else has it.' });
      const body = jsonBy(called, PROVIDER);
      if (!body.ok) return body;
      const taken = readNumber(body.value);
      return taken ? ok(taken) : refuse(NONE);
    },
    giveBack: async (access, number) => {
      const called = await ask(access, { method: 'DELETE', path: of(number) });
      // What is not ours there is given back.
      return called.kind === 'answered' && called.status === 404 ? ok(null) : doneBy(called, PROVIDER);
    },
    portIn: async (access, number, { holder, account, pin, postalCode }, reference) => {
      const body = jsonBy(
        await ask(access, {
          ...{ method: 'PUT', path: `/ports/${encodeURIComponent(reference)}` },
          body: { number, holder, account, ...(pin ? { pin } : {}), postal_code: postalCode },
        }),
        PROVIDER,
      );
      if (!body.ok) return body;
      const standing = readPort(body.value);
      return standing ? ok(standing) : refuse(NONE);
    },
    callPortBack: async (access, reference) => {
      const called = await ask(access, { method: 'DELETE', path: `/ports/${encodeURIComponent(reference)}` });
      if (called.kind === 'answered' && called.status === 409) return ok(false);
      if (called.kind === 'answered' && called.status === 404) return ok(true);
      const done = doneBy(called, PROVIDER);
      return done.ok ? ok(true) : done;
    },
    packs: async (access) => {
      const body = jsonBy(await ask(access, { method: 'GET', path: '/credit-packs' }), PROVIDER);
      if (!body.ok) return body;
      if (!isRecord(body.value) || !Array.isArray(body.value.packs)) return refuse(NONE);
      return ok((body.value.packs as unknown[]).slice(0, MOST).flatMap((one) => readPack(one) ?? []));
    },
    buy: async (access, pack, reference) => {
      const path = `/credit-orders/${encodeURIComponent(reference)}`;
      const body = jsonBy(await ask(access, { method: 'PUT', path, body: { pack } }), PROVIDER);
      if (!body.ok) return body;
      const standing = readPayment(body.value);
      return standing ? ok(standing) : refuse(NONE);
    },
  };
}

const queryOf = ({ kind, area, town, digits, pictures, calls }: StockWish): URLSearchParams =>
  new URLSearchParams({
    ...(kind ? { kind } : {}),
    ...(area ? { area } : {}),
    ...(town ? { town } : {}),
    ...(digits ? { digits } : {}),
    ...(pictures ? { mms: 'true' } : {}),
    ...(calls ? { voice: 'true' } : {}),
  });

const KINDS: readonly unknown[] = ['local', 'toll-free', 'short-code'];
const credits = (value: unknown): number =>
  Number.isInteger(value) && (value as number) >= 0 && (value as number) <= DEAREST ? (value as number) : 0;

function readNumber(one: unknown): StockNumber | null {
  if (!isRecord(one) || typeof one.number !== 'string' || !KINDS.includes(one.kind)) return null;
  if (!isSenderNumber(one.number)) return null;
  return {
    ...{ number: one.number, kind: one.kind as StockNumber['kind'] },
    town: typeof one.town === 'string' ? cutText(cleanText(one.town), 80) : '',
    ...{ sms: one.sms === true, mms: one.mms === true, voice: one.voice === true },
    ...{ setup: credits(one.setup_credits), monthly: credits(one.monthly_credits) },
  };
}

const words = (value: unknown): string | null =>
  typeof value === 'string' && value !== '' ? cutText(cleanText(value), 300) : null;

const PORT_STATES: readonly unknown[] = ['checking', 'planned', 'done', 'refused'];

function readPort(one: unknown): (PortStanding & { number: StockNumber | null }) | null {
  if (!isRecord(one) || !PORT_STATES.includes(one.state)) return null;
  const state = one.state as PortStanding['state'];
  const number = readNumber(one.number);
  // One that is ours without being named would leave us with nothing to write from.
  if (state === 'done' && !number) return null;
  const day = typeof one.day === 'string' && isDay(one.day) ? one.day : null;
  return { state, day, reason: words(one.reason), number };
}

function readPack(one: unknown): CreditPack | null {
  if (!isRecord(one) || typeof one.id !== 'string' || typeof one.currency !== 'string') return null;
  const { id, credits: holds, price, currency } = one;
  const whole = (value: unknown, least: number) =>
    Number.isInteger(value) && (value as number) >= least && (value as number) <= 1_000_000_000;
  if (!whole(holds, 1) || !whole(price, 0) || !/^[A-Z]{3}$/.test(currency) || id.length > 80) return null;
  return { id, credits: holds as number, price: price as number, currency };
}

const PAYMENT_STATES: readonly unknown[] = ['waiting', 'paid', 'refused'];

const readPayment = (one: unknown): PaymentStanding | null =>
  isRecord(one) && PAYMENT_STATES.includes(one.state)
    ? { state: one.state as PaymentStanding['state'], reason: words(one.reason) }
    : null;
