import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { MINUTE } from '@/core/shared/instant';
import { Broadcast } from '@/db/sends/entities';
import { workThrough } from '@/services/kit/trouble';
import { must } from '@/services/testing/people';
import { receipt, round, Scripted } from '@/services/testing/sending';
import { VoiceDesk } from '@/services/testing/voicemail';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { storeAnswers } from '@/services/delivery/store-answers';
import { reportClearance } from '@/services/clearance/report-clearance';
import { createBroadcast } from './broadcasts';
import { changePace } from './change-pace';
import { COMPANION_QUEUE } from './companion';
import { TURNS_QUEUE } from './give-turns';
import { leaveOutOf } from './leave-out';
import { pauseBroadcast, resumeBroadcast, stopBroadcast } from './move-broadcast';
import { finishBroadcasts, prepareBroadcast } from './prepare-broadcast';

const ME = { name: 'test', accountId: null };
const AFTER = {
  when: 'after' as const,
  minutes: 5,
  channel: 'sms' as const,
  body: 'I left you a voicemail.',
};
const BEFORE = { ...AFTER, when: 'before' as const, minutes: 20, body: 'We call you in a while.' };

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

/** People 1 to `both` agreed to voicemails and texts, the rest up to `all` to voicemails alone. */
const people = async (both: number, all = both) => {
  for (let i = 1; i <= all; i += 1) await desk.member(i, { texts: i <= both });
};

/** A drop with what is told beside it; both are made ready. */
async function dropWith(companion: object, more: object = {}): Promise<{ drop: string; told: string }> {
  const recording = await desk.record();
  const drop = await desk.drop(recording, { companion, ...more } as never);
  const { id: told } = await world.within((scope) =>
    scope.em.findOneOrFail(Broadcast, { companionOf: drop }),
  );
  await prepareBroadcast(world.ctx, world.workspaceId, told);
  return { drop, told };
}

const follow = () => workThrough(world.ctx, COMPANION_QUEUE);

/** Texts that leave now, by number. */
async function texts(): Promise<string[]> {
  const carrier = new Scripted();
  await round(world, carrier);
  await storeAnswers(
    world.ctx,
    [],
    carrier.parts.map((part, i) => receipt(part, carrier.ids[i]!)),
  );
  return carrier.parts.map(({ to }) => to).sort();
}

const statesOf = async (sendId: string): Promise<string[]> =>
  (
    await world.rows<{ state: string }>(
      `select state from message where workspace_id = :workspace and send_id = :sendId order by address, id`,
      { sendId },
    )
  ).map(({ state }) => state);

const stateOf = async (id: string) =>
  (await world.within((scope) => scope.em.findOneOrFail(Broadcast, { id }, { refresh: true }))).state;

describe('a text after a voicemail', () => {
  it('goes so long after each was left, to nobody else, and both come to their end', async () => {
    await people(3);
    desk.handsets.get(phone(2)).behaviour = 'box-full';
    const { drop, told } = await dropWith(AFTER);
    expect(await texts()).toEqual([]);
    await desk.round();
    await desk.settled();
    await follow();
    expect(await texts()).toEqual([]);
    world.clock.at += 5 * MINUTE;
    expect(await texts()).toEqual([phone(1), phone(3)]);
    expect((await statesOf(told)).sort()).toEqual(['cancelled', 'delivered', 'delivered']);
    await finishBroadcasts(world.ctx);
    expect([await stateOf(drop), await stateOf(told)]).toEqual(['finished', 'finished']);
  });

  it('goes to nobody whose voicemail was stopped, or who was taken out', async () => {
    await people(3);
    const { drop, told } = await dropWith(AFTER);
    await world.within(async (scope) => {
      const condition = JSON.stringify({ ask: 'field', field: 'number', is: 'equals', value: phone(1) });
      await leaveOutOf(world.ctx, scope, drop, condition, ME);
    });
    await world.within((scope) => stopBroadcast(world.ctx, scope, drop));
    await follow();
    expect(await statesOf(told)).toEqual(['cancelled', 'cancelled', 'cancelled']);
  });

  it('goes to nobody who left between the two', async () => {
    await people(2);
    const { told } = await dropWith(AFTER);
    await desk.round();
    await desk.settled();
    await follow();
    await world.texts(phone(1), 'STOP');
    // The answer to the STOP, and nothing else.
    expect(await texts()).toEqual([phone(1)]);
    world.clock.at += 6 * MINUTE;
    expect(await texts()).toEqual([phone(2)]);
    expect((await statesOf(told)).sort()).toEqual(['cancelled', 'delivered']);
  });

  it('is one for each, however often and by however many it is looked after', async () => {
    await people(4);
    const { told } = await dropWith(AFTER);
    await desk.round();
    await desk.settled();
    await Promise.all([follow(), follow(), follow()]);
    world.clock.at += 5 * MINUTE;
    expect(await texts()).toHaveLength(4);
    await follow();
    expect(await texts()).toEqual([]);
    expect(await statesOf(told)).toHaveLength(4);
  });
});

describe('a text before a voicemail', () => {
  it('goes first, and the voicemail so long after it; who may not be texted is called all the same', async () => {
    await people(2, 3);
    await dropWith(BEFORE);
    expect(await desk.round()).toEqual([]);
    await follow();
    expect(await texts()).toEqual([phone(1), phone(2)]);
    await follow();
    // The third is a member by voicemail alone, and has no text to wait for.
    expect(await desk.round()).toEqual(['taken']);
    expect(desk.heard(phone(3))).toBe(1);
    world.clock.at += 20 * MINUTE;
    expect(await desk.round()).toEqual(['taken', 'taken']);
  });

  it('tells nobody of a voicemail they will not get', async () => {
    await people(2);
    await world.texts(phone(9), 'sky');
    await texts();
    const { told } = await dropWith(BEFORE);
    await follow();
    // The ninth agreed to texts alone.
    expect(await texts()).toEqual([phone(1), phone(2)]);
    expect((await statesOf(told)).sort()).toEqual(['cancelled', 'delivered', 'delivered']);
  });

  it('keeps the pace of the voicemails', async () => {
    await people(4);
    await dropWith(BEFORE, { pace: { people: 2, every_minutes: 30 } });
    const wave = async () => {
      await workThrough(world.ctx, TURNS_QUEUE);
      await follow();
      return texts();
    };
    expect(await wave()).toHaveLength(2);
    expect(await wave()).toEqual([]);
    await follow();
    world.clock.at += 20 * MINUTE;
    expect(await desk.round()).toHaveLength(2);
    world.clock.at += 10 * MINUTE;
    expect(await wave()).toHaveLength(2);
  });

  it('lets no voicemail go before its text through a pause or another pace', async () => {
    await people(2);
    const { drop } = await dropWith(BEFORE, { pace: { people: 1, every_minutes: 30 } });
    await workThrough(world.ctx, TURNS_QUEUE);
    const inScope = <T>(act: (scope: never) => Promise<T>) => world.within((scope) => act(scope as never));
    await inScope((scope) => pauseBroadcast(world.ctx, scope, drop));
    await inScope((scope) => resumeBroadcast(world.ctx, scope, drop));
    await inScope((scope) => changePace(world.ctx, scope, drop, { pace: null } as never, ME));
    expect(await desk.round()).toEqual([]);
    await follow();
    expect(await texts()).toHaveLength(2);
    await follow();
    expect(await desk.round()).toEqual([]);
    world.clock.at += 20 * MINUTE;
    expect(await desk.round()).toHaveLength(2);
  });

  it('is stopped by itself, and the voicemails come all the same', async () => {
    await people(2);
    const { told } = await dropWith(BEFORE);
    await world.within((scope) => stopBroadcast(world.ctx, scope, told));
    await follow();
    expect(await texts()).toEqual([]);
    expect(await desk.round()).toHaveLength(2);
  });
});

describe('a draft with something told beside it', () => {
  it('says who is told, and what that costs', async () => {
    await people(2, 3);
    const recording = await desk.record();
    const { companion } = must(
      await world.within((scope) =>
        reportClearance(scope, {
          ...{ program: 'Clear Sky Alerts', channel: 'voicemail', body: 'x', at: world.clock.at },
          ...{ senderName: null, personId: null, companion: { subject: '', ...AFTER } },
        }),
      ),
    );
    expect(recording).toMatch(/^vrc_/);
    expect(companion).toEqual({ people: 2, blocked: 1, credits: 2 });
  });

  it.each([
    [{ companion: { ...AFTER, minutes: 5_000 } }, 'companion.minutes'],
    [{ companion: { ...BEFORE, minutes: 241 } }, 'companion.minutes'],
    [{ companion: { ...AFTER, body: '{broken' } }, 'companion.body'],
    [{ companion: { ...AFTER, channel: 'email', subject: 'two\nlines' } }, 'companion.subject'],
    [{ channel: 'sms', body: 'x', recording: undefined, companion: AFTER }, 'companion'],
  ])('refuses %j', async (more, field) => {
    const recording = await desk.record();
    const input = { program: 'Clear Sky Alerts', name: 'S', channel: 'voicemail', recording, ...more };
    const made = await world.within((scope) => createBroadcast(world.ctx, scope, input as never, ME));
    expect(made).toMatchObject({ ok: false, reason: { problems: [{ field }] } });
  });
});
