import type { MikroORM } from '@mikro-orm/postgresql';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { acrossWorkspaces, inWorkspace } from '@/db/kit/scope';
import { openTestOrm } from '@/db/testing/orm';
import { readSession, signIn } from '@/services/access/sessions';
import { makeContext, type Context } from '@/services/context';
import { readBusinesses } from './businesses';
import { addWorkspace, isFirstDoor, moveIn, openFirstDoor } from './first-door';
import type { MoveInInput } from './inputs';
import { readMovingIn } from './screen';
import { must } from '@/services/testing/people';

const OWNER: MoveInInput = {
  ...{
    business: 'Juniper Gap Observatory',
    contact: '(719) 555-0110',
    country: 'US',
    zone: 'America/Denver',
  },
  ...{ name: 'Odile Farrow', email: 'Odile@example.org', password: 'three plain words' },
};
const ORIGIN = { address: '198.51.100.7', userAgent: 'test' };
let orm: MikroORM;
let close: () => Promise<void>;
let ctx: Context;
beforeEach(async () => {
  ({ orm, close } = await openTestOrm());
  ctx = makeContext(orm, () => Date.UTC(2026, 10, 26, 19));
});
afterEach(() => close());

const keyOf = (link: string | null) => link!.split('/').at(-1)!;
const count = async (table: string) =>
  (await acrossWorkspaces(orm, (crossing) => crossing.rows(`select 1 from ${table}`))).length;

describe('the first door', () => {
  it('lets one owner in, with a workspace of their own, and is shut behind them', async () => {
    const key = keyOf(await openFirstDoor(ctx));
    expect(await isFirstDoor(ctx, key)).toBe(true);
    const both = await Promise.all([
      moveIn(ctx, key, OWNER),
      moveIn(ctx, key, { ...OWNER, email: 'x@example.org' }),
    ]);
    expect(both.filter(({ ok }) => ok)).toHaveLength(1);
    expect([await count('workspace'), await count('account'), await count('membership')]).toEqual([1, 1, 1]);
    expect(await isFirstDoor(ctx, key)).toBe(false);
    expect(await openFirstDoor(ctx)).toBeNull();
  });

  it('is another at each start, and the one before leads nowhere', async () => {
    const [first, second] = [keyOf(await openFirstDoor(ctx)), keyOf(await openFirstDoor(ctx))];
    expect(await moveIn(ctx, first, OWNER)).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'link' }] },
    });
    expect(await moveIn(ctx, 'made-up', OWNER)).toMatchObject({ ok: false });
    const { email } = must(await moveIn(ctx, second, OWNER));
    const token = must(await signIn(ctx, email, OWNER.password, ORIGIN));
    expect(await readSession(ctx, token)).toMatchObject({ role: 'owner', workspaceName: OWNER.business });
  });

  it.each<[string, Partial<MoveInInput>, string]>([
    ['a zone that is none', { zone: 'Denver' }, 'zone'],
    ['a country that is none', { country: 'XX' }, 'country'],
    ['an address that is none', { email: 'odile' }, 'email'],
  ])('refuses %s, and nothing is half made', async (_, more, field) => {
    const key = keyOf(await openFirstDoor(ctx));
    expect(await moveIn(ctx, key, { ...OWNER, ...more })).toMatchObject({
      ok: false,
      reason: { problems: [{ field }] },
    });
    expect([await count('workspace'), await count('account')]).toEqual([0, 0]);
    expect(await isFirstDoor(ctx, key)).toBe(true);
  });

  it('leads into a house that lacks everything a first text needs', async () => {
    const { workspaceId } = must(await moveIn(ctx, keyOf(await openFirstDoor(ctx)), OWNER));
    const { missing, steps } = await inWorkspace(orm, workspaceId, (scope) => readMovingIn(scope));
    expect(missing).toBe(4);
    expect(steps.filter(({ done }) => done)).toEqual([]);
  });
});

describe('another business', () => {
  it('of the same account has a name of its own, and what waits in each is told', async () => {
    must(await moveIn(ctx, keyOf(await openFirstDoor(ctx)), { ...OWNER, credits: 100 }));
    const [account] = await acrossWorkspaces(orm, (crossing) =>
      crossing.rows<{ id: string }>(`select id from account`),
    );
    const { business, contact, country, zone } = OWNER;
    must(await addWorkspace(ctx, { business, contact, country, zone }, account!.id));
    const rows = await acrossWorkspaces(orm, (crossing) =>
      crossing.rows<{ slug: string }>(`select slug from workspace order by slug`),
    );
    expect(rows.map(({ slug }) => slug)).toEqual(['juniper-gap-observatory', 'juniper-gap-observatory-2']);
    expect(await readBusinesses(ctx, account!.id)).toMatchObject([
      { role: 'owner', waiting: 0, unwell: 0, sends: 0, stuck: 0 },
      { role: 'owner' },
    ]);
  });
});
