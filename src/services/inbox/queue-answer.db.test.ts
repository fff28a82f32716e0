import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import type { Carrier, OutgoingPart } from '@/gateways/carrier';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { beginDueBroadcasts, finishBroadcasts, prepareBroadcast } from '@/services/sends/prepare-broadcast';
import { claimDueTexts, submitText } from '@/services/delivery/send-due-texts';
import { storeAnswers } from '@/services/delivery/store-answers';
import { makeWorld, type World } from '@/services/testing/world';

let world: World;
beforeAll(async () => {
  world = await makeWorld();
});
afterAll(() => world.close());

const ANA = '+13035550142';
const ME = { name: 'test', accountId: null };

/** A carrier in memory that takes everything and gives receipts when asked. */
class Taking implements Carrier {
  readonly parts: (OutgoingPart & { carrierId: string })[] = [];
  free = () => 100;
  async submit(part: OutgoingPart) {
    const carrierId = `c${this.parts.length}`;
    this.parts.push({ ...part, carrierId });
    return { kind: 'taken' as const, carrierId };
  }
  close = async () => {};
}

const carrier = new Taking();

async function deliver(): Promise<void> {
  const from = carrier.parts.length;
  const leaving = await claimDueTexts(world.ctx, 1, 100);
  await storeAnswers(world.ctx, await Promise.all(leaving.map((text) => submitText(carrier, text))), []);
  const told = carrier.parts.slice(from);
  await storeAnswers(
    world.ctx,
    [],
    told.map((part) => ({
      carrierId: part.carrierId,
      stat: 'DELIVRD',
      err: '000',
      number: part.to,
      userReference: part.userReference,
    })),
  );
}

const rows = <T extends object>(sql: string) => world.within((scope) => scope.rows<T>(sql));

async function broadcast(name: string, body: string): Promise<string> {
  const made = await world.within((scope) =>
    createBroadcast(world.ctx, scope, { program: 'Clear Sky Alerts', name, body }, ME),
  );
  if (!made.ok) throw new Error(JSON.stringify(made.reason));
  const sent = await world.within((scope) => sendBroadcast(world.ctx, scope, made.value.id, {}, ME));
  if (!sent.ok) throw new Error(JSON.stringify(sent.reason));
  await beginDueBroadcasts(world.ctx);
  await prepareBroadcast(world.ctx, world.workspaceId, made.value.id);
  return made.value.id;
}

describe('keyword in, confirmation out, broadcast, STOP', () => {
  it('answers the keyword with the required wording and records consent with its evidence', async () => {
    await world.texts(ANA, '"sky."');
    await deliver();
    expect(carrier.parts.at(-1)).toMatchObject({ to: ANA, from: '+17195550110' });
    expect(carrier.parts.map((part) => part.body).join('')).toMatch(
      /Juniper Gap Observatory Clear Sky Alerts: Up to 6 msgs\/month\. Msg & data rates may apply\..*HELP.*STOP/,
    );
    const [event] = await rows<{ kind: string; method: string; evidence: { said: string } }>(
      `select * from consent_event where workspace_id = :workspace`,
    );
    expect(event).toMatchObject({ kind: 'opted-in', method: 'keyword', evidence: { said: '"sky."' } });
  });

  it('sends a broadcast once and stores the clearance with it', async () => {
    const id = await broadcast(
      'Saturn week',
      'Hi {$person.first_name :wren:field fallback=friend}, Saturn is up. Reply STOP to stop.',
    );
    await deliver();
    await deliver();
    expect(
      carrier.parts.filter((part) => part.body === 'Hi friend, Saturn is up. Reply STOP to stop.'),
    ).toHaveLength(1);
    const [text] = await rows<{ state: string; clearance: { verdict: string } }>(
      `select state, clearance from message where workspace_id = :workspace and kind = 'broadcast'`,
    );
    expect(text).toMatchObject({ state: 'delivered', clearance: { verdict: 'cleared' } });
    await finishBroadcasts(world.ctx);
    expect(
      await rows(`select state from broadcast where workspace_id = :workspace and id = '${id}'`),
    ).toEqual([{ state: 'finished' }]);
  });

  it('confirms STOP once, calls back what was queued, and never texts again', async () => {
    await broadcast('Moon week', 'The Moon is up.');
    await world.texts(ANA, 'Stop.');
    await world.texts(ANA, 'STOP');
    await broadcast('Mars week', 'Mars is up.');
    const before = carrier.parts.length;
    await deliver();
    await deliver();
    const after = carrier.parts.slice(before);
    expect(after.map((part) => part.body)).toEqual([
      'Juniper Gap Observatory: you are opted out and will get no more texts from us. Reply START to come back.',
    ]);
    const states = await rows<{ state: string; body: string }>(
      `select state, body from message where workspace_id = :workspace and kind = 'broadcast' order by id`,
    );
    expect(states.map((row) => row.state)).toEqual(['delivered', 'cancelled', 'blocked']);
  });

  it('opts in again on START and answers HELP', async () => {
    await world.texts(ANA, 'START');
    await deliver();
    expect(carrier.parts.at(-1)!.body).toContain('Welcome back');
    await world.texts(ANA, 'help');
    await deliver();
    expect(carrier.parts.at(-1)!.body).toContain('Help: (719) 555-0110');
  });

  it('holds automatic texts after an unclear reply', async () => {
    await world.texts(ANA, 'this is spam');
    await broadcast('Venus week', 'Venus is up.');
    const before = carrier.parts.length;
    await deliver();
    expect(carrier.parts.length).toBe(before);
    const [text] = await rows<{ clearance: { reasons: { code: string }[] } }>(
      `select clearance from message where workspace_id = :workspace and body = 'Venus is up.'`,
    );
    expect(text!.clearance.reasons.map(({ code }) => code)).toContain('reply-unclear');
  });
});
