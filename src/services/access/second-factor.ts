import { createHash, randomBytes } from 'node:crypto';
import { Secret, TOTP } from 'otpauth';
import { ok, type Result } from '@/core/shared/result';
import { RecoveryCode, SecondFactor } from '@/db/access/entities';
import { acrossWorkspaces, type Crossing } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, type Refusal } from '@/services/kit/validation';
import { countTries } from './tries';

/**
 * Codes of an app (RFC 6238, six digits each thirty seconds) beside the password, and codes on paper for when the app is
 * gone. They use the machine's clock, not the bench's.
 */
const PERIOD_S = 30;
const RECOVERY_CODES = 10;
/** Wrong codes of one account in a quarter of an hour: there are only a million. */
const MOST_TRIES = 8;

const totpOf = (secret: string, email: string): TOTP =>
  new TOTP({
    issuer: 'Steady Wren',
    label: email,
    secret: Secret.fromBase32(secret),
    digits: 6,
    period: PERIOD_S,
  });

export interface FactorState {
  /** Null: there is none, or it was never confirmed. */
  since: Date | null;
  codesLeft: number;
}

export async function readFactor(ctx: Context, accountId: string): Promise<FactorState> {
  const em = ctx.orm.em.fork();
  const factor = await em.findOne(SecondFactor, { accountId });
  return {
    since: factor?.confirmedAt ?? null,
    codesLeft: await em.count(RecoveryCode, { accountId, usedAt: null }),
  };
}

/** Begins one: a secret for the app, which counts once a code of it was given. */
export async function beginFactor(
  ctx: Context,
  { accountId, email }: { accountId: string; email: string },
): Promise<Result<{ secret: string; uri: string }, Refusal>> {
  const secret = new Secret({ size: 20 }).base32;
  const made = await acrossWorkspaces(ctx.orm, (crossing) =>
    crossing.run(
      `insert into second_factor (account_id, secret, made_at) values (:accountId, :secret, now())
       on conflict (account_id) do update set secret = excluded.secret, made_at = excluded.made_at where second_factor.confirmed_at is null`,
      { accountId, secret },
    ),
  );
  return made === 1
    ? ok({ secret, uri: totpOf(secret, email).toString() })
    : conflict('code', 'code: there is a second factor already. Turn that off first.');
}

/** Confirms it by a code of the app; gives the codes for paper, once. */
export const confirmFactor = (
  ctx: Context,
  accountId: string,
  code: string,
): Promise<Result<string[], Refusal>> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    const row = await lockFactor(crossing, accountId);
    if (!row || row.confirmed_at !== null)
      return conflict('code', 'code: begin anew; there is nothing to confirm.');
    const step = stepOf(row, code);
    if (step === null) return invalid('code', WRONG_CODE);
    await crossing.run(
      `update second_factor set confirmed_at = now(), last_step = :step where account_id = :accountId`,
      { accountId, step },
    );
    return ok(await newCodes(crossing, accountId));
  });

const WRONG_CODE =
  'code: is not the one the app shows now. Check that the clock of the phone is right, and try the next.';

/** A code of the app or one of paper, which then is used up; false: neither, or tried too often. */
export const takeCode = (ctx: Context, accountId: string, code: string): Promise<boolean> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    if (!(await mayTry(crossing, accountId))) return false;
    const row = await lockFactor(crossing, accountId);
    if (!row?.confirmed_at) return false;
    const step = stepOf(row, code);
    const taken =
      step === null
        ? await crossing.run(
            `update recovery_code set used_at = now() where account_id = :accountId and hash = :hash and used_at is null`,
            { accountId, hash: hashCode(code) },
          )
        : await crossing.run(`update second_factor set last_step = :step where account_id = :accountId`, {
            accountId,
            step,
          });
    if (taken !== 1) return false;
    await crossing.run(`delete from sign_in_try where key = :key`, { key: tryKey(accountId) });
    return true;
  });

/** Turns it off. The caller has proved that it is them. */
export const dropFactor = (ctx: Context, accountId: string): Promise<void> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    await crossing.run(`delete from second_factor where account_id = :accountId`, { accountId });
    await crossing.run(`delete from recovery_code where account_id = :accountId`, { accountId });
  });

/** Other codes for paper in the place of those there are. */
export const renewCodes = (ctx: Context, accountId: string): Promise<string[]> =>
  acrossWorkspaces(ctx.orm, (crossing) => newCodes(crossing, accountId));

interface FactorRow {
  secret: string;
  confirmed_at: Date | null;
  last_step: string;
}

const lockFactor = async (crossing: Crossing, accountId: string): Promise<FactorRow | null> =>
  (
    await crossing.rows<FactorRow>(
      `select secret, confirmed_at, last_step from second_factor where account_id = :accountId for update`,
      { accountId },
    )
  )[0] ?? null;

/** The step a code is of; null: it is of none near now, or counted before. */
function stepOf({ secret, last_step: last }: FactorRow, code: string): number | null {
  const token = code.replace(/\s/g, '');
  if (!/^\d{6}$/.test(token)) return null;
  const delta = totpOf(secret, '').validate({ token, window: 1 });
  if (delta === null) return null;
  const step = Math.floor(Date.now() / 1_000 / PERIOD_S) + delta;
  return step > Number(last) ? step : null;
}

async function newCodes(crossing: Crossing, accountId: string): Promise<string[]> {
  const codes = Array.from({ length: RECOVERY_CODES }, () => {
    const word = randomBytes(5).toString('hex');
    return `${word.slice(0, 5)}-${word.slice(5)}`;
  });
  await crossing.run(`delete from recovery_code where account_id = :accountId`, { accountId });
  await crossing.run(
    `insert into recovery_code (account_id, hash) select :accountId, h from unnest(:hashes::text[]) as h`,
    { accountId, hashes: codes.map(hashCode) },
  );
  return codes;
}

/** However it was typed. */
const hashCode = (code: string): string =>
  createHash('sha256')
    .update(code.toLowerCase().replace(/[^0-9a-f]/g, ''))
    .digest('hex');

const tryKey = (accountId: string): string => `code:${accountId}`;

const mayTry = async (crossing: Crossing, accountId: string): Promise<boolean> =>
  (await countTries(crossing, [tryKey(accountId)])).get(tryKey(accountId))! <= MOST_TRIES;
