import { CODE_WORDS, parseCode, showCode, type CodeRefusal } from '@/core/offer/code';
import type { Told } from '@/core/offer/voucher';
import { MINUTE, toIso, type Millis } from '@/core/shared/instant';
import { cutText } from '@/core/shared/clean-text';
import { ok, type Result } from '@/core/shared/result';
import { announce } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { Redemption, Voucher, WrongCode } from '@/db/offers/entities';
import {
  takeBack,
  redeemOnce,
  voucherByCode,
  vouchersByEnding,
  wrongSince,
  type VoucherRow,
} from '@/db/offers/vouchers';
import { worthOf } from './worth';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, type Refusal } from '@/services/kit/validation';

/** How long a use can be undone; what follows from it follows after that. */
export const UNDO: Millis = 2 * MINUTE;
/** So many wrong codes within so long, and a till waits. */
const WRONG_CODES = 10;
const WITHIN: Millis = 10 * MINUTE;

const NOTHING: Omit<Told, 'state' | 'because'> = {
  ...{ code: null, offer: null, uses_left: 0, ends_at: null, begins_at: null, used_at: null, used_by: null },
  undo: null,
};

/** Looks a code up. Nothing is used by it; a wrong one is counted, so it is an answer and no refusal. */
export async function checkCode(ctx: Context, scope: Scope, typed: string, actor: Actor): Promise<Told> {
  const found = await look(ctx, scope, typed, actor);
  return 'told' in found ? found.told : toldOf(found.row, ctx.now());
}

/** A voucher by what was typed, or what there is to tell without one. */
async function look(
  ctx: Context,
  scope: Scope,
  typed: string,
  { accountId }: Actor,
): Promise<{ told: Told } | { row: VoucherRow }> {
  const now = ctx.now();
  const until = await mustWait(scope, accountId, now);
  if (until !== null)
    return {
      told: { ...NOTHING, state: 'wait', because: `Too many wrong codes. Try again at ${toIso(until)}.` },
    };
  const code = parseCode(typed);
  const row = code.ok ? await voucherByCode(scope, code.value) : null;
  if (row) return { row };
  await scope.em.persistAndFlush(
    scope.em.create(WrongCode, {
      ...{ workspaceId: scope.workspaceId, accountId, typed: cutText(typed, 40), at: new Date(now) },
    }),
  );
  return { told: { ...NOTHING, state: 'unknown', because: code.ok ? UNKNOWN : sayCode(code.reason) } };
}

const UNKNOWN = 'There is no such voucher here.';
const sayCode = (reason: CodeRefusal): string =>
  CODE_WORDS[reason].replace(/^code: ./, (first) => first.slice(6).toUpperCase());

/** Until when somebody who typed too many wrong codes waits; null: they need not. */
async function mustWait(scope: Scope, accountId: string | null, now: Millis): Promise<Millis | null> {
  const wrong = await wrongSince(scope, accountId, new Date(now - WITHIN), WRONG_CODES);
  return wrong.length < WRONG_CODES ? null : wrong.at(-1)!.getTime() + WITHIN;
}

function toldOf(row: VoucherRow, now: Millis, because: string | null = null): Told {
  const { state, end } = worthOf(row, now);
  const undoable = row.used_at !== null && row.used_press !== null && now < row.used_at.getTime() + UNDO;
  return {
    ...{ state, because, code: showCode(row.code), uses_left: row.uses_left },
    offer: { name: row.offer, words: row.words, place: row.place },
    ends_at: end === null ? null : toIso(end),
    begins_at: row.from_at === null ? null : toIso(row.from_at.getTime()),
    used_at: row.used_at === null ? null : toIso(row.used_at.getTime()),
    used_by: row.used_by,
    undo: undoable ? { press: row.used_press!, until: toIso(row.used_at!.getTime() + UNDO) } : null,
  };
}

/** What came of a press: `counted` is true for the press that used it, as often as it is sent. */
export type Used = Told & { counted: boolean };

/** Uses a voucher once for this press. */
export async function redeemVoucher(
  ctx: Context,
  scope: Scope,
  { code: typed, press }: { code: string; press: string },
  actor: Actor,
): Promise<Used> {
  const now = ctx.now();
  const found = await look(ctx, scope, typed, actor);
  if ('told' in found) return { ...found.told, counted: false };
  const { row } = found;
  const use = { press, code: row.code, accountId: actor.accountId, at: new Date(now) };
  // What cannot be used is not tried; of those that try at the same time, the statement lets one through.
  const tries = toldOf(row, now).state === 'valid';
  const used = tries && (await redeemOnce(scope, use));
  if (used) {
    await writeAudit(ctx, scope, actor.name, 'voucher.used', row.id, { press });
    await announce(scope, false);
  }
  const after = tries ? (await voucherByCode(scope, row.code))! : row;
  const before = after.used_press === press || (row.uses > 1 && (await countedBefore(scope, press, row.id)));
  return { ...toldOf(after, now), counted: used || before };
}

/** The same press was sent before, as it happens on a bad line. */
const countedBefore = async (scope: Scope, press: string, voucherId: string): Promise<boolean> =>
  (await scope.em.count(Redemption, { id: press, voucherId, undoneAt: null })) > 0;

/** Takes a use back, within two minutes. */
export async function undoUse(
  ctx: Context,
  scope: Scope,
  press: string,
  actor: Actor,
): Promise<Result<Told, Refusal>> {
  const now = ctx.now();
  const redemption = await scope.em.findOne(Redemption, { id: press });
  if (!redemption) return invalid('press', 'press: nothing was used by it.');
  if (!(await takeBack(scope, press, new Date(now - UNDO), new Date(now))))
    return conflict('press', 'press: two minutes are over, or it was undone before.');
  await writeAudit(ctx, scope, actor.name, 'voucher.use-undone', redemption.voucherId, { press });
  const { code } = await scope.em.findOneOrFail(Voucher, { id: redemption.voucherId });
  return ok(toldOf((await voucherByCode(scope, code))!, now));
}

/** Vouchers that can still be used of numbers that end so, for whoever has no code at hand. */
export async function vouchersOfEnding(
  ctx: Context,
  scope: Scope,
  ending: string,
  actor: Actor,
): Promise<Result<(Told & { first_name: string | null })[], Refusal>> {
  const digits = ending.replace(/\D/g, '');
  if (digits.length !== 4) return invalid('ending', 'ending: type the last four digits of their number.');
  const now = ctx.now();
  if ((await mustWait(scope, actor.accountId, now)) !== null)
    return conflict('ending', 'ending: too many wrong codes were typed here. Wait ten minutes.');
  const rows = await vouchersByEnding(scope, digits);
  if (rows.length === 0)
    await scope.em.persistAndFlush(
      scope.em.create(WrongCode, {
        ...{ workspaceId: scope.workspaceId, accountId: actor.accountId, typed: digits, at: new Date(now) },
      }),
    );
  return ok(rows.map((row) => ({ ...toldOf(row, now), first_name: row.first_name })));
}
