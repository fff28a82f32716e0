import type { StockNumber, StockWish } from '@/core/numbers/stock';
import { cleanText, cutText } from '@/core/shared/clean-text';
import { isRecord } from '@/core/shared/json';
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
  if (!/^(?:\+[1-9]\d{7,14}|\d{5,6})$/.test(one.number)) return null;
  return {
    ...{ number: one.number, kind: one.kind as StockNumber['kind'] },
    town: typeof one.town === 'string' ? cutText(cleanText(one.town), 80) : '',
    ...{ sms: one.sms === true, mms: one.mms === true, voice: one.voice === true },
    ...{ setup: credits(one.setup_credits), monthly: credits(one.monthly_credits) },
  };
}
