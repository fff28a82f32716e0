import { EMAIL_WORDS, parseEmail } from '@/core/people/address';
import { knowsCountry } from '@/core/phone/number';
import { isZone } from '@/core/phone/place';
import { clean } from '@/core/people/values';
import { cutText } from '@/core/shared/clean-text';
import { ok, type Result } from '@/core/shared/result';
import { slugIsTaken, workspacesThere } from '@/db/access/team';
import { acrossWorkspaces, type Crossing } from '@/db/kit/scope';
import { hashPassword } from '@/services/access/password';
import { insertAccount, insertMembership, insertWorkspace } from '@/services/access/create-workspace';
import type { Context } from '@/services/kit/context';
import { hashLinkKey, newLinkKey } from '@/services/kit/link-key';
import { publicUrl } from '@/services/kit/settings';
import { conflict, invalid, type Refusal } from '@/services/kit/validation';
import type { MoveInInput, NewWorkspaceInput } from './inputs';

/** Where nobody has moved in yet: the address at which the first owner does, once. Null: somebody is in. The one before leads nowhere. */
export const openFirstDoor = (ctx: Context): Promise<string | null> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    if ((await workspacesThere(crossing)) > 0) return null;
    const key = newLinkKey();
    await crossing.run(`delete from first_door where used_at is null`);
    await crossing.run(`insert into first_door (hash, created_at) values (:hash, :at)`, {
      hash: hashLinkKey(key),
      at: new Date(ctx.now()),
    });
    return `${publicUrl()}/begin/${key}`;
  });

export const isFirstDoor = (ctx: Context, key: string): Promise<boolean> =>
  acrossWorkspaces(
    ctx.orm,
    async (crossing) =>
      (
        await crossing.rows(`select 1 from first_door where hash = :hash and used_at is null`, {
          hash: hashLinkKey(key),
        })
      ).length > 0,
  );

const SHUT = 'link: somebody has moved in by it. Sign in, or ask them for an invitation.';

/** The first owner moves in: their account and their workspace, both or neither, and the door is shut behind them. */
export async function moveIn(
  ctx: Context,
  key: string,
  input: MoveInInput,
): Promise<Result<{ email: string; workspaceId: string }, Refusal>> {
  const email = parseEmail(input.email);
  if (!email.ok) return invalid('email', `email: this ${EMAIL_WORDS}`);
  const wrong = wrongPlace(input);
  if (wrong) return wrong;
  // A password costs much to hash: not for everybody who knocks.
  if (!(await isFirstDoor(ctx, key))) return conflict('link', SHUT);
  const passwordHash = await hashPassword(input.password);
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const [door] = await crossing.rows(
      `select 1 from first_door where hash = :hash and used_at is null for update`,
      { hash: hashLinkKey(key) },
    );
    if (!door) return conflict('link', SHUT);
    await crossing.run(`update first_door set used_at = :at where hash = :hash`, {
      hash: hashLinkKey(key),
      at: new Date(ctx.now()),
    });
    const address = email.value.toLowerCase();
    const workspace = await insertWorkspace(ctx, crossing, await workspaceOf(crossing, input));
    const accountId = await insertAccount(ctx, crossing, {
      ...{ email: address, name: clean(input.name), passwordHash },
    });
    await insertMembership(crossing, workspace.id, accountId, 'owner');
    return ok({ email: address, workspaceId: workspace.id });
  });
}

/** Another business of somebody who has an account: an agency keeps several. */
export async function addWorkspace(
  ctx: Context,
  input: NewWorkspaceInput,
  accountId: string,
): Promise<Result<{ workspaceId: string }, Refusal>> {
  const wrong = wrongPlace(input);
  if (wrong) return wrong;
  return acrossWorkspaces(ctx.orm, async (crossing) => {
    const workspace = await insertWorkspace(ctx, crossing, await workspaceOf(crossing, input));
    await insertMembership(crossing, workspace.id, accountId, 'owner');
    return ok({ workspaceId: workspace.id });
  });
}

function wrongPlace({ zone, country }: NewWorkspaceInput) {
  if (!isZone(zone)) return invalid('zone', 'zone: must be a time zone, such as America/Denver.');
  if (!knowsCountry(country))
    return invalid('country', 'country: must be a country by its two letters, such as US.');
  return null;
}

/** What nobody has set yet is careful: a cap of four messages a week, and no credits. */
async function workspaceOf(
  crossing: Crossing,
  { business, contact, country, zone, credits }: NewWorkspaceInput,
) {
  const name = clean(business);
  return {
    ...{ name, business: name, contact: clean(contact), country, zone, weeklyCap: 4 },
    ...{ credits: credits ?? 0, slug: await freeSlug(crossing, name) },
  };
}

async function freeSlug(crossing: Crossing, name: string): Promise<string> {
  const plain = name
    .normalize('NFKD')
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '-');
  const base = cutText(plain, 40).replace(/^-+|-+$/g, '') || 'workspace';
  for (let n = 1; ; n++) {
    const slug = n === 1 ? base : `${base}-${n}`;
    if (!(await slugIsTaken(crossing, slug))) return slug;
  }
}
