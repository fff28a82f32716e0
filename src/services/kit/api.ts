import { ok, type Result } from '@/core/shared/result';
import type { Actor } from './actor';
import type { Context } from './context';
import type { Scope } from './scope';
import { notFound, type Refusal } from './validation';

/** Reads for the API: plain rows in, views out. `null` means: no such row in this workspace. */

export interface Page {
  /** Id of the last row of the page before; empty for the first page. */
  after: string;
  limit: number;
}

export interface Listed<T> {
  items: T[];
  /** Give it as `after` for the next page; null on the last. */
  next: string | null;
}

export function listed<Row extends { id: string }, View>(
  rows: Row[],
  limit: number,
  view: (row: Row) => View,
): Listed<View> {
  const items = rows.slice(0, limit);
  return { items: items.map(view), next: rows.length > limit ? items[items.length - 1]!.id : null };
}

/** What an endpoint is called with. */
export interface Call<Input = unknown> {
  ctx: Context;
  scope: Scope;
  id: string;
  input: Input;
  page: Page;
  actor: Actor;
}

/** One endpoint of the public API. Each room lists its own; the OpenAPI document is made from the lists. */
export interface Endpoint {
  method: 'GET' | 'POST' | 'DELETE';
  /** `{id}` stands for one segment. */
  path: string;
  summary: string;
  /** The class the body is read as; left out: no body. */
  input?: new () => object;
  /** Bytes the body may have, where it is more than usual. */
  largest?: number;
  /** Gives rows a page at a time: takes `after` and `limit`. */
  paged?: true;
  /** Status of success. */
  status: 200 | 201 | 204;
  handle(call: Call): Promise<Result<unknown, Refusal>>;
}

export const get = (path: string, summary: string, handle: Endpoint['handle']): Endpoint => ({
  ...{ method: 'GET', path, summary, status: 200 },
  handle,
});

/** A list that is given a page at a time. */
export const getPage = (path: string, summary: string, handle: Endpoint['handle']): Endpoint => ({
  ...get(path, summary, handle),
  paged: true,
});

export function post<Input extends object>(
  path: string,
  summary: string,
  input: new () => Input,
  status: 200 | 201,
  handle: (call: Call<Input>) => Promise<Result<unknown, Refusal>>,
): Endpoint {
  return { method: 'POST', path, summary, input, status, handle: (call) => handle(call as Call<Input>) };
}

/** A verb on one thing, without a body. */
export const act = (path: string, summary: string, handle: Endpoint['handle']): Endpoint => ({
  ...{ method: 'POST', path, summary, status: 200 },
  handle,
});

/** Takes one thing away. */
export const remove = (path: string, summary: string, handle: Endpoint['handle']): Endpoint => ({
  ...{ method: 'DELETE', path, summary, status: 204 },
  handle,
});

export const viewed = <T, V>(result: Result<T, Refusal>, view: (value: T) => V): Result<V, Refusal> =>
  result.ok ? ok(view(result.value)) : result;

export const found = <T>(value: T | null, what: string): Result<T, Refusal> =>
  value === null ? notFound(what) : ok(value);
