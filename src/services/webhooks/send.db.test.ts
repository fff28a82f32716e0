import { Webhook } from 'standardwebhooks';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { HappeningKind } from '@/core/happening/kinds';
import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import { acrossWorkspaces } from '@/db/kit/scope';
import { Listener, type Came } from '@/gateways/webhooks/testing';
import { poster } from '@/gateways/webhooks/post';
import { follow } from '@/services/kit/happenings';
import { workThrough } from '@/services/kit/trouble';
import { erasePerson } from '@/services/people/erase-person';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { createEndpoint, rotateSecret, sendDeliveryAgain, switchEndpoint, testEndpoint } from './endpoints';
import { WEBHOOKS_FOLLOW } from './pass-on';
import { webhookQueue } from './send';

let world: World;
let listener: Listener;
const queue = webhookQueue(() => poster(['127.0.0.1']));

beforeEach(async () => {
  vi.stubEnv('WREN_WEBHOOK_HOSTS', '127.0.0.1');
  world = await makeWorld();
  listener = new Listener();
  await listener.open();
});
afterEach(async () => {
  vi.unstubAllEnvs();
  await listener.close();
  await world.close();
});

const ME = { name: 'test', accountId: null };

async function endpoint(kinds: HappeningKind[] = ['reply.received'], to = listener.url) {
  const made = await world.within((scope) =>
    createEndpoint(world.ctx, scope, { url: to, kinds, note: 'mail house' }, ME),
  );
  if (!made.ok) throw new Error(JSON.stringify(made.reason));
  return { id: made.value.id, secret: made.value.secret };
}

/** Passes on what happened and sends what is due. */
async function turn(): Promise<void> {
  while ((await follow(world.ctx, WEBHOOKS_FOLLOW)) > 0);
  while ((await workThrough(world.ctx, queue)) > 0);
}

const rows = <T extends object>(sql: string) =>
  acrossWorkspaces(world.ctx.orm, (crossing) => crossing.rows<T>(sql));
const typeOf = ({ body }: Came) => (JSON.parse(body) as { type: string }).type;

describe('a webhook', () => {
  it('is signed as Standard Webhooks says, and tells who it was and what they wrote', async () => {
    const { secret } = await endpoint(['reply.received', 'program.joined']);
    await world.texts(phone(1), 'sky');
    await world.texts(phone(1), 'Is there parking? ⭐');
    await turn();
    expect(listener.came.map(typeOf)).toEqual(['reply.received', 'program.joined', 'reply.received']);
    for (const { headers, body } of listener.came)
      expect(
        new Webhook(secret).verify(body, headers as Record<string, string>),
        'the library of the standard accepts it',
      ).toBeTruthy();
    const [, joined, asked] = listener.came.map(({ body }) => JSON.parse(body) as Record<string, object>);
    expect(asked).toMatchObject({
      timestamp: new Date(world.clock.at).toISOString(),
      data: { person: { number: phone(1) }, text: { body: 'Is there parking? ⭐' }, meaning: 'reply' },
    });
    expect(joined).toMatchObject({ data: { program: { name: 'Clear Sky Alerts' }, method: 'keyword' } });
    expect(new Set(listener.came.map(({ headers }) => headers['webhook-id'])).size).toBe(3);
    await turn();
    expect(listener.came).toHaveLength(3);
  });

  it('tells nothing of before it was set up, and nothing it does not follow', async () => {
    await world.texts(phone(1), 'sky');
    world.clock.at += MINUTE;
    await endpoint(['program.left']);
    await world.texts(phone(1), 'stop');
    await turn();
    expect(listener.came.map(typeOf)).toEqual(['program.left']);
  });

  it('is tried again after growing pauses with the same id, then set aside, and can be sent again', async () => {
    const { id } = await endpoint();
    await world.texts(phone(1), 'hello there');
    listener.answers = Array.from({ length: 11 }, () => ({ status: 500, body: 'out of order' }));
    const began = world.clock.at;
    await turn();
    expect(listener.came).toHaveLength(1);
    await turn();
    expect(listener.came).toHaveLength(1);
    for (let hour = 0; hour < 80; hour++) {
      world.clock.at += HOUR;
      await turn();
    }
    expect(listener.came).toHaveLength(11);
    expect(new Set(listener.came.map(({ headers }) => headers['webhook-id'])).size).toBe(1);
    const [row] = await rows<{ id: string; aside_at: Date; tries: number }>(
      `select id, aside_at, tries from webhook_delivery`,
    );
    expect(row!.aside_at.getTime() - began).toBeGreaterThan(2.5 * DAY);
    expect(await rows(`select distinct status, answer from webhook_try`)).toEqual([
      { status: 500, answer: 'out of order' },
    ]);
    await world.within((scope) => sendDeliveryAgain(world.ctx, scope, id, row!.id, ME));
    await turn();
    expect(listener.came).toHaveLength(12);
    expect(await rows(`select 1 from webhook_delivery where arrived_at is not null`)).toHaveLength(1);
  });

  it('about one person keeps its order when one has to wait; others go on', async () => {
    await endpoint();
    listener.answers = [{ status: 503 }];
    await world.texts(phone(1), 'first');
    await turn();
    await world.texts(phone(1), 'second');
    await world.texts(phone(2), 'other');
    await turn();
    const said = () =>
      listener.came.map(
        ({ body }) => (JSON.parse(body) as { data: { text: { body: string } } }).data.text.body,
      );
    expect(said()).toEqual(['first', 'other']);
    world.clock.at += MINUTE;
    await turn();
    expect(said()).toEqual(['first', 'other', 'first', 'second']);
  });

  it('with a changed secret is signed with both for a day, then with the new one alone', async () => {
    const { id, secret: old } = await endpoint();
    const changed = await world.within((scope) => rotateSecret(world.ctx, scope, id, ME));
    if (!changed.ok) throw new Error('refused');
    const verify = (secret: string) => () =>
      new Webhook(secret).verify(
        listener.came.at(-1)!.body,
        listener.came.at(-1)!.headers as Record<string, string>,
      );
    await world.texts(phone(1), 'hello there');
    await turn();
    expect(verify(old)).not.toThrow();
    expect(verify(changed.value.secret)).not.toThrow();
    world.clock.at += DAY + 1;
    await world.texts(phone(1), 'hello again');
    await turn();
    expect(verify(old)).toThrow();
    expect(verify(changed.value.secret)).not.toThrow();
  });

  it('whose listener says it is gone is turned off; what waits goes out when it is on again', async () => {
    const { id } = await endpoint();
    listener.answers = [{ status: 410 }];
    await world.texts(phone(1), 'hello there');
    await turn();
    await world.texts(phone(2), 'hello too');
    world.clock.at += HOUR;
    await turn();
    expect(listener.came).toHaveLength(1);
    await world.within((scope) => switchEndpoint(world.ctx, scope, id, 'on', ME));
    await turn();
    expect(listener.came).toHaveLength(2);
  });

  it('that nobody came back for, because its sender died, is sent again', async () => {
    await endpoint();
    await world.texts(phone(1), 'hello there');
    while ((await follow(world.ctx, WEBHOOKS_FOLLOW)) > 0);
    const dying = webhookQueue(() => () => Promise.reject(new Error('the process ended')));
    vi.spyOn(console, 'error').mockImplementation(() => {});
    await workThrough(world.ctx, dying);
    await turn();
    expect(listener.came).toHaveLength(0);
    world.clock.at += 3 * MINUTE;
    await turn();
    expect(listener.came).toHaveLength(1);
    vi.restoreAllMocks();
  });

  it('can be tried with a test, which is about nobody', async () => {
    const { id } = await endpoint();
    await world.within((scope) => testEndpoint(world.ctx, scope, id, ME));
    await turn();
    expect(listener.came.map(typeOf)).toEqual(['test']);
  });

  it('about somebody who is erased goes with its log', async () => {
    await endpoint();
    await world.texts(phone(1), 'hello there');
    await turn();
    const [person] = await rows<{ id: string }>(`select id from person`);
    await world.within((scope) => erasePerson(world.ctx, scope, person!.id, 'test'));
    expect(await rows(`select 1 from webhook_delivery`)).toEqual([]);
    expect(await rows(`select 1 from webhook_try`)).toEqual([]);
  });
});
