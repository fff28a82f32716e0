import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { signIn } from '@/services/access/sessions';
import { must } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';
import { giveAccount, giveWorkspace, listWorkspaces, newPassword, resetPassword } from './operate';

const ORIGIN = { address: '10.0.0.1', userAgent: 'test' };
const PLACE = { contact: '(719) 555-0110', country: 'US', zone: 'America/Denver', credits: 40 };
let world: World;
beforeAll(async () => {
  world = await makeWorld();
});
afterAll(() => world.close());

const enters = async (email: string, password: string) =>
  (await signIn(world.ctx, email, password, ORIGIN)).ok;

describe('what an operator does by hand', () => {
  it('makes a workspace with its owner, and another for the same one', async () => {
    const owner = { email: 'Ilse@example.org', name: 'Ilse Lund' };
    const first = must(await giveWorkspace(world.ctx, { business: 'Roving Dome', ...PLACE }, owner));
    expect(first.slug).toBe('roving-dome');
    expect(await enters('ilse@example.org', first.password!)).toBe(true);
    const second = must(await giveWorkspace(world.ctx, { business: 'Roving Dome', ...PLACE }, owner));
    expect(second).toEqual({ slug: 'roving-dome-2', password: null });
    expect(
      (await listWorkspaces(world.ctx)).filter(({ owners }) => owners === 'ilse@example.org'),
    ).toMatchObject([{ slug: 'roving-dome', credits: 40, numbers: 0, people: 0 }, { slug: 'roving-dome-2' }]);
  });

  it('leaves no account behind where the workspace is refused', async () => {
    const owner = { email: 'nobody@example.org', name: 'Nobody' };
    const refused = await giveWorkspace(world.ctx, { business: 'X', ...PLACE, zone: 'Mars/Base' }, owner);
    expect(refused).toMatchObject({ ok: false, reason: { problems: [{ field: 'zone' }] } });
    expect(await resetPassword(world.ctx, 'nobody@example.org')).toMatchObject({ ok: false });
  });

  it('gives an account to a workspace once, and another password, which ends every session', async () => {
    const [{ slug }] = (await world.rows<{ slug: string }>(
      `select slug from workspace where id = :workspace`,
    )) as [{ slug: string }];
    const wanted = { email: 'tess@example.org', name: 'Tess Nightjar', role: 'teammate' as const };
    const { password } = must(await giveAccount(world.ctx, slug, wanted));
    expect(await enters('tess@example.org', password!)).toBe(true);
    expect(await giveAccount(world.ctx, slug, wanted)).toMatchObject({ ok: false });
    expect(await giveAccount(world.ctx, 'nowhere', wanted)).toMatchObject({ ok: false });
    const other = must(await resetPassword(world.ctx, 'TESS@example.org'));
    expect(await enters('tess@example.org', password!)).toBe(false);
    expect(await world.rows(`select 1 from session where workspace_id = :workspace`)).toEqual([]);
    expect(await enters('tess@example.org', other)).toBe(true);
  });

  it('gives passwords that can be read out, and never twice the same', () => {
    const many = Array.from({ length: 200 }, newPassword);
    expect(new Set(many).size).toBe(200);
    for (const one of many) expect(one).toMatch(/^(?:[a-hjkmnp-z2-9]{4}-){3}[a-hjkmnp-z2-9]{4}$/);
  });
});
