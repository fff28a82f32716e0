import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { readBehindBroadcast, readSend } from '@/services/sends/screen';
import { addReader, MailDoors, mailBroadcast, makeMailWorld } from '@/services/testing/mail';
import { type World } from '@/services/testing/world';
import { followLink } from './follow-link';

let world: World;
const doors = new MailDoors(() => world);
beforeAll(() => doors.open());
afterAll(() => doors.close());
beforeEach(async () => {
  world = await makeMailWorld();
  doors.broken = false;
});
afterEach(() => world.close());

const rows: World['rows'] = (sql, values) => world.rows(sql, values);
const add = (email: string) => addReader(world, email);
const broadcast = (more = {}) => mailBroadcast(world, more);

describe('a link', () => {
  const follow = (code: string, agent: string, head = false) =>
    followLink(world.ctx, { code, agent, head, from: 'here' });
  const BROWSER = 'Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 Chrome/130 Safari/537.36';

  it('leads on and counts a person, once; robots, heads and scanners are kept and not counted', async () => {
    await add('ana6@example.org');
    const id = await broadcast();
    await doors.round();
    const code = /\/l\/(\w+)/.exec(doors.letter('ana6@example.org').text)![1]!;
    expect(await follow(code, BROWSER)).toBe('https://sky.test/tonight');
    world.clock.at += 60_000;
    await follow(code, 'Mozilla/5.0 (compatible; Googlebot/2.1)');
    await follow(code, '', false);
    await follow(code, BROWSER, true);
    const clicks = async () =>
      (await world.within((scope) => readSend(scope, id, world.clock.at)))!.result.clicks;
    expect(await clicks()).toBe(0);
    await follow(code, BROWSER);
    await follow(code, BROWSER);
    expect(await clicks()).toBe(1);
    expect(await world.within((scope) => readBehindBroadcast(scope, id, 'clicks'))).toHaveLength(1);
    expect(await follow('none', BROWSER)).toBeNull();
    expect(
      await rows(`select 1 from link_visit where workspace_id = :workspace and robot is not null`),
    ).toHaveLength(4);
  });
});
