import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { MINUTE } from '@/core/shared/instant';
import { createWorkspace } from '@/services/access/create-workspace';
import { findAnything } from '@/services/find';
import { readRibbon } from '@/services/shell/screen';
import { readBehindBroadcast, readSend, readSends } from './screen';
import { readToday } from '@/services/today/screen';
import { stopBroadcast } from './move-broadcast';
import { broadcastTo, deliverTo, round, Scripted } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';

const ZONE = 'America/Denver';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const behind = async (id: string, what: string) =>
  (await world.within((scope) => readBehindBroadcast(scope, id, what))).map(({ address }) => address);
const run = (sql: string) => world.within((scope) => scope.run(sql));

describe('a broadcast’s result', () => {
  it('counts each text in one state, and each answer to the broadcast it followed', async () => {
    const id = await broadcastTo(world, 8);
    await run(`update consent_state set state = 'out' where workspace_id = :workspace and person_id =
      (select id from person where number = '${phone(7)}')`);
    await deliverTo(world, 8, { 0: '027', 1: '027', 2: '040' }, [3]);
    world.clock.at += MINUTE;
    await world.texts(phone(4), 'when does it start');
    await world.texts(phone(4), 'and where');
    await world.texts(phone(5), 'Stop.');
    const { result } = (await world.within((scope) => readSend(scope, id, world.clock.at)))!;
    expect(result).toMatchObject({
      people: 8,
      delivered: 3,
      failed: 3,
      submitted: 1,
      blocked: 1,
      open: 0,
      replies: 1,
      optOuts: 1,
      parts: 7,
    });
    expect(result.failures).toEqual([
      { reason: 'unreachable', count: 2 },
      { reason: 'spam-blocked', count: 1 },
    ]);
    expect(result.blocks).toEqual([{ reason: expect.stringMatching(/opt|consent/), count: 1 }]);
    // What has no receipt yet is neither good nor bad.
    expect(result.deliveryRate).toMatchObject({ count: 3, of: 6, share: 0.5 });
  });

  it('opens to the people behind each of its numbers', async () => {
    const id = await broadcastTo(world, 6);
    await deliverTo(world, 6, { 0: '027', 1: '040' });
    await world.texts(phone(2), 'lovely');
    await world.texts(phone(3), 'stop');
    expect((await behind(id, '')).length).toBe(6);
    expect((await behind(id, 'state:delivered')).sort()).toEqual([2, 3, 4, 5].map(phone));
    expect((await behind(id, 'state:failed,delivered')).length).toBe(6);
    expect(await behind(id, 'failure:spam-blocked')).toEqual([phone(1)]);
    expect(await behind(id, 'replies')).toEqual([phone(2)]);
    expect(await behind(id, 'opt-outs')).toEqual([phone(3)]);
    expect(await behind(id, 'code:credits')).toEqual([]);
  });

  it('says what was called back, and what had left stays', async () => {
    const id = await broadcastTo(world, 5);
    expect(await round(world, new Scripted(), 2)).toBe(2);
    await world.within((scope) => stopBroadcast(world.ctx, scope, id));
    const { result } = (await world.within((scope) => readSend(scope, id, world.clock.at)))!;
    expect(result).toMatchObject({ people: 5, submitted: 2, cancelled: 3, open: 0, parts: 2, credits: 2 });
    expect(await behind(id, 'state:cancelled')).toHaveLength(3);
  });

  it('stands in the list of sends, page by page, the newest first', async () => {
    const ids: string[] = [];
    for (let i = 0; i < 3; i++) {
      ids.unshift(await broadcastTo(world, 1, `Clear tonight, ${i}.`));
      await deliverTo(world, 1, {});
    }
    const first = await world.within((scope) => readSends(scope, '', 2));
    expect(first.rows.map(({ id, result }) => [id, result.delivered])).toEqual([
      [ids[0], 1],
      [ids[1], 1],
    ]);
    const second = await world.within((scope) => readSends(scope, first.next!, 2));
    expect(second.rows.map(({ id }) => id)).toEqual([ids[2]]);
    expect(second.next).toBeNull();
  });

  it('is nobody else’s: another workspace finds no such broadcast, and nothing to search', async () => {
    const id = await broadcastTo(world, 2);
    const other = await createWorkspace(world.ctx, {
      slug: 'other',
      name: 'Other',
      business: 'Other',
      contact: '(719) 555-0111',
      zone: ZONE,
      weeklyCap: null,
      credits: 10,
    });
    await world.within(async (scope) => {
      expect(await readSend(scope, id, world.clock.at)).toBeNull();
      expect((await readSends(scope, '', 10)).rows).toEqual([]);
      expect(await readBehindBroadcast(scope, id, '')).toEqual([]);
      expect(await findAnything(scope, 'acc_nobody', '303')).toEqual([]);
      expect((await readToday(scope, world.clock.at, ZONE, 'acc_nobody')).counts).toMatchObject({
        sent: 0,
        joined: 0,
        held: 0,
      });
      expect(
        (await readRibbon(scope, world.clock.at)).hours.every(({ left, came }) => left + came === 0),
      ).toBe(true);
    }, other.id);
  });
});
