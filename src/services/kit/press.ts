import { cutText } from '@/core/shared/clean-text';
import { toJson } from '@/db/kit/json';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import type { Context } from './context';
import { Press as PressRow } from '@/db/kit/entities';

/** Longest token that is taken; a longer one is cut, and counts all the same. */
const LONGEST = 200;

/** `same`: it says what the first one said. */
export type Press = { first: true } | { first: false; answer: unknown; same: boolean };

/**
 * Counts a press of something that makes or sends: the first goes on, every other gets the first one's answer. Two at
 * the same moment wait for each other: the token is a row of the same transaction as what it makes.
 */
export async function countPress(
  ctx: Context,
  scope: Scope,
  token: string,
  said: string | null = null,
): Promise<Press> {
  const values = { token: cutText(token, LONGEST), said, at: new Date(ctx.now()) };
  const counted = await scope.run(
    `insert into press (workspace_id, token, said, at) values (:workspace, :token, :said, :at) on conflict do nothing`,
    values,
  );
  if (counted === 1) return { first: true };
  const row = await scope.em.findOne(PressRow, { token: values.token });
  return { first: false, answer: row?.answer ?? null, same: row?.said === said };
}

/** What the other presses are answered with. */
export const rememberAnswer = (scope: Scope, token: string, answer: unknown): Promise<number> =>
  scope.run(`update press set answer = :answer::jsonb where workspace_id = :workspace and token = :token`, {
    token: cutText(token, LONGEST),
    answer: toJson(answer ?? null),
  });

/** Nobody presses twice after this time. */
const KEPT_HOURS = 48;

export const forgetPresses = (ctx: Context): Promise<number> =>
  acrossWorkspaces(ctx.orm, (crossing) =>
    crossing.run(`delete from press where at < :before`, {
      before: new Date(ctx.now() - KEPT_HOURS * 3_600_000),
    }),
  );
