import { randomInt } from 'node:crypto';
import type { Role } from '@/core/access/roles';
import { EMAIL_WORDS, parseEmail } from '@/core/people/address';
import { clean } from '@/core/people/values';
import { ok, type Result } from '@/core/shared/result';
import { Account, Membership, Workspace } from '@/db/access/entities';
import { acrossWorkspaces, inWorkspace } from '@/db/kit/scope';
import { addAccount, insertAccount } from '@/services/access/create-workspace';
import { hashPassword } from '@/services/access/password';
import { dropFactor } from '@/services/access/second-factor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { invalid, notFound, type Refusal } from '@/services/kit/validation';
import { addWorkspace } from './first-door';
import type { NewWorkspaceInput } from './inputs';

/** What whoever runs the installation does by hand, on its own machine: nobody is signed in. */
const OPERATOR = 'operator';

/** A password that can be read out: four groups of four, without letters that are taken for others. */
export const newPassword = (): string =>
  Array.from({ length: 4 }, () =>
    Array.from({ length: 4 }, () => LETTERS[randomInt(LETTERS.length)]).join(''),
  ).join('-');

const LETTERS = 'abcdefghjkmnpqrstuvwxyz23456789';

/** An account in a workspace; `password` null: it was there already, and keeps its own. */
export async function giveAccount(
  ctx: Context,
  slug: string,
  wanted: { email: string; name: string; role: Role },
): Promise<Result<{ password: string | null }, Refusal>> {
  const em = ctx.orm.em.fork();
  const workspace = await em.findOne(Workspace, { slug });
  if (!workspace) return notFound('workspace');
  const email = parseEmail(wanted.email);
  if (!email.ok) return invalid('email', `email: this ${EMAIL_WORDS}`);
  const address = email.value.toLowerCase();
  const name = clean(wanted.name);
  const known = await em.findOne(Account, { email: address });
  if (!known && name === '') return invalid('name', 'name: say how they are called.');
  const member =
    known &&
    (await inWorkspace(ctx.orm, workspace.id, ({ em: own }) =>
      own.count(Membership, { accountId: known.id }),
    ));
  if (member) return invalid('email', 'email: they are in this workspace already.');
  const password = newPassword();
  await addAccount(ctx, workspace.id, { email: address, name, password, role: wanted.role });
  await inWorkspace(ctx.orm, workspace.id, (scope) =>
    writeAudit(ctx, scope, OPERATOR, 'team.added', address, { role: wanted.role }),
  );
  return ok({ password: known ? null : password });
}

/** A workspace with an owner, whose account is made where there is none. */
export async function giveWorkspace(
  ctx: Context,
  input: NewWorkspaceInput,
  owner: { email: string; name: string },
): Promise<Result<{ slug: string; password: string | null }, Refusal>> {
  const email = parseEmail(owner.email);
  if (!email.ok) return invalid('email', `email: this ${EMAIL_WORDS}`);
  const address = email.value.toLowerCase();
  const em = ctx.orm.em.fork();
  const known = await em.findOne(Account, { email: address });
  if (!known && clean(owner.name) === '') return invalid('name', 'name: say how the owner is called.');
  const password = newPassword();
  const id = known?.id ?? (await newAccount(ctx, address, clean(owner.name), password));
  const made = await addWorkspace(ctx, input, id);
  if (!made.ok) {
    if (!known) await em.nativeDelete(Account, { id });
    return made;
  }
  const { slug } = await ctx.orm.em.fork().findOneOrFail(Workspace, { id: made.value.workspaceId });
  return ok({ slug, password: known ? null : password });
}

async function newAccount(ctx: Context, email: string, name: string, password: string): Promise<string> {
  const passwordHash = await hashPassword(password);
  return acrossWorkspaces(ctx.orm, (crossing) => insertAccount(ctx, crossing, { email, name, passwordHash }));
}

/** Another password for an account, which is signed out everywhere. */
export async function resetPassword(ctx: Context, email: string): Promise<Result<string, Refusal>> {
  const password = newPassword();
  const hash = await hashPassword(password);
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const [account] = await crossing.rows<{ id: string }>(
      `update account set password_hash = :hash where email = :email returning id`,
      { hash, email: email.trim().toLowerCase() },
    );
    if (!account) return notFound('account');
    await crossing.run(`delete from session where account_id = :id`, { id: account.id });
    return ok(password);
  });
}

/** No second factor for an account whose app and codes are both gone. */
export async function dropFactorOf(ctx: Context, email: string): Promise<Result<null, Refusal>> {
  const account = await ctx.orm.em.fork().findOne(Account, { email: email.trim().toLowerCase() });
  if (!account) return notFound('account');
  await dropFactor(ctx, account.id);
  return ok(null);
}

/** The workspaces of this installation, with what an operator asks first. */
export const listWorkspaces = (
  ctx: Context,
): Promise<
  { slug: string; name: string; credits: number; numbers: number; people: number; owners: string }[]
> =>
  acrossWorkspaces(ctx.orm, (crossing) =>
    crossing.rows(
      `select w.slug, w.name, w.credit_balance as credits, (select count(*)::int from sender_number s where s.workspace_id = w.id and s.released_at is null) as numbers,
              (select count(*)::int from person p where p.workspace_id = w.id and p.merged_into is null and p.erased_at is null) as people,
              coalesce((select string_agg(a.email, ' ' order by a.email) from membership m join account a on a.id = m.account_id where m.workspace_id = w.id and m.role = 'owner'), '') as owners
         from workspace w order by w.name`,
    ),
  );
