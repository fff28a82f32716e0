import { createHash, randomBytes } from 'node:crypto';
import type { Role } from '@/core/access/roles';
import { DAY } from '@/core/shared/instant';
import { cleanText, cutText } from '@/core/shared/clean-text';
import { ok, refuse, type Result } from '@/core/shared/result';
import { Account } from '@/db/access/entities';
import { acrossWorkspaces, type Crossing } from '@/db/kit/scope';
import type { Context } from '@/services/kit/context';
import { hashPassword, verifyPassword } from './password';
import { readFactor, takeCode } from './second-factor';
import { countTries } from './tries';

/** Sessions use the machine's clock, not the bench's: moving time must not sign anybody out. */
const LASTS = 14 * DAY;
const hashToken = (token: string): string => createHash('sha256').update(token).digest('hex');

export interface SignedIn {
  accountId: string;
  name: string;
  email: string;
  workspaceId: string;
  workspaceName: string;
  workspaceZone: string;
  role: Role;
  /** The workspace wants a second factor of its owners, and this one has none. */
  needsFactor: boolean;
  workspaces: { id: string; name: string }[];
}

export type SignInRefusal = 'wrong' | 'too-many' | 'no-workspace' | 'code' | 'wrong-code';
export const SIGN_IN_WORDS: Record<SignInRefusal, string> = {
  wrong: 'E-mail or password is not right. Check both and try again.',
  'too-many': 'Too many tries. Wait a quarter of an hour, or ask your owner for a new password.',
  code: 'Give the code your app shows now, or one of your codes on paper.',
  'wrong-code':
    'That code is not right, was used before, or there were too many tries. Wait for the next one the app shows.',
  'no-workspace': 'This account belongs to no workspace. Ask an owner to add it.',
};

let decoy: Promise<string> | null = null;

/** Where somebody tries a password from. */
export interface Origin {
  address: string;
  userAgent: string;
}

/** Whose password this is. A wrong address takes as long as a wrong password; too many tries are not looked at. */
export async function checkPassword(
  ctx: Context,
  email: string,
  password: string,
  origin: Origin,
): Promise<Result<Account, 'wrong' | 'too-many'>> {
  // One form of the address for the look-up and for the limit: in another dress it is the same account.
  const address = cleanText(email).normalize('NFKC').trim().toLowerCase();
  const keys = { mail: `mail:${address}`, from: `from:${origin.address}`, all: 'all' };
  if (!(await mayTry(ctx, keys))) return refuse('too-many');
  const account = await ctx.orm.em.fork().findOne(Account, { email: address });
  decoy ??= hashPassword('nobody has this password');
  const right = await verifyPassword(account?.passwordHash ?? (await decoy), password);
  if (!account || !right) return refuse('wrong');
  // Who knew the password did not guess.
  await acrossWorkspaces(ctx.orm, async (crossing) => {
    await crossing.run(`delete from sign_in_try where key = :mail`, { mail: keys.mail });
    await crossing.run(
      `update sign_in_try set tries = greatest(0, tries - 1) where key = any(:others::text[])`,
      { others: [keys.from, keys.all] },
    );
  });
  return ok(account);
}

/** Opens a session; gives the token for the cookie. `workspaceId`: where they want to be, if they belong to it. */
export async function signIn(
  ctx: Context,
  email: string,
  password: string,
  origin: Origin,
  workspaceId: string | null = null,
  /** Of the second factor; empty: none was given. */
  code = '',
): Promise<Result<string, SignInRefusal>> {
  const checked = await checkPassword(ctx, email, password, origin);
  if (!checked.ok) return checked;
  const account = checked.value;
  if ((await readFactor(ctx, account.id)).since !== null) {
    if (code === '') return refuse('code');
    if (!(await takeCode(ctx, account.id, code))) return refuse('wrong-code');
  }
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const [membership] = await crossing.rows<{ workspace_id: string }>(
      `select workspace_id from membership where account_id = :id order by workspace_id = :workspaceId desc nulls last, workspace_id limit 1`,
      { id: account.id, workspaceId },
    );
    if (!membership) return refuse('no-workspace');
    const token = randomBytes(32).toString('base64url');
    await crossing.run(
      `insert into session (id, account_id, workspace_id, user_agent, created_at, expires_at)
       values (:id, :account, :membership, :userAgent, now(), :expires)`,
      {
        id: hashToken(token),
        account: account.id,
        membership: membership.workspace_id,
        userAgent: cutText(origin.userAgent, 200),
        expires: new Date(Date.now() + LASTS),
      },
    );
    return ok(token);
  });
}

/** Most tries in the window: of one account, from one place (it can be an office), and of everybody together. */
const MOST: Record<'mail' | 'from' | 'all', number> = { mail: 10, from: 100, all: 1_000 };

/** Counts a try against every key, before the password is looked at; false once one has too many in the window. */
const mayTry = (ctx: Context, keys: Record<keyof typeof MOST, string>): Promise<boolean> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    const tries = await countTries(crossing, Object.values(keys));
    return Object.entries(keys).every(([of, key]) => tries.get(key)! <= MOST[of as keyof typeof MOST]);
  });

interface SessionRow {
  account_id: string;
  name: string;
  email: string;
  workspace_id: string;
  workspace_name: string;
  workspace_zone: string;
  role: Role;
  needs_factor: boolean;
}

/** Who holds this token, in which workspace; null when nobody does any more. */
export const readSession = (ctx: Context, token: string): Promise<SignedIn | null> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    const [row] = await crossing.rows<SessionRow>(
      `select s.account_id, a.name, a.email, s.workspace_id, w.name as workspace_name, w.zone as workspace_zone, m.role,
              w.owners_need_factor and m.role = 'owner'
                and not exists (select 1 from second_factor f where f.account_id = a.id and f.confirmed_at is not null) as needs_factor
         from session s join account a on a.id = s.account_id join workspace w on w.id = s.workspace_id
         join membership m on m.account_id = s.account_id and m.workspace_id = s.workspace_id
        where s.id = :id and s.expires_at > now()`,
      { id: hashToken(token) },
    );
    if (!row) return null;
    return {
      accountId: row.account_id,
      name: row.name,
      email: row.email,
      workspaceId: row.workspace_id,
      workspaceName: row.workspace_name,
      workspaceZone: row.workspace_zone,
      role: row.role,
      needsFactor: row.needs_factor,
      workspaces: await workspacesOf(crossing, row.account_id),
    };
  });

const workspacesOf = (crossing: Crossing, accountId: string) =>
  crossing.rows<{ id: string; name: string }>(
    `select w.id, w.name from membership m join workspace w on w.id = m.workspace_id where m.account_id = :accountId order by w.name`,
    { accountId },
  );

/** Looks at another workspace the account belongs to; false when it does not. */
export const switchWorkspace = (ctx: Context, token: string, workspaceId: string): Promise<boolean> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    const changed = await crossing.run(
      `update session s set workspace_id = :workspaceId where s.id = :id and exists (
         select 1 from membership m where m.account_id = s.account_id and m.workspace_id = :workspaceId)`,
      { id: hashToken(token), workspaceId },
    );
    return changed === 1;
  });

/** Ends this session, or every session of its account. */
export const signOut = (ctx: Context, token: string, everywhere: boolean): Promise<number> =>
  acrossWorkspaces(ctx.orm, (crossing) =>
    crossing.run(
      everywhere
        ? `delete from session where account_id = (select account_id from session where id = :id)`
        : `delete from session where id = :id`,
      { id: hashToken(token) },
    ),
  );

export interface OpenSession {
  /** Tells it from the others; opens nothing. */
  name: string;
  userAgent: string;
  createdAt: Date;
  workspace: string;
  /** The one that asks. */
  own: boolean;
}

/** How a session is named outside: not by what is stored, which the token leads to. */
const nameOf = (id: string): string => hashToken(`name ${id}`).slice(0, 24);

/** Where an account is signed in, the newest first. `token`: of who asks. */
export const sessionsOf = (ctx: Context, accountId: string, token: string): Promise<OpenSession[]> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    const rows = await crossing.rows<{ id: string; user_agent: string; created_at: Date; workspace: string }>(
      `select s.id, s.user_agent, s.created_at, w.name as workspace from session s join workspace w on w.id = s.workspace_id
        where s.account_id = :accountId and s.expires_at > now() order by s.created_at desc`,
      { accountId },
    );
    return rows.map((row) => ({
      ...{ name: nameOf(row.id), userAgent: row.user_agent, createdAt: row.created_at },
      ...{ workspace: row.workspace, own: row.id === hashToken(token) },
    }));
  });

/** Ends one session of an account by its name; false: there is none such any more. */
export const endSession = (ctx: Context, accountId: string, name: string): Promise<boolean> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    const rows = await crossing.rows<{ id: string }>(`select id from session where account_id = :accountId`, {
      accountId,
    });
    const found = rows.find(({ id }) => nameOf(id) === name);
    if (!found) return false;
    return (await crossing.run(`delete from session where id = :id`, { id: found.id })) === 1;
  });
