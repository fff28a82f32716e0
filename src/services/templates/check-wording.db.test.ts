import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY } from '@/core/shared/instant';
import { USUAL_SETTINGS } from '@/core/wording/settings';
import { Program } from '@/db/programs/entities';
import { Workspace } from '@/db/access/entities';
import { changeWording } from '@/services/access/change-wording';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { must } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';
import { findInWording } from './check-wording';

let world: World;
const me = { name: 'test', accountId: null };
beforeEach(async () => {
  world = await makeWorld();
  await world.within(async (scope) => {
    await scope.em.nativeUpdate(Workspace, { id: scope.workspaceId }, { wording: USUAL_SETTINGS });
  });
});
afterEach(() => world.close());

const draft = (body: string, name = 'Saturn week') =>
  world.within(async (scope) => {
    const input = { program: 'Clear Sky Alerts', name, body };
    return must(await createBroadcast(world.ctx, scope, input, me)).id;
  });
const send = (id: string) => world.within((scope) => sendBroadcast(world.ctx, scope, id, {}, me));
const codes = (source: string, broadcastId: string | null = null) =>
  world.within(async (scope) => {
    const program = await scope.em.findOneOrFail(Program, { name: 'Clear Sky Alerts' });
    const question = { source, program, channel: 'sms' as const, at: world.clock.at, broadcastId };
    return (await findInWording(scope, question)).map(({ code }) => code);
  });
const change = (input: object, stamp?: number) =>
  world.within(async (scope) => {
    const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
    return changeWording(world.ctx, scope, { stamp: stamp ?? workspace.stamp, ...input }, 'test');
  });

const GOOD = 'Juniper Gap: Saturn is up tonight from nine. Reply STOP to stop.';

describe('a broadcast with something that must be mended', () => {
  it('stays a draft, and says what', async () => {
    const id = await draft('Saturn is up tonight.');
    expect(await send(id)).toMatchObject({
      ok: false,
      reason: {
        code: 'invalid',
        problems: [
          { field: 'body', message: expect.stringContaining('Name Juniper Gap Observatory') },
          { field: 'body', message: expect.stringContaining('how to stop') },
        ],
      },
    });
    expect(await world.rows(`select state from broadcast where workspace_id = :workspace`)).toEqual([
      { state: 'draft' },
    ]);
  });

  it('goes once the manager weighs it less', async () => {
    const id = await draft('Saturn is up tonight.');
    must(await change({ weights: { 'no-sender': 'should', 'opt-out-due': 'hint' } }));
    must(await send(id));
  });
});

describe('what was sent before', () => {
  it('is held against a draft for a month, and never against itself', async () => {
    const id = await draft(GOOD);
    must(await send(id));
    expect(await codes(GOOD, id)).toEqual([]);
    expect(await codes(GOOD)).toEqual(['same-text']);
    world.clock.at += 5 * DAY;
    expect(await codes('Juniper Gap: Saturn is up tonight from ten.')).toEqual(['alike', 'opt-out-missing']);
    world.clock.at += 26 * DAY;
    expect(await codes('Juniper Gap: Saturn is up tonight from ten.')).toEqual(['opt-out-due']);
  });

  it('of another workspace or program is not', async () => {
    must(await send(await draft(GOOD)));
    const other = await world.another();
    const found = await world.within(
      (scope) => findInWording(scope, { source: GOOD, program: null, channel: 'sms', at: world.clock.at }),
      other.id,
    );
    expect(found.map(({ code }) => code)).not.toContain('same-text');
  });
});

describe('how wordings are checked', () => {
  it('knows the hosts and the numbers of the house', async () => {
    must(await change({ hosts: ['https://www.juniper-gap.example.org/news', ''], business_kind: 'events' }));
    const text = `${GOOD} Call (719) 555-0110 or +1 719 555 0110, see `;
    expect(await codes(`${text}tickets.juniper-gap.example.org`)).toEqual([]);
    expect(await codes(`${text}tickets.example.net`)).toEqual(['foreign-link']);
    expect(await codes(`${GOOD} Call (303) 555-0199.`)).toEqual(['foreign-number']);
  });

  it.each([
    [{ hosts: ['not a host'] }, 'hosts', 'no host'],
    [{ hosts: ['localhost'] }, 'hosts', 'no host'],
    [{ weights: { loud: 'must' } }, 'weights', 'no finding'],
    [{ weights: { shouting: 'never' } }, 'weights', 'one of must'],
  ])('refuses %j', async (input, field, words) => {
    expect(await change(input)).toMatchObject({
      ok: false,
      reason: { problems: [{ field, message: expect.stringContaining(words) }] },
    });
  });

  it('is not written over by who did not see the last change', async () => {
    must(await change({ business_kind: 'food' }));
    expect(await change({ business_kind: 'retail' }, 0)).toMatchObject({
      ok: false,
      reason: { code: 'conflict' },
    });
  });
});
