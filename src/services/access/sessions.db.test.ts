import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { addAccount, createWorkspace } from './create-workspace';
import { endSession, readSession, sessionsOf, signIn, signOut, switchWorkspace } from './sessions';
import { makeWorld, type World } from '@/services/testing/world';

const ORIGIN = { address: '10.0.0.1', userAgent: 'test' };
let world: World;
let other: string;

beforeAll(async () => {
  world = await makeWorld();
  other = (
    await createWorkspace(world.ctx, {
      slug: 'other',
      name: 'Other',
      business: 'Other',
      contact: 'x',
      zone: 'America/Denver',
      weeklyCap: null,
      credits: 0,
    })
  ).id;
  await addAccount(world.ctx, world.workspaceId, {
    email: 'ana@example.org',
    name: 'Ana Ortiz',
    password: 'long enough',
    role: 'manager',
  });
});
afterAll(() => world.close());

const enter = async (email = 'ana@example.org', password = 'long enough', address = ORIGIN.address) =>
  signIn(world.ctx, email, password, { ...ORIGIN, address });
const token = async () => {
  const result = await enter();
  if (!result.ok) throw new Error(result.reason);
  return result.value;
};

describe('sessions', () => {
  it('open for the right password and say who it is', async () => {
    expect(await readSession(world.ctx, await token())).toMatchObject({
      name: 'Ana Ortiz',
      role: 'manager',
      workspaceId: world.workspaceId,
    });
    expect(await enter('ANA@example.org')).toMatchObject({ ok: true });
  });

  it('are not opened by a wrong password, an unknown address or a made-up token', async () => {
    expect(await enter('ana@example.org', 'wrong')).toEqual({ ok: false, reason: 'wrong' });
    expect(await enter('nobody@example.org')).toEqual({ ok: false, reason: 'wrong' });
    expect(await readSession(world.ctx, 'made-up')).toBeNull();
  });

  it('are kept as hashes only', async () => {
    const mine = await token();
    const rows = await world.within((scope) =>
      scope.rows<{ id: string }>(`select id from session where :workspace <> ''`),
    );
    expect(rows.map(({ id }) => id)).not.toContain(mine);
  });

  it('look only at workspaces the account belongs to', async () => {
    const mine = await token();
    expect(await switchWorkspace(world.ctx, mine, other)).toBe(false);
    await addAccount(world.ctx, other, {
      email: 'ana@example.org',
      name: 'Ana Ortiz',
      password: 'ignored',
      role: 'teammate',
    });
    expect(await switchWorkspace(world.ctx, mine, other)).toBe(true);
    expect(await readSession(world.ctx, mine)).toMatchObject({ workspaceId: other, role: 'teammate' });
  });

  it('end one by one, and all at once', async () => {
    const [one, two, three] = [await token(), await token(), await token()];
    await signOut(world.ctx, one, false);
    expect(await readSession(world.ctx, one)).toBeNull();
    expect(await readSession(world.ctx, two)).not.toBeNull();
    await signOut(world.ctx, two, true);
    expect(await readSession(world.ctx, three)).toBeNull();
  });

  it('are closed to an account after ten wrong tries, whatever the address', async () => {
    for (let i = 0; i < 10; i++) await enter('guess@example.org', 'x', `10.0.1.${i}`);
    expect(await enter('guess@example.org', 'x', '10.0.2.1')).toEqual({ ok: false, reason: 'too-many' });
  });

  it('count an address in another dress as the same account', async () => {
    const dresses = [
      'dress@example.org',
      ' dress@example.org',
      'dress@example.org  ',
      'DRESS@example.org',
      '\u0000dress@example.org',
    ];
    for (let i = 0; i < 10; i++) await enter(dresses[i % dresses.length]!, 'x', `10.0.3.${i}`);
    for (const dress of dresses)
      expect(await enter(dress, 'x', '10.0.4.1')).toEqual({ ok: false, reason: 'too-many' });
  });

  it('are closed to a place after a hundred wrong tries at different accounts', async () => {
    await Promise.all(Array.from({ length: 100 }, (_, i) => enter(`g${i}@example.org`, 'x', '10.9.9.9')));
    expect(await enter('ana@example.org', 'long enough', '10.9.9.9')).toEqual({
      ok: false,
      reason: 'too-many',
    });
    expect(await enter('ana@example.org', 'long enough', '10.9.9.8')).toMatchObject({ ok: true });
  });
});

describe('the list of one’s sessions', () => {
  it('tells them apart, and ends one by itself', async () => {
    const [here, there] = [await token(), await token()];
    const me = (await readSession(world.ctx, here))!.accountId;
    const mine = (await sessionsOf(world.ctx, me, here)).filter(({ own }) => own);
    expect(mine).toMatchObject([{ userAgent: 'test', own: true }]);
    const other = (await sessionsOf(world.ctx, me, there)).find(({ own }) => own)!;
    expect(await endSession(world.ctx, 'acc_other', other.name)).toBe(false);
    expect(await endSession(world.ctx, me, other.name)).toBe(true);
    expect(await endSession(world.ctx, me, other.name)).toBe(false);
    expect(await readSession(world.ctx, there)).toBeNull();
    expect(await readSession(world.ctx, here)).not.toBeNull();
  });
});
