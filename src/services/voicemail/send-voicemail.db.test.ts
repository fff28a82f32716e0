import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import { Person } from '@/db/people/entities';
import { Voicemail } from '@/db/voicemail/entities';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import type { CreateBroadcastInput } from '@/services/sends/inputs';
import { finishBroadcasts } from '@/services/sends/prepare-broadcast';
import { applyDecision } from '@/services/inbox/carry-decision';
import { SAID, spokenWave, VoiceDesk } from '@/services/testing/voicemail';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { createVoiceMessage } from './messages';
import { claimDueVoicemails, handOverVoicemail, settleUnconfirmedVoicemails } from './send-voicemail';

const ME = { name: 'test', accountId: null };

let world: World;
const desk = new VoiceDesk(() => world);
beforeAll(() => desk.open());
afterAll(() => desk.close());
beforeEach(async () => {
  world = await makeWorld();
  desk.anew();
});
afterEach(async () => {
  await desk.quiet();
  await world.close();
});

const reasons = async (): Promise<string[]> =>
  (
    await world.rows<{ code: string }>(
      `select r ->> 'code' as code from message m cross join lateral jsonb_array_elements(m.clearance -> 'reasons') r
        where m.workspace_id = :workspace and m.channel = 'voicemail' order by m.id, 1`,
    )
  ).map(({ code }) => code);

describe('a voicemail', () => {
  it('is left with who agreed, once, from a number that can be called back', async () => {
    await desk.connect();
    const recording = await desk.record();
    await desk.member(1);
    await desk.member(2);
    await desk.drop(recording);
    expect(await desk.round()).toEqual(['taken', 'taken']);
    expect(await desk.settled()).toEqual(['delivered', 'delivered']);
    expect(desk.heard(phone(1))).toBe(1);
    const [row] = await world.within((scope) => scope.em.find(Voicemail, {}));
    expect(row!.fromNumber).toMatch(/^\+1\d{10}$/);
    // The account says what one costs.
    const [{ credits }] = (await world.rows<{ credits: number }>(
      `select sum(credits)::int as credits from message where workspace_id = :workspace and channel = 'voicemail'`,
    )) as [{ credits: number }];
    expect(credits).toBe(8);
    await finishBroadcasts(world.ctx);
  });

  it('goes to nobody who agreed to texts alone, and stops with a STOP by text', async () => {
    await desk.connect();
    const recording = await desk.record();
    const id = await desk.member(1, { texts: true });
    await world.within(async (scope) => {
      const person = await scope.em.findOneOrFail(Person, { id });
      const [{ program_id: programId }] = (await scope.rows<{ program_id: string }>(
        `select program_id from consent_state where workspace_id = :workspace and person_id = :id limit 1`,
        { id },
      )) as [{ program_id: string }];
      await applyDecision(world.ctx, scope, {
        ...{ person, by: { channel: 'sms', address: phone(1) }, method: 'reply', at: world.clock.at },
        decision: { consents: [{ kind: 'opted-out', programId }], cancelQueued: 'all' } as never,
        evidence: {},
      });
    });
    await desk.drop(recording);
    expect(await desk.round()).toEqual([]);
    expect(await reasons()).toContain('opted-out');
  });

  it.each([
    ['box-full', 'failed: box-full'],
    ['answers', 'failed: answered'],
    ['no-voicemail', 'failed: no-voicemail'],
    ['landline', 'failed: no-voicemail'],
    ['refused', 'failed: voicemail-refused'],
    ['unknown-number', 'failed: number-unknown'],
    ['receipt-twice', 'delivered'],
  ] as const)('at a phone that is %s ends as %s, and rings once', async (behaviour, state) => {
    await desk.connect();
    const recording = await desk.record();
    await desk.member(1);
    desk.handsets.get(phone(1)).behaviour = behaviour;
    await desk.drop(recording);
    expect(await desk.round()).toEqual(['taken']);
    expect(await desk.settled()).toEqual([state]);
    world.clock.at += DAY;
    expect(await desk.round()).toEqual([]);
    expect(desk.dropper.counts.taken).toBe(1);
  });

  it('is not tried again where there is no box', async () => {
    await desk.connect();
    const recording = await desk.record();
    await desk.member(1);
    desk.handsets.get(phone(1)).behaviour = 'no-voicemail';
    await desk.drop(recording);
    await desk.round();
    await desk.settled();
    const again = await desk.record(SAID.replace('Saturn', 'Jupiter'), 'Jupiter');
    world.clock.at += 8 * DAY;
    await desk.drop(again, { name: 'Jupiter' });
    expect(await desk.round()).toEqual([]);
    expect(await reasons()).toContain('no-voicemail');
  });

  it('waits where no account is connected, and where it is closed, and goes once it is open', async () => {
    const recording = await desk.record();
    await desk.member(1);
    await desk.drop(recording);
    expect(await desk.round()).toEqual([]);
    expect(await reasons()).toEqual(['no-voicemail-account']);
    desk.dropper.setAccount('juniper', 'closed');
    const { id } = await desk.connect();
    world.clock.at += 20 * MINUTE;
    expect(await desk.round()).toEqual([]);
    desk.dropper.setAccount('juniper', 'open');
    expect((await desk.check(id)).state).toBe('open');
    world.clock.at += 20 * MINUTE;
    expect(await desk.round()).toEqual(['taken']);
  });

  it('keeps the hours of calls where they live', async () => {
    await desk.connect();
    const recording = await desk.record();
    await desk.member(1);
    world.clock.at += 10 * HOUR;
    await desk.drop(recording);
    expect(await desk.round()).toEqual([]);
    expect(await reasons()).toEqual(['quiet-hours']);
  });

  it('whose worker died is asked about, and rings no phone twice', async () => {
    await desk.connect();
    const recording = await desk.record();
    await desk.member(1);
    await desk.member(2);
    await desk.drop(recording);
    const [first, second] = await claimDueVoicemails(world.ctx, 1, 10);
    // The first was handed over before the worker died, the second was not.
    await handOverVoicemail(world.ctx, desk.gateway, first!);
    expect(second).toBeDefined();
    await world.rows(
      `update message set state = 'unconfirmed', lost_at = :at where workspace_id = :workspace and channel = 'voicemail' and state = 'submitting'`,
      { at: new Date(world.clock.at) },
    );
    world.clock.at += 2 * MINUTE;
    await settleUnconfirmedVoicemails(world.ctx, desk.gateway);
    world.clock.at += MINUTE;
    await desk.round();
    await desk.settled();
    expect([desk.heard(phone(1)), desk.heard(phone(2))]).toEqual([1, 1]);
  });

  it('is brought its recording anew by an account that lost it', async () => {
    await desk.connect();
    const recording = await desk.record();
    await desk.member(1);
    await desk.drop(recording);
    await desk.round();
    await desk.settled();
    // The bench was started anew: it knows nothing of what it was brought.
    const { callbacks } = desk.dropper.accounts[0]!;
    desk.anew();
    desk.dropper.accounts[0]!.callbacks = callbacks;
    await desk.member(2);
    world.clock.at += HOUR;
    await desk.drop(recording, { name: 'Saturn once more' });
    await desk.round();
    await desk.settled();
    expect(desk.heard(phone(2))).toBe(1);
  });

  it('of which something must be mended is not dropped', async () => {
    await desk.connect();
    const made = await world.within((scope) =>
      createVoiceMessage(
        world.ctx,
        scope,
        { name: 'Bare', words: 'Come and see Saturn.', wave: spokenWave() },
        ME,
      ),
    );
    if (!made.ok) throw new Error();
    const input = {
      ...{ program: 'Clear Sky Alerts', name: 'Bare', channel: 'voicemail' },
      recording: made.value.recording.id,
    } as CreateBroadcastInput;
    const draft = await world.within((scope) => createBroadcast(world.ctx, scope, input, ME));
    if (!draft.ok) throw new Error();
    const sent = await world.within((scope) => sendBroadcast(world.ctx, scope, draft.value.id, {}, ME));
    expect(sent.ok).toBe(false);
    if (!sent.ok)
      expect(sent.reason.problems.map(({ field }) => field)).toEqual(['recording', 'recording', 'recording']);
  });
});

describe('what is told of voicemails', () => {
  it('counts only by whoever signs it, and of voicemails of its own', async () => {
    const account = await desk.connect();
    const said = JSON.stringify({ events: [{ id: 'e', kind: 'drop.left', reference: 'txt_none' }] });
    const post = (url: string) => fetch(url, { method: 'POST', body: said });
    expect((await post(`${desk.back}/voicemail/${account.doorKey}`)).status).toBe(401);
    expect((await post(`${desk.back}/voicemail/${'0'.repeat(30)}`)).status).toBe(404);
  });
});
