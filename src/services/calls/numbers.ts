import { parseNumber } from '@/core/phone/number';
import { cleanText, cutText } from '@/core/shared/clean-text';
import { isRecord } from '@/core/shared/json';
import { ok, refuse, type Result } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { SenderNumberRow } from '@/db/numbers/entities';
import { jsonBy } from '@/gateways/answered';
import { call } from '@/gateways/call';
import type { Actor } from '@/services/kit/actor';
import type { Context } from '@/services/kit/context';
import { callHosts } from '@/services/kit/settings';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { enterNumber } from '@/services/numbers/sender-numbers';
import { standingBoard } from './switchboards';

/** A number a telephone system has, and what it says it can do. */
export interface ListedNumber {
  number: string;
  name: string;
  sms: boolean;
  voice: boolean;
  /** It may be texted from. */
  registered: boolean;
  /** It is a sender number of ours already. */
  known: boolean;
}

const MOST = 500;

/** Asks a telephone system for its numbers. Outside of any transaction. */
export async function listNumbers(
  access: { numbersUrl: string; token: string | null },
  country: string,
  known: ReadonlySet<string>,
): Promise<Result<ListedNumber[], string>> {
  const called = await call(
    { method: 'GET', url: access.numbersUrl, token: access.token ?? '', timeoutMs: 10_000 },
    callHosts(),
  );
  const body = jsonBy(called, { name: 'The telephone system', kind: 'list of numbers' });
  if (!body.ok) return refuse(body.reason.why);
  const list = Array.isArray(body.value)
    ? body.value
    : isRecord(body.value) && Array.isArray(body.value.numbers)
      ? body.value.numbers
      : null;
  if (!list) return refuse('What answered there is no list of numbers.');
  return ok(
    list.slice(0, MOST).flatMap((one: unknown): ListedNumber[] => {
      const row = isRecord(one) ? one : { number: one };
      const read = typeof row.number === 'string' ? parseNumber(row.number, country) : null;
      if (!read?.ok) return [];
      return [
        {
          number: read.value,
          name: typeof row.name === 'string' ? cutText(cleanText(row.name), 80) : '',
          ...{ sms: row.sms === true, voice: row.voice !== false, registered: row.registered === true },
          known: known.has(read.value),
        },
      ];
    }),
  );
}

/** What a telephone system has, beside what is known of it here. */
export async function numbersOf(scope: Scope, id: string): Promise<Result<ListedNumber[], Refusal>> {
  const board = await standingBoard(scope, id);
  if (!board) return notFound('telephone system');
  if (board.numbersUrl === null)
    return conflict('numbers_url', 'numbers_url: this telephone system does not list its numbers.');
  const { country } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const known = await scope.em.find(SenderNumberRow, { releasedAt: null });
  const listed = await listNumbers(
    { numbersUrl: board.numbersUrl, token: board.token },
    country,
    new Set(known.map(({ number }) => number)),
  );
  return listed.ok ? listed : conflict('numbers_url', `numbers_url: ${listed.reason}`);
}

/** Brings chosen ones in as sender numbers: each can what it can, and texts leave it once it is registered. */
export async function bringNumbers(
  ctx: Context,
  scope: Scope,
  id: string,
  wanted: readonly string[],
  actor: Actor,
): Promise<Result<{ brought: number }, Refusal>> {
  const listed = await numbersOf(scope, id);
  if (!listed.ok) return listed;
  let brought = 0;
  for (const number of wanted) {
    const one = listed.value.find((row) => row.number === number);
    if (!one) return invalid('numbers', `numbers: ${number} is not in the list of the telephone system.`);
    if (one.known) continue;
    const added = await enterNumber(
      ctx,
      scope,
      {
        number: one.number,
        kind: /^\+18(?:00|33|44|55|66|77|88)/.test(one.number) ? 'toll-free' : 'local',
        registration: one.registered ? 'registered' : 'none',
      },
      actor.name,
    );
    if (!added.ok) return added;
    Object.assign(added.value, { sms: one.sms, voice: one.voice });
    await scope.em.flush();
    brought += 1;
  }
  return ok({ brought });
}
