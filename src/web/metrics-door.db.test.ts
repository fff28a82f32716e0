import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { makeHarmless } from '@/services/delivery/installation';
import { broadcastTo } from '@/services/testing/sending';
import { makeWorld, type World } from '@/services/testing/world';
import { giveMetrics, metricsAsked } from './metrics-door';

let world: World;
const servers: Server[] = [];
beforeAll(async () => {
  world = await makeWorld();
});
afterAll(async () => {
  servers.forEach((server) => server.close());
  await world.close();
});

async function door(token: string | undefined): Promise<string> {
  const server = createServer(
    (request, response) => void giveMetrics(() => Promise.resolve(world.ctx), request, response, token),
  );
  servers.push(server);
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  return `http://127.0.0.1:${(server.address() as AddressInfo).port}/metrics`;
}

describe('the figures for who watches', () => {
  it.each([
    ['/metrics', true],
    ['/metrics?x', true],
    ['/metricsx', false],
    ['/people', false],
  ])('are asked for at %s: %s', (url, asked) => expect(metricsAsked('GET', url)).toBe(asked));

  it('are nowhere without a token, and for nobody with another', async () => {
    expect((await fetch(await door(''))).status).toBe(404);
    const guarded = await door('secret');
    expect((await fetch(guarded)).status).toBe(401);
    expect((await fetch(guarded, { headers: { authorization: 'Bearer other' } })).status).toBe(401);
  });

  it('tell what waits, what went, and what is stuck, without a word of anybody', async () => {
    await broadcastTo(world, 3);
    const at = await door('secret');
    const answer = await fetch(at, { headers: { authorization: 'Bearer secret' } });
    const body = await answer.text();
    expect(answer.headers.get('content-type')).toContain('text/plain');
    expect(body).toMatch(/^wren_messages_due\{channel="sms"\} 3$/m);
    expect(body).toMatch(/^wren_messages_due_age_seconds\{channel="sms"\} \d/m);
    expect(body).toMatch(/^wren_messages\{state="submitted",reason=""\} 3$/m);
    expect(body).toMatch(/^wren_carrier_link_up\{carrier="house"\} 0$/m);
    expect(body).toMatch(/^wren_workers \d/m);
    expect(body).toMatch(/^wren_sending_held 0$/m);
    await makeHarmless(world.ctx, []);
    const held = await fetch(at, { headers: { authorization: 'Bearer secret' } });
    expect(await held.text()).toMatch(/^wren_sending_held 1$/m);
    expect(body).not.toMatch(/3035550|Clear tonight/);
  });
});
