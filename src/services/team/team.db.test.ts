import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY } from '@/core/shared/instant';
import { addAccount } from '@/services/access/create-workspace';
import { readSession, signIn } from '@/services/access/sessions';
import { createTask } from '@/services/tasks/tasks';
import { addPerson, must } from '@/services/testing/people';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { acceptInvitation, invite, openInvitations, readInvitation, revokeInvitation } from './invitations';
import { changeRole, endMembership, ownedBy } from './members';

const PASSWORD = 'three plain words';
const ORIGIN = { address: '198.51.100.7', userAgent: 'test' };
let world: World;
let owner: { name: string; accountId: string };

beforeEach(async () => {
  world = await makeWorld();
  const accountId = await account('odile@example.org', 'owner');
  owner = { name: accountId, accountId };
});
afterEach(() => world.close());

const account = (email: string, role: 'owner' | 'manager' | 'teammate' | 'counter') =>
  addAccount(world.ctx, world.workspaceId, { email, name: 'Somebody', password: PASSWORD, role });
const ask = (email = 'tess@example.org', role: 'owner' | 'teammate' = 'teammate') =>
  world.within((scope) => invite(world.ctx, scope, { email, name: 'Tess Nightjar', role }, owner));
const keyOf = async (asked: ReturnType<typeof ask>) =>
  must(await asked)
    .link.split('/')
    .at(-1)!;
const accept = (key: string, password = PASSWORD) =>
  acceptInvitation(world.ctx, key, { name: 'Tess Nightjar', password }, ORIGIN);
const team = () =>
  world.rows<{ email: string; role: string }>(
    `select a.email, m.role from membership m join account a on a.id = m.account_id where m.workspace_id = :workspace order by a.email`,
  );

describe('an invitation', () => {
  it('goes out by e-mail, lets somebody in once, and they can sign in', async () => {
    const key = await keyOf(ask());
    const [letter] = await world.rows<{ address: string; body: string }>(
      `select address, body from teammate_mail where workspace_id = :workspace`,
    );
    expect(letter).toMatchObject({ address: 'tess@example.org' });
    expect(letter!.body).toContain(`/join/${key}`);
    expect(await readInvitation(world.ctx, key)).toMatchObject({ role: 'teammate', known: false });
    const both = await Promise.all([accept(key), accept(key)]);
    expect(both.filter(({ ok }) => ok)).toHaveLength(1);
    expect(await team()).toEqual([
      { email: 'odile@example.org', role: 'owner' },
      { email: 'tess@example.org', role: 'teammate' },
    ]);
    expect(await readInvitation(world.ctx, key)).toBeNull();
    must(await signIn(world.ctx, 'tess@example.org', PASSWORD, ORIGIN));
  });

  it('keeps only the hash of its key', async () => {
    const key = await keyOf(ask());
    const rows = await world.rows<{ row: object }>(
      `select to_jsonb(i) as row from invitation i where workspace_id = :workspace`,
    );
    expect(JSON.stringify(rows)).not.toContain(key);
  });

  it('leads nowhere when it is old, taken back, asked anew, or made up', async () => {
    const [first, second] = [await keyOf(ask()), await keyOf(ask())];
    expect(await readInvitation(world.ctx, first)).toBeNull();
    const [open] = await world.within((scope) => openInvitations(world.ctx, scope));
    must(await world.within((scope) => revokeInvitation(world.ctx, scope, open!.id, owner)));
    expect(await readInvitation(world.ctx, second)).toBeNull();
    const third = await keyOf(ask());
    world.clock.at += 8 * DAY;
    expect(await accept(third)).toMatchObject({ ok: false, reason: { problems: [{ field: 'link' }] } });
    expect(await accept('made-up')).toMatchObject({ ok: false });
    expect(await team()).toHaveLength(1);
  });

  it('of somebody with an account asks its password, and makes no second one', async () => {
    const other = await world.another();
    await addAccount(world.ctx, other.id, {
      ...{ email: 'tess@example.org', name: 'Tess', password: PASSWORD, role: 'owner' },
    });
    const key = await keyOf(ask());
    expect(await readInvitation(world.ctx, key)).toMatchObject({ known: true });
    expect(await accept(key, 'another long password')).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'password' }] },
    });
    must(await accept(key));
    const token = must(await signIn(world.ctx, 'tess@example.org', PASSWORD, ORIGIN, world.workspaceId));
    expect(await readSession(world.ctx, token)).toMatchObject({
      ...{ workspaceId: world.workspaceId, role: 'teammate' },
      workspaces: expect.arrayContaining([expect.objectContaining({ id: other.id })]) as object,
    });
  });

  it('is refused for somebody who works here, and for what is no address', async () => {
    expect(await ask('odile@example.org')).toMatchObject({ ok: false, reason: { code: 'conflict' } });
    expect(await ask('nonsense')).toMatchObject({ ok: false, reason: { problems: [{ field: 'email' }] } });
  });
});

describe('a teammate', () => {
  it('gets another role, and an owner always stays', async () => {
    const tess = await account('tess@example.org', 'teammate');
    const change = (id: string, role: 'owner' | 'manager' | 'counter') =>
      world.within((scope) => changeRole(world.ctx, scope, id, role, owner));
    expect(await change(owner.accountId, 'manager')).toMatchObject({ ok: false });
    must(await change(tess, 'owner'));
    // Both at once: the second sees that the first is no owner any more.
    const both = await Promise.all([change(owner.accountId, 'manager'), change(tess, 'manager')]);
    expect(both.filter(({ ok }) => ok)).toHaveLength(1);
    expect((await team()).filter(({ role }) => role === 'owner')).toHaveLength(1);
  });

  it('who leaves hands over what was theirs, and is signed out here', async () => {
    const [tess, june] = [
      await account('tess@example.org', 'teammate'),
      await account('june@example.org', 'teammate'),
    ];
    const ana = await addPerson(world, phone(1));
    await world.within(async (scope) => {
      await scope.run(`update person set owner_id = :tess where workspace_id = :workspace`, { tess });
      must(
        await createTask(
          world.ctx,
          scope,
          {
            title: 'Call',
            due: new Date(world.clock.at + DAY).toISOString(),
            account: tess,
            person: ana,
          } as never,
          'hand',
          owner,
        ),
      );
    });
    expect(await world.within((scope) => ownedBy(world.ctx, scope, tess))).toMatchObject([
      { n: 1 },
      { n: 1 },
    ]);
    const token = must(await signIn(world.ctx, 'tess@example.org', PASSWORD, ORIGIN));
    const leave = (to: string | null) =>
      world.within((scope) => endMembership(world.ctx, scope, tess, to, owner));
    expect(await leave('acc_nobody')).toMatchObject({ ok: false, reason: { problems: [{ field: 'to' }] } });
    expect(must(await leave(june))).toEqual({ moved: 2 });
    expect(await readSession(world.ctx, token)).toBeNull();
    expect(await world.within((scope) => ownedBy(world.ctx, scope, june))).toMatchObject([
      { n: 1 },
      { n: 1 },
    ]);
    expect(await team()).toHaveLength(2);
    expect(await signIn(world.ctx, 'tess@example.org', PASSWORD, ORIGIN)).toMatchObject({
      reason: 'no-workspace',
    });
  });

  it('who is the only owner does not leave, and one of another workspace is nobody here', async () => {
    const leave = (id: string) => world.within((scope) => endMembership(world.ctx, scope, id, null, owner));
    expect(await leave(owner.accountId)).toMatchObject({ ok: false, reason: { code: 'conflict' } });
    const other = await world.another();
    const stranger = await addAccount(world.ctx, other.id, {
      ...{ email: 'x@example.org', name: 'X', password: PASSWORD, role: 'owner' },
    });
    expect(await leave(stranger)).toMatchObject({ ok: false, reason: { code: 'not-found' } });
  });
});
