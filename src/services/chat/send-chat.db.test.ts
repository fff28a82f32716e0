import sharp from 'sharp';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR } from '@/core/shared/instant';
import { reportClearance } from '@/services/clearance/report-clearance';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import type { CreateBroadcastInput } from '@/services/sends/inputs';
import { finishBroadcasts } from '@/services/sends/prepare-broadcast';
import { personTexts } from '@/db/results/results';
import { answerThread, type Answering } from '@/services/inbox/answer-thread';
import { keepFile } from '@/services/media/files';
import { must } from '@/services/testing/people';
import { ChatDesk } from '@/services/testing/chat';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { workThrough } from '@/services/kit/trouble';
import { REVIEW_QUEUE } from './review';
import { claimDueChats, handOverChat, settleUnconfirmed } from './send-chat';
import { addLanguage, changeWording, handIn } from './templates';

const ME = { name: 'test', accountId: null };

let world: World;
const desk = new ChatDesk(() => world);
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
        where m.workspace_id = :workspace and m.channel = 'chat' order by m.id, 1`,
    )
  ).map(({ code }) => code);

describe('a broadcast by chat', () => {
  it('goes by its template, filled in for each, and is delivered and read', async () => {
    await desk.connect();
    desk.network.moods.read_share = 1;
    const { templateId } = await desk.template();
    await desk.member(1, { name: 'Ana' });
    await desk.member('sky-owl-7', { name: 'Bo' });
    await desk.broadcast(templateId);
    expect(await desk.round()).toEqual(['taken', 'taken']);
    expect(desk.shown(phone(1))).toEqual([
      'Saturn week\n\nHi Ana, Saturn is up this week. The dome opens at 8.\n\nJuniper Gap',
    ]);
    expect(desk.shown('sky-owl-7')[0]).toContain('Hi Bo,');
    await desk.until(async () =>
      (await desk.states()).every((state) => state === 'delivered') ? true : null,
    );
    const [read] = await desk.until(async () => {
      const rows = await world.rows<{ n: number; credits: number }>(
        `select count(*)::int as n, sum(m.credits)::int as credits from chat c join message m on m.id = c.message_id
          where c.workspace_id = :workspace and c.read_at is not null`,
      );
      return rows[0]!.n === 2 ? rows : null;
    });
    // Marketing costs what the network says, not what the letters would.
    expect(read!.credits).toBe(8);
    await finishBroadcasts(world.ctx);
  });

  it('says it in the language of each, as far as there is one', async () => {
    await desk.connect();
    const { templateId, wordingId } = await desk.template();
    const spanish = await world.within(async (scope) => {
      const made = await addLanguage(world.ctx, scope, templateId, 'es', ME);
      if (!made.ok) throw new Error();
      const body = 'Hola {$person.first_name :wren:field fallback=amigo}, Saturno está arriba esta semana.';
      await changeWording(world.ctx, scope, made.value.id, {
        stamp: 0,
        header: '',
        body,
        samples: { first_name: 'Ada' },
      });
      await handIn(world.ctx, scope, made.value.id, ME);
      return made.value.id;
    });
    expect((await desk.reviewed(spanish)).state).toBe('approved');
    await desk.member(1, { name: 'Ana', language: 'es-MX' });
    await desk.member(2, { name: 'Bo', language: 'de' });
    await desk.broadcast(templateId);
    await desk.round();
    expect(desk.shown(phone(1))[0]).toContain('Hola Ana, Saturno');
    expect(desk.shown(phone(2))[0]).toContain('Hi Bo, Saturn');
    expect(wordingId).not.toBe(spanish);
  });

  it('waits while its template is in review, and leaves once it is approved', async () => {
    await desk.connect();
    desk.network.moods.reviewer = 'never';
    const { templateId, wordingId } = await desk.draft();
    await world.within((scope) => handIn(world.ctx, scope, wordingId, ME));
    await desk.member(1);
    await desk.broadcast(templateId);
    expect(await desk.round()).toEqual([]);
    expect(await reasons()).toEqual(['template-waits']);
    desk.network.moods.reviewer = 'usual';
    await desk.reviewed(wordingId);
    expect(await desk.round()).toEqual(['taken']);
  });

  it('is stopped by a template that is withdrawn while it runs', async () => {
    await desk.connect();
    const { templateId, wordingId } = await desk.template();
    await desk.member(1);
    await desk.broadcast(templateId);
    const { networkId } = await desk.wording(wordingId);
    desk.network.decide('juniper', networkId!, 'withdrawn', 'People complained.');
    await desk.told(async () => ((await desk.wording(wordingId)).state === 'withdrawn' ? true : null));
    expect(await desk.round()).toEqual([]);
    expect(await desk.states()).toEqual(['blocked']);
    expect(await reasons()).toEqual(['template-gone']);
    expect((await desk.wording(wordingId)).reason).toBe('People complained.');
  });

  it('asks how its template stands where the network refuses it and nobody told, and sends nothing twice', async () => {
    await desk.connect();
    const { templateId, wordingId } = await desk.template();
    await desk.member(1);
    await desk.broadcast(templateId);
    desk.broken = true;
    desk.network.decide('juniper', (await desk.wording(wordingId)).networkId!, 'paused', 'Too many blocks.');
    expect(await desk.round()).toEqual(['template-refused']);
    await workThrough(world.ctx, REVIEW_QUEUE);
    expect(await desk.wording(wordingId)).toMatchObject({
      state: 'paused',
      reason: 'Too many blocks.',
      dueAt: null,
    });
    world.clock.at += 5 * 60_000;
    expect(await desk.round()).toEqual([]);
    expect(await reasons()).toEqual(['template-waits']);
    expect(desk.shown(phone(1))).toEqual([]);
  });

  it('begins with as many people a day as the network lets it, the rest on later days', async () => {
    await desk.connect('small');
    const { templateId } = await desk.template();
    for (let i = 1; i <= 12; i++) await desk.member(i);
    await desk.broadcast(templateId);
    expect(await desk.round()).toEqual(Array(5).fill('taken'));
    expect(await desk.round()).toEqual([]);
    expect((await reasons()).filter((code) => code === 'begin-limit')).toHaveLength(7);
    world.clock.at += DAY + HOUR;
    expect(await desk.round()).toEqual(Array(5).fill('taken'));
    world.clock.at += DAY + HOUR;
    expect(await desk.round()).toEqual(['taken', 'taken']);
    expect(desk.network.counts.refused).toBe(0);
  });

  it('goes by chat, else by text, to nobody twice; and the report says so beforehand', async () => {
    await desk.connect();
    const { templateId } = await desk.template();
    await desk.member(1, { name: 'Ana' });
    await world.texts(phone(1), 'SKY');
    await world.texts(phone(2), 'SKY');
    desk.handsets.get(phone(3));
    await desk.member(3, { name: 'Cleo' });
    world.clock.at += HOUR;
    const instead = {
      channel: 'sms' as const,
      body: 'Saturn is up, {$person.first_name :wren:field fallback=friend}. Reply STOP to stop.',
    };
    const report = await world.within((scope) =>
      reportClearance(scope, {
        ...{
          program: 'Clear Sky Alerts',
          channel: 'chat',
          body: '',
          template: templateId,
          at: world.clock.at,
        },
        ...{ senderName: null, personId: null, instead: { subject: '', ...instead } },
      }),
    );
    expect(report.ok && report.value).toMatchObject({
      letters: 1,
      chat: { people: 2, credits: 8 },
      cost: { people: 1 },
    });
    await desk.broadcast(templateId, { instead });
    expect(await desk.round()).toEqual(['taken', 'taken']);
    const rows = await world.rows<{ channel: string; address: string; body: string }>(
      `select channel, address, body from message where workspace_id = :workspace and kind = 'broadcast' order by channel, address`,
    );
    expect(rows.map(({ channel, address }) => `${channel} ${address}`)).toEqual([
      `chat ${phone(1)}`,
      `chat ${phone(3)}`,
      `sms ${phone(2)}`,
    ]);
    expect(rows[2]!.body).toContain('Saturn is up, friend.');
  });

  it('refuses what cannot be said by chat, in words', async () => {
    await desk.connect();
    const { templateId } = await desk.draft();
    const tried = async (more: object) => {
      const made = await world.within((scope) =>
        createBroadcast(
          world.ctx,
          scope,
          { program: 'Clear Sky Alerts', name: 'x', channel: 'chat', ...more } as CreateBroadcastInput,
          ME,
        ),
      );
      if (!made.ok) return made.reason.problems[0]!.field;
      const sent = await world.within((scope) => sendBroadcast(world.ctx, scope, made.value.id, {}, ME));
      return sent.ok ? 'sent' : sent.reason.problems[0]!.message;
    };
    expect(await tried({})).toBe('chat_template');
    expect(await tried({ chat_template: 'cht_none' })).toBe('chat_template');
    expect(await tried({ chat_template: templateId, media: ['f'] })).toBe('media');
    expect(await tried({ chat_template: templateId })).toContain('is draft. Hand it in');
    expect(await tried({ channel: 'sms', body: 'Hi', chat_template: templateId })).toBe('chat_template');
    expect(await tried({ channel: 'sms', body: 'Hi', instead: { channel: 'sms', body: 'x' } })).toBe(
      'instead',
    );
  });

  it('holds while no account is connected or it may begin with nobody', async () => {
    const account = await desk.connect('unfinished');
    expect(account).toMatchObject({
      state: 'restricted',
      missing: ['a picture of the business', 'the address of its privacy page'],
    });
    const { templateId } = await desk.template();
    await desk.member(1);
    await desk.broadcast(templateId);
    expect(await desk.round()).toEqual([]);
    expect(await reasons()).toContain('chat-account-closed');
    desk.network.setAccount('unfinished', { state: 'open', begin_limit: null, missing: [] });
    await desk.check(account.id);
    world.clock.at += HOUR;
    expect(await desk.round()).toEqual(['taken']);
  });
});

describe('exactly once', () => {
  it('asks the network where a line broke after it took the message', async () => {
    await desk.connect();
    const { templateId } = await desk.template();
    await desk.member(1);
    await desk.broadcast(templateId);
    desk.network.moods.network = 'cuts';
    expect(await desk.round()).toEqual(['taken']);
    expect(desk.shown(phone(1))).toHaveLength(1);
  });

  it('puts back what never reached it, and sends it once', async () => {
    await desk.connect();
    const { templateId } = await desk.template();
    await desk.member(1);
    await desk.broadcast(templateId);
    desk.network.moods.network = 'busy';
    expect(await desk.round()).toEqual(['network-busy']);
    desk.network.moods.network = 'up';
    world.clock.at += HOUR;
    expect(await desk.round()).toEqual(['taken']);
    expect(desk.shown(phone(1))).toHaveLength(1);
  });

  /** A broadcast to two people, both of whose messages a worker is about to hand over. */
  async function claimTwo() {
    await desk.connect();
    const { templateId } = await desk.template();
    await desk.member(1);
    await desk.member(2);
    await desk.broadcast(templateId);
    return claimDueChats(world.ctx, 1, 10);
  }

  /** What it was about to hand over is in doubt from then on. */
  async function workerDied() {
    await world.rows(
      `with gone as (delete from departure where workspace_id = :workspace)
       update message set state = 'unconfirmed', lost_at = :at where workspace_id = :workspace and state = 'submitting'`,
      { at: new Date(world.clock.at) },
    );
    world.clock.at += 2 * 60_000;
  }

  it('settles what a dead worker left by asking: taken stays, what was not goes again', async () => {
    const claimed = await claimTwo();
    // One went out before the worker died, the other did not; neither answer was stored.
    await handOverChat(world.ctx, desk.gateway, claimed[0]!);
    await workerDied();
    expect(await settleUnconfirmed(world.ctx, desk.gateway)).toBe(2);
    expect(await desk.round()).toEqual(['taken']);
    for (const i of [1, 2]) expect(desk.shown(phone(i))).toHaveLength(1);
  });

  it('settles the others where one cannot be, and asks a silent account once', async () => {
    const claimed = await claimTwo();
    await workerDied();
    let asked = 0;
    const silent = { ...desk.gateway, has: () => ((asked += 1), Promise.resolve(null)) };
    expect(await settleUnconfirmed(world.ctx, silent)).toBe(0);
    expect(asked).toBe(1);
    await world.poison('text_part', `new.text_id = '${claimed[0]!.id}'`);
    expect(await settleUnconfirmed(world.ctx, { ...desk.gateway, has: () => Promise.resolve(true) })).toBe(1);
    await world.cure('text_part');
    expect((await desk.states()).sort()).toEqual(['submitted', 'unconfirmed']);
  });

  it('counts what the network tells twice and out of order once', async () => {
    await desk.connect();
    desk.network.moods = { ...desk.network.moods, twice_share: 1, disorder_share: 0.5, read_share: 1 };
    const { templateId } = await desk.template();
    for (let i = 1; i <= 5; i++) await desk.member(i);
    await desk.broadcast(templateId);
    await desk.round();
    await desk.until(async () =>
      (await desk.states()).every((state) => state === 'delivered') ? true : null,
    );
    const events = await world.rows<{ n: number }>(
      `select count(*)::int as n from message_event where workspace_id = :workspace and event = 'deliver'`,
    );
    expect(events[0]!.n).toBe(5);
  });
});

describe('an answer by hand, while the window is open', () => {
  const answer = async (more: Answering) => {
    const [person] = await world.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace`,
    );
    return world.within((scope) => answerThread(world.ctx, scope, person!.id, 'Will you come?', null, more));
  };
  const onHandset = () =>
    desk.handsets.find(phone(1))!.texts.findLast(({ direction }) => direction === 'in')!;
  beforeEach(async () => {
    await desk.connect();
    await desk.member(1, { name: 'Ana' });
    await desk.writes(phone(1), 'Is it on tonight?');
  });

  it('carries files and what can be pressed; the press comes back as words', async () => {
    const bytes = await sharp({ create: { width: 4, height: 4, channels: 3, background: '#228' } })
      .jpeg()
      .toBuffer();
    const { id } = must(
      await world.within((scope) =>
        keepFile(world.ctx, scope, { name: 'dome.jpg', alt: 'The dome', bytes }, ME),
      ),
    );
    must(await answer({ media: [id], buttons: ['I will come', '', 'Not tonight'] }));
    expect(await desk.round()).toEqual(['taken']);
    expect(onHandset()).toMatchObject({
      body: 'Will you come?',
      pictures: [{ url: expect.stringMatching(`/m/${id}$`), type: 'image/jpeg', name: 'dome.jpg' }],
      buttons: [{ words: 'I will come' }, { words: 'Not tonight' }],
    });
    await desk.writes(phone(1), '', { button: 'I will come' });
    const [person] = await world.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace`,
    );
    const log = await world.within((scope) => personTexts(scope, person!.id, 10));
    expect(log.map(({ body }) => body)).toContain('I will come');
    expect(log.find(({ direction }) => direction === 'out')).toMatchObject({
      ...{ direction: 'out', files: [{ id, name: 'dome.jpg' }] },
      buttons: [{ words: 'I will come' }, { words: 'Not tonight' }],
    });
  });

  it.each([
    [['a', 'b', 'c', 'd'], 'at most 3'],
    [['x'.repeat(21)], 'too long'],
    [['Yes', 'Yes '], 'two read the same'],
  ])('refuses %j to press', async (buttons, why) => {
    expect(await answer({ buttons })).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'buttons', message: expect.stringContaining(why) }] },
    });
    expect(await desk.round()).toEqual([]);
  });
});
