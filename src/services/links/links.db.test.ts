import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { SECOND } from '@/core/shared/instant';
import { targetsOf } from '@/db/links/links';
import { reportClearance } from '@/services/clearance/report-clearance';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { beginDueBroadcasts, prepareBroadcast } from '@/services/sends/prepare-broadcast';
import { readSend } from '@/services/sends/screen';
import { must } from '@/services/testing/people';
import { round, Scripted, sent } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { changeTarget } from './change-target';
import { followLink } from './follow-link';

let world: World;
const me = { name: 'test', accountId: null };
beforeEach(async () => {
  world = await makeWorld();
  for (let i = 0; i < 3; i++) await world.texts(phone(i), 'sky');
  await round(world, new Scripted());
});
afterEach(() => world.close());

const BODY = 'Sky: seats at https://sky.example.org/seats and sky.example.org/map. Bye.';
const IPHONE = 'Mozilla/5.0 (iPhone; CPU iPhone OS 18_0 like Mac OS X) Mobile/15E148';

/** Sends it to the three; gives what each phone shows. */
async function go(body = BODY, more = {}): Promise<{ id: string; texts: string[] }> {
  const id = await world.within(async (scope) => {
    const input = { program: 'Clear Sky Alerts', name: 'Saturn week', body, ...more };
    const { id } = must(await createBroadcast(world.ctx, scope, input, me));
    must(await sendBroadcast(world.ctx, scope, id, {}, me));
    return id;
  });
  await beginDueBroadcasts(world.ctx);
  await prepareBroadcast(world.ctx, world.workspaceId, id);
  const carrier = new Scripted();
  await round(world, carrier);
  return { id, texts: carrier.parts.map((part) => part.body) };
}
const codesIn = (text: string): string[] => [...text.matchAll(/\/l\/(\w{10})/g)].map(([, code]) => code!);
const follow = (code: string, more = {}) =>
  followLink(world.ctx, { code, agent: IPHONE, head: false, from: code, ...more });
const result = async (id: string) => (await world.within((scope) => readSend(scope, id, world.clock.at)))!;

describe('the links of a broadcast', () => {
  it('are short, each person’s own, and lead where they were written', async () => {
    const { texts } = await go();
    expect(texts).toHaveLength(3);
    const codes = texts.flatMap(codesIn);
    expect(new Set(codes).size).toBe(6);
    expect(texts[0]).toMatch(
      /^Sky: seats at http:\/\/localhost:4400\/l\/\w{10} and http:\/\/localhost:4400\/l\/\w{10}\. Bye\.$/,
    );
    expect(await follow(codes[0]!)).toBe('https://sky.example.org/seats');
    expect(await follow(codes[1]!)).toBe('https://sky.example.org/map');
    expect(await follow('0000000000')).toBeNull();
  });

  it('count who came, once however often, and machines not at all', async () => {
    const { id, texts } = await go();
    const [ana, bo, chi] = texts.map((text) => codesIn(text)[0]!) as [string, string, string];
    await follow(ana);
    world.clock.at += 30 * SECOND;
    await Promise.all([follow(ana), follow(ana), follow(bo, { agent: 'Mozilla/5.0 (X11; Linux x86_64)' })]);
    await follow(chi, { head: true });
    await follow(chi, { agent: 'Googlebot/2.1' });
    const { result: counts, links } = await result(id);
    expect(counts.clicks).toBe(2);
    expect(links).toMatchObject([
      {
        url: 'https://sky.example.org/seats',
        sent: 3,
        people: 2,
        visits: 3,
        phones: 2,
        computers: 1,
        robots: 3,
      },
      { url: 'https://sky.example.org/map', sent: 3, people: 0, visits: 0, robots: 0 },
    ]);
  });

  it('of several people fetched from one place within a minute are a machine’s', async () => {
    const { id, texts } = await go();
    world.clock.at += 20 * SECOND;
    for (const text of texts) await follow(codesIn(text)[0]!, { from: '192.0.2.9' });
    expect((await result(id)).links[0]).toMatchObject({ people: 2, robots: 1 });
  });

  it('can be left as they stand, one or all, and say where somebody came from', async () => {
    const one = await go(BODY, { plain_links: ['sky.example.org/map'], utm: true });
    expect(one.texts[0]).toContain('and sky.example.org/map.');
    expect(await follow(codesIn(one.texts[0]!)[0]!)).toBe(
      'https://sky.example.org/seats?utm_source=text&utm_medium=sms&utm_campaign=saturn-week',
    );
    expect((await go(`All ${BODY}`, { short_links: false })).texts[0]).toBe(`All ${BODY}`);
  });

  it('lead elsewhere once it is said, for everybody, with what was there in the audit', async () => {
    const { id, texts } = await go();
    const [target] = await world.within((scope) => targetsOf(scope, id));
    const change = (url: string, who = world.workspaceId) =>
      world.within((scope) => changeTarget(world.ctx, scope, target!.id, url, 'test'), who);
    must(await change('sky.example.org/full'));
    expect(await follow(codesIn(texts[2]!)[0]!)).toBe('https://sky.example.org/full');
    expect(await change('javascript:alert(1)')).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'url' }] },
    });
    expect(await change('http://127.0.0.1')).toMatchObject({ ok: false });
    expect(await change('https://evil.example', (await world.another()).id)).toMatchObject({
      ok: false,
      reason: { code: 'not-found' },
    });
    expect(
      await world.rows(
        `select detail from audit_entry where workspace_id = :workspace and action = 'link.changed'`,
      ),
    ).toEqual([{ detail: { from: 'https://sky.example.org/seats', to: 'https://sky.example.org/full' } }]);
  });

  it('count in the parts before it goes as when it left', async () => {
    const long = `Sky: ${'a'.repeat(110)} https://sky.example.org/a-rather-long-address/that-would-take-a-part`;
    const draft = await world.within((scope) =>
      reportClearance(scope, {
        ...{ program: 'Clear Sky Alerts', body: long, at: world.clock.at, senderName: null, personId: null },
      }),
    );
    const { id } = await go(long);
    const [row] = await world.rows<{ parts: number; body: string }>(
      `select parts, body from message where workspace_id = :workspace and send_id = :id limit 1`,
      { id },
    );
    expect(must(draft).sample).toMatchObject({ parts: row!.parts });
    expect(must(draft).sample!.text).toHaveLength(row!.body.length);
    expect(must(draft).links).toMatchObject([{ short: true, problem: null }]);
  });

  it('do not make the same text another one', async () => {
    await go();
    const again = await go();
    expect(again.texts).toEqual([]);
    expect((await sent(world)).filter(({ state }) => state === 'blocked')).toHaveLength(3);
  });
});
