import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { reportClearance } from '@/services/clearance/report-clearance';
import { claimDueMails } from '@/services/email/send-mail';
import { addReader, makeMailWorld } from '@/services/testing/mail';
import { must } from '@/services/testing/people';
import { round, Scripted } from '@/services/testing/sending';
import { phone, type World } from '@/services/testing/world';
import { createBroadcast, sendBroadcast } from './broadcasts';
import { beginDueBroadcasts, prepareBroadcast } from './prepare-broadcast';

const ME = { name: 'test', accountId: null };
const LETTER = {
  subject: 'Saturn is up',
  body: 'Dear {$person.first_name :wren:field fallback=friend}, come and see Saturn.',
};
let world: World;
beforeEach(async () => {
  world = await makeMailWorld();
  // One who is texted, one who left, one who is reached by e-mail only.
  await world.texts(phone(0), 'sky');
  await world.texts(phone(1), 'sky');
  await world.texts(phone(1), 'stop');
  await round(world, new Scripted());
  await addReader(world, 'ana@example.org');
});
afterEach(() => world.close());

const draft = (more: object = {}) =>
  world.within((scope) =>
    createBroadcast(
      world.ctx,
      scope,
      { program: 'Clear Sky Alerts', name: 'B', body: 'Saturn tonight.', instead: LETTER, ...more },
      ME,
    ),
  );

async function send(): Promise<string> {
  const { id } = must(await draft());
  must(await world.within((scope) => sendBroadcast(world.ctx, scope, id, {}, ME)));
  await beginDueBroadcasts(world.ctx);
  await prepareBroadcast(world.ctx, world.workspaceId, id);
  return id;
}

const messages = () =>
  world.rows<{ channel: string; state: string; address: string; subject: string | null }>(
    `select t.channel, t.state, t.address, m.subject from message t left join mail m on m.message_id = t.id
      where t.workspace_id = :workspace and t.kind = 'broadcast' order by t.channel, t.address`,
  );

describe('by text, else by e-mail', () => {
  it('texts whom it can, and writes to whom it cannot and may; nobody gets both', async () => {
    await send();
    expect(await messages()).toEqual([
      { channel: 'email', state: 'queued', address: 'ana@example.org', subject: 'Saturn is up' },
      { channel: 'sms', state: 'queued', address: phone(0), subject: null },
      { channel: 'sms', state: 'blocked', address: phone(1), subject: null },
    ]);
    const carrier = new Scripted();
    expect(await round(world, carrier)).toBe(1);
    expect(carrier.parts[0]!.to).toBe(phone(0));
    const [letter] = await claimDueMails(world.ctx, 1, 10);
    expect(letter).toMatchObject({
      address: 'ana@example.org',
      body: 'Dear ana, come and see Saturn.',
      toMany: true,
    });
  });

  it('says so before: how many of each, and how the letter is shown', async () => {
    const question = {
      ...{ program: 'Clear Sky Alerts', body: 'Saturn tonight.', at: world.clock.at, senderName: null },
      personId: null,
    };
    const ask = (instead: typeof LETTER | null, personId: string | null = null) =>
      world.within((scope) => reportClearance(scope, { ...question, instead, personId })).then(must);
    expect(await ask(null)).toMatchObject({ letters: null, report: { cleared: 1, blocked: 1 } });
    const said = await ask(LETTER);
    expect(said).toMatchObject({ letters: 1, report: { cleared: 2, blocked: 1 }, cost: { people: 1 } });
    const [ana] = await world.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace and email = 'ana@example.org'`,
    );
    const { sample } = await ask(LETTER, ana!.id);
    expect(sample).toMatchObject({ subject: 'Saturn is up', alphabet: null });
    expect(sample!.html).toContain('<p>Dear ana, come and see Saturn.</p>');
    expect(await ask({ subject: '', body: ' ' })).toMatchObject({ letters: null });
  });

  it('writes no letter about what somebody got as a text before', async () => {
    await send();
    await round(world, new Scripted());
    world.clock.at += 40 * 24 * 3_600_000;
    await send();
    const again = (await messages()).filter(({ address }) => address === phone(0));
    expect(again.map(({ channel, state }) => `${channel} ${state}`).sort()).toEqual([
      'sms blocked',
      'sms submitted',
    ]);
  });

  it.each<[object, string]>([
    [{ channel: 'email', subject: 'S' }, 'instead'],
    [{ instead: { subject: 'two\nlines', body: 'x' } }, 'instead.subject'],
    [{ instead: { subject: 'S', body: '{broken' } }, 'instead.body'],
  ])('is refused: %j', async (more, field) =>
    expect(await draft(more)).toMatchObject({ ok: false, reason: { problems: [{ field }] } }),
  );
});
