import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { HOUR, MINUTE } from '@/core/shared/instant';
import { Account } from '@/db/access/entities';
import { DropWave } from '@/db/voicemail/entities';
import { TURNS_QUEUE } from '@/services/sends/give-turns';
import { workThrough } from '@/services/kit/trouble';
import { VoiceDesk } from '@/services/testing/voicemail';
import { makeWorld, phone, type World } from '@/services/testing/world';

let world: World;
const desk = new VoiceDesk(() => world);
beforeAll(() => desk.open());
afterAll(() => desk.close());
beforeEach(async () => {
  world = await makeWorld();
  desk.anew();
  await desk.connect();
});
afterEach(async () => {
  await desk.quiet();
  await world.close();
});

/** Teammates who take calls back, at any hour or on chosen ones. */
const takers = (n: number, duty: object[] = []) =>
  world.within(async (scope) => {
    for (let i = 0; i < n; i += 1) {
      const id = `acc_${scope.workspaceId}_${i}`;
      const made = { id, email: `${id}@example.org`, name: id, passwordHash: 'x', createdAt: new Date(0) };
      await scope.em.insert(Account, made);
      await scope.run(
        `insert into membership (workspace_id, account_id, role, takes_calls, duty) values (:workspace, :id, 'teammate', true, :duty::jsonb)
         on conflict (workspace_id, account_id) do update set duty = excluded.duty`,
        { id, duty: JSON.stringify(duty) },
      );
    }
  });

const members = async (n: number) => {
  for (let i = 1; i <= n; i += 1) await desk.member(i);
};

/** A wave, if it is time for one; gives how many leave. */
const wave = async (): Promise<number> => {
  await workThrough(world.ctx, TURNS_QUEUE);
  return (await desk.round()).length;
};

const noted = () =>
  world.within((scope) => scope.em.find(DropWave, {}, { orderBy: { id: 'asc' }, refresh: true }));

/** Somebody calls back, and nobody picks up. */
const callBack = (i: number, sendId: string) =>
  world.rows(
    `insert into call (id, workspace_id, direction, address, person_id, rang_at, ended_at, after_message_id, after_send_id, created_at)
     select 'cal_' || m.id, :workspace, 'in', m.address, m.person_id, :at, :at, m.id, m.send_id, :at from message m
      where m.workspace_id = :workspace and m.send_id = :sendId and m.address = :address`,
    { sendId, address: phone(i), at: new Date(world.clock.at) },
  );

describe('a drop in waves as the phones carry', () => {
  it('goes in waves, each within a quarter of an hour of what two people can take', async () => {
    await takers(2);
    const recording = await desk.record();
    await members(60);
    await desk.drop(recording, { pace: { phones: true } });
    const first = await wave();
    expect(first).toBeGreaterThan(3);
    expect(first).toBeLessThan(40);
    // Nobody more before the next quarter of an hour.
    world.clock.at += 10 * MINUTE;
    expect(await wave()).toBe(0);
    let left = first;
    for (let i = 0; i < 40 && left < 60; i += 1) {
      world.clock.at += 15 * MINUTE;
      left += await wave();
    }
    expect(left).toBe(60);
    expect((await noted()).filter(({ people }) => people > 0).map(({ why }) => why)).not.toContain(
      'more-call',
    );
  });

  it('slows down when more call back than was thought, and says why', async () => {
    await takers(2);
    const recording = await desk.record();
    await members(120);
    const sendId = await desk.drop(recording, { pace: { phones: true } });
    const first = await wave();
    await desk.settled();
    for (let i = 0; i < first; i += 1) await callBack(i + 1, sendId).catch(() => null);
    world.clock.at += 15 * MINUTE;
    const second = await wave();
    const waves = await noted();
    const last = waves.at(-1)!;
    expect(second).toBeLessThan(last.before);
    expect(['more-call', 'phones-full']).toContain(last.why);
    expect(last.called).toBeGreaterThan(last.expected);
  });

  it('waits where nobody is at the phones, and goes when they are', async () => {
    // The world's clock stands at noon in Denver on a Tuesday.
    const weekday = new Date(world.clock.at).getUTCDay();
    await takers(2, [{ day: weekday, from: '14:00', to: '18:00' }]);
    const recording = await desk.record();
    await members(20);
    await desk.drop(recording, { pace: { phones: true } });
    expect(await wave()).toBe(0);
    expect((await noted()).map(({ why }) => why)).toEqual(['nobody-there']);
    let left = 0;
    for (let i = 0; i < 12 && left === 0; i += 1) {
      world.clock.at += 15 * MINUTE;
      left = await wave();
    }
    expect(left).toBeGreaterThan(0);
  });

  it('is planned over the night, and begins again in the morning', async () => {
    await takers(1);
    const recording = await desk.record();
    await members(80);
    await desk.drop(recording, { pace: { phones: true } });
    const hours: number[] = [];
    let left = 0;
    for (let i = 0; i < 4 * 40 && left < 80; i += 1) {
      const now = await wave();
      left += now;
      if (now > 0) hours.push(new Date(world.clock.at).getTime());
      world.clock.at += 15 * MINUTE;
    }
    // In Denver, where they live, no voicemail is left before eight or after nine.
    const local = hours.map((at) =>
      Number(
        new Date(at).toLocaleString('en-US', { timeZone: 'America/Denver', hour: '2-digit', hour12: false }),
      ),
    );
    expect(Math.min(...local)).toBeGreaterThanOrEqual(8);
    expect(Math.max(...local)).toBeLessThan(21);
    expect(left).toBe(80);
  });

  it('leaves out who takes their consent back between two waves', async () => {
    await takers(1);
    const recording = await desk.record();
    await members(30);
    await desk.drop(recording, { pace: { phones: true } });
    const first = await wave();
    expect(first).toBeLessThan(30);
    await world.rows(
      `update consent_state set state = 'out' where workspace_id = :workspace and channel = 'voicemail' and address in (
         select address from message where workspace_id = :workspace and state = 'queued' limit 1)`,
    );
    for (let i = 0; i < 60; i += 1) {
      world.clock.at += 15 * MINUTE;
      await wave();
    }
    const states = await desk.settled();
    expect(states.filter((state) => state === 'blocked')).toHaveLength(1);
    expect(states.filter((state) => state === 'delivered')).toHaveLength(29);
  });
});

describe('a drop in waves of one’s own', () => {
  it('leaves so many together, every so many minutes', async () => {
    const recording = await desk.record();
    await members(7);
    await desk.drop(recording, { pace: { people: 3, every_minutes: 30 } });
    expect(await wave()).toBe(3);
    world.clock.at += 29 * MINUTE;
    expect(await wave()).toBe(0);
    world.clock.at += MINUTE;
    expect(await wave()).toBe(3);
    // Nobody was there for two hours: what was missed is not made up for at once.
    world.clock.at += 2 * HOUR;
    expect(await wave()).toBe(1);
  });
});
