import { Webhook } from 'standardwebhooks';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR } from '@/core/shared/instant';
import { whoHas } from '@/db/people/addresses';
import { answerThread } from '@/services/inbox/answer-thread';
import { findProgram } from '@/services/programs/find-program';
import { storeAnswers } from '@/services/delivery/store-answers';
import { recordConsent } from '@/services/consent/record-consent';
import { ChatDesk } from '@/services/testing/chat';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { workThrough } from '@/services/kit/trouble';
import { claimDueChats, handOverChat } from './send-chat';
import { keepTold, TOLD_QUEUE } from './take-told';

let world: World;
const desk = new ChatDesk(() => world);
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

interface Said {
  meaning: string;
  rule: string;
  body: string;
  channel: string;
}
const inbox = (): Promise<Said[]> =>
  world.rows(
    `select meaning, rule, body, channel from inbound_text where workspace_id = :workspace order by at, id`,
  );
const consents = async (): Promise<string[]> =>
  (
    await world.rows<{ channel: string; state: string; method: string }>(
      `select channel, state, method from consent_state where workspace_id = :workspace and current order by channel`,
    )
  ).map(({ channel, state, method }) => `${channel} ${state} ${method}`);
const answers = async (): Promise<string[]> => {
  await desk.round();
  return (
    await world.rows<{ kind: string; channel: string }>(
      `select kind, channel from message where workspace_id = :workspace order by created_at, id`,
    )
  ).map(({ kind, channel }) => `${kind} ${channel}`);
};

describe('somebody writes by chat', () => {
  it('joins by the keyword, is answered there, and may be answered by hand while the window is open', async () => {
    await desk.writes('owl-7', 'SKY', { profile: { name: 'Ada Orr', language: 'es' } });
    expect(await inbox()).toMatchObject([{ meaning: 'keyword', channel: 'chat', body: 'SKY' }]);
    expect(await consents()).toEqual(['chat in keyword']);
    expect(await answers()).toEqual(['confirmation chat']);
    expect(desk.shown('owl-7')[0]).toContain('Clear Sky Alerts');
    const [person] = await world.rows<{
      id: string;
      first_name: string;
      language: string;
      further: string[];
    }>(`select id, first_name, language, further from person where workspace_id = :workspace`);
    expect(person).toMatchObject({ first_name: 'Ada', language: 'es', further: ['owl-7'] });
    const answer = (text: string) =>
      world.within((scope) =>
        answerThread(world.ctx, scope, person!.id, text, null as never, { channel: 'chat' }),
      );
    expect(await answer('See you at eight.')).toMatchObject({ ok: true });
    expect(await desk.round()).toEqual(['taken']);
    expect(desk.shown('owl-7')).toHaveLength(2);
    world.clock.at += DAY + HOUR;
    const late = await answer('Are you coming?');
    expect(late.ok ? '' : late.reason.problems[0]!.message).toContain('the window of 24 hours is closed');
  });

  it('is not answered by a breath too late: a window that closes on the way is told as such, not as sent', async () => {
    await desk.writes('owl-7', 'SKY');
    await desk.round();
    await desk.writes('owl-7', 'Are you open?');
    const [person] = await world.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace`,
    );
    world.clock.at += DAY - 1_000;
    await world.within((scope) =>
      answerThread(world.ctx, scope, person!.id, 'Yes, until ten.', null as never, { channel: 'chat' }),
    );
    const claimed = await claimDueChats(world.ctx, 1, 10);
    expect(claimed).toHaveLength(1);
    world.clock.at += 2_000;
    const handed = await handOverChat(world.ctx, desk.gateway, claimed[0]!);
    await storeAnswers(world.ctx, [handed], []);
    expect(await desk.states()).toEqual(['delivered', 'failed: window-closed']);
    expect(desk.shown('owl-7')).toHaveLength(1);
  });

  it('is the person who has the number, where the id is one', async () => {
    await world.texts(phone(4), 'SKY');
    await desk.writes(phone(4), 'What time do you open?');
    const people = await world.rows(`select id from person where workspace_id = :workspace`);
    expect(people).toHaveLength(1);
    expect(await world.within((scope) => whoHas(scope, 'chat', phone(4)))).toHaveLength(1);
    // Writing by chat is no agreement to anything.
    expect(await consents()).toEqual(['sms in keyword']);
  });

  it('writes twice at once and is one person', async () => {
    for (const text of ['one', 'two', 'three']) desk.network.write('fox-1', 'juniper', { text });
    await desk.told(async () => ((await inbox()).length === 3 ? true : null));
    expect(await world.rows(`select id from person where workspace_id = :workspace`)).toHaveLength(1);
    expect((await inbox()).map(({ body }) => body).sort()).toEqual(['one', 'three', 'two']);
  });

  it('is taken once, however often the network tells it', async () => {
    desk.network.moods.twice_share = 1;
    await desk.writes('fox-1', 'SKY');
    expect(await inbox()).toHaveLength(1);
    expect(await answers()).toEqual(['confirmation chat']);
  });

  it('brings a picture, which is kept with the message', async () => {
    const bytes = Buffer.from(
      'iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==',
      'base64',
    );
    desk.network.write('fox-1', 'juniper', {
      text: 'Is this Saturn?',
      files: [{ name: 'sky.png', type: 'image/png', bytes }],
    });
    await desk.told(async () => ((await inbox()).length === 1 ? true : null));
    expect(
      await world.rows(`select 1 from media_file where workspace_id = :workspace and arrived_as is not null`),
    ).toHaveLength(1);
  });
});

describe('somebody leaves', () => {
  const both = async (): Promise<string> => {
    const id = await desk.member(1);
    await world.within(async (scope) => {
      const program = (await findProgram(scope, 'Clear Sky Alerts'))!;
      await recordConsent(world.ctx, scope, {
        ...{ personId: id, programId: program.id, channel: 'sms', address: phone(1), kind: 'opted-in' },
        ...{ method: 'form', evidence: { wording: 'Yes.' } },
      });
    });
    return id;
  };

  it('by word: chat and texts end, and one confirmation comes', async () => {
    await both();
    await desk.writes(phone(1), 'please stop sending me these');
    expect(await consents()).toEqual(['chat out reply', 'sms out reply']);
    expect(await answers()).toEqual(['opt-out-confirmation chat']);
  });

  it('by a STOP in a text: the chat ends too', async () => {
    await both();
    await world.texts(phone(1), 'STOP');
    expect(await consents()).toEqual(['chat out reply', 'sms out reply']);
  });

  it('by the button that leaves, whatever stands on it, before the next message of the send', async () => {
    await both();
    const { templateId } = await desk.template({
      buttons: [{ kind: 'reply', words: 'No thanks', leaves: true }],
    });
    await desk.broadcast(templateId);
    await desk.round();
    await desk.writes(phone(1), '', { button: 'No thanks' });
    expect((await inbox())[0]).toMatchObject({ meaning: 'opt-out', rule: 'button' });
    expect(await consents()).toEqual(['chat out reply', 'sms out reply']);
  });

  it('by a block: the chat ends, what waits is called back, and nothing goes there any more', async () => {
    await both();
    const { templateId } = await desk.template();
    await desk.broadcast(templateId);
    desk.network.block(phone(1), 'juniper', true);
    await desk.told(async () => ((await consents()).includes('chat out carrier') ? true : null));
    expect(await consents()).toEqual(['chat out carrier', 'sms in form']);
    expect(await desk.states()).toEqual(['cancelled']);
    expect(await desk.round()).toEqual([]);
  });

  it('is not written to between the arrival of a STOP and its reading', async () => {
    await both();
    const { templateId } = await desk.template();
    await desk.broadcast(templateId);
    desk.network.write(phone(1), 'juniper', { text: 'STOP' });
    await desk.until(async () => {
      const [row] = await world.rows(`select 1 from chat_told where workspace_id = :workspace and who <> ''`);
      return row ?? null;
    });
    expect(await desk.round()).toEqual([]);
    await workThrough(world.ctx, TOLD_QUEUE);
    expect(await desk.states()).toContain('cancelled');
  });

  it('and comes back by START, by chat alone', async () => {
    await both();
    await desk.writes(phone(1), 'STOP');
    world.clock.at += HOUR;
    await desk.writes(phone(1), 'START');
    expect(await consents()).toEqual(['chat in reply', 'sms out reply']);
  });
});

describe('what cannot be worked on', () => {
  it('holds its person, shows its problem, and lets the others go on; a STOP behind it counts at once', async () => {
    await desk.member(1);
    await world.poison('inbound_text', `new.body = 'poison'`);
    desk.network.write(phone(1), 'juniper', { text: 'poison' });
    await desk.until(async () => {
      await workThrough(world.ctx, TOLD_QUEUE);
      const rows = await world.rows(
        `select 1 from trouble where workspace_id = :workspace and queue = 'chat-told'`,
      );
      return rows.length > 0 ? true : null;
    });
    await desk.writes('fox-1', 'SKY');
    expect((await inbox()).map(({ body }) => body)).toEqual(['SKY']);
    await desk.writes(phone(1), 'STOP');
    expect(await consents()).toEqual(['chat in keyword', 'chat out reply']);
    await world.cure('inbound_text');
    world.clock.at += HOUR;
    await workThrough(world.ctx, TOLD_QUEUE);
    expect((await inbox()).map(({ body }) => body)).toContain('poison');
    expect(await consents()).toEqual(['chat in keyword', 'chat out reply']);
  });
});

describe('the door', () => {
  const call = async (body: string, headers: Record<string, string> = {}): Promise<number> => {
    const [account] = await world.rows<{ door_key: string }>(
      `select door_key from chat_account where workspace_id = :workspace`,
    );
    const response = await fetch(`${process.env.WREN_PUBLIC_URL}/chat/${account!.door_key}`, {
      method: 'POST',
      body,
      headers,
    });
    return response.status;
  };

  it('takes nothing that is not signed, is signed an hour ago, or is no list', async () => {
    const [account] = await world.rows<{ secret: string }>(
      `select secret from chat_account where workspace_id = :workspace`,
    );
    const signed = (body: string, at = new Date()) => ({
      ...{ 'webhook-id': 'x', 'webhook-timestamp': String(Math.floor(at.getTime() / 1_000)) },
      'webhook-signature': new Webhook(account!.secret).sign('x', at, body),
    });
    const body = JSON.stringify({
      events: [{ id: 'e1', kind: 'message.received', message: 'm', from: 'owl-7', text: 'SKY' }],
    });
    expect(await call(body)).toBe(401);
    expect(await call(body, signed('another'))).toBe(401);
    expect(await call(body, signed(body, new Date(Date.now() - 3_600_000)))).toBe(401);
    expect(await call('[]', signed('[]'))).toBe(422);
    expect(await call(body, signed(body))).toBe(204);
    // Kept and sent again: it counts once.
    expect(await call(body, signed(body))).toBe(204);
    await workThrough(world.ctx, TOLD_QUEUE);
    expect(await inbox()).toHaveLength(1);
  });

  it('believes an account about its own messages alone', async () => {
    const other = await desk.connect('small');
    const { templateId } = await desk.template({}, { account: other.id });
    await desk.member(1);
    await desk.broadcast(templateId);
    await desk.round();
    const [message] = await world.rows<{ id: string }>(
      `select id from message where workspace_id = :workspace`,
    );
    const [juniper] = await world.rows<{ id: string }>(
      `select id from chat_account where workspace_id = :workspace and account = 'juniper'`,
    );
    await desk.until(async () => ((await desk.states()).includes('delivered') ? true : null));
    await keepTold(world.ctx, { id: juniper!.id, workspaceId: world.workspaceId, secret: '' }, [
      { eventId: 'e', kind: 'receipt', reference: message!.id, stat: 'read', failure: null, at: new Date() },
    ]);
    expect(
      await world.rows(`select 1 from chat where workspace_id = :workspace and read_at is not null`),
    ).toEqual([]);
  });
});
