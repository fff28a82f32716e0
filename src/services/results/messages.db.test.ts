import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY } from '@/core/shared/instant';
import { messageRows } from '@/db/results/messages';
import { broadcastTo, deliverTo } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { messagesFile, type MessageFormat } from './messages';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const file = (format: MessageFormat, span = { from: '2026-11-24', until: '2026-11-25' }) =>
  messagesFile(world.ctx.orm, world.workspaceId, { span, zone: 'America/Denver' }, format);
const text = (format: MessageFormat, span?: { from: string; until: string }) =>
  new Response(file(format, span).body).text();

describe('messages as a file', () => {
  it('are a line each, with what became of them and without what a spreadsheet would run', async () => {
    await broadcastTo(world, 3, '=1+1 tonight');
    await deliverTo(world, 3, { 1: '027' });
    const lines = (await text('csv')).trim().split('\r\n');
    expect(lines).toHaveLength(1 + 3 + 3);
    const broadcast = lines.filter((line) => line.includes(',broadcast,'));
    expect(broadcast).toHaveLength(3);
    expect(broadcast[0]).toContain(`,${phone(0)},+17195550110,`);
    expect(broadcast[0]).toContain(`'=1+1 tonight,delivered,,1,1,`);
    expect(broadcast[1]).toContain(',failed,');
    const objects = (await text('jsonl'))
      .trim()
      .split('\n')
      .map((line) => JSON.parse(line) as { send: string });
    expect(objects.filter(({ send }) => send === 'B')).toHaveLength(3);
  });

  it('are those of the days that were asked for, and of no other workspace', async () => {
    await broadcastTo(world, 1);
    expect(
      (await text('csv', { from: '2026-11-25', until: '2026-11-26' })).trim().split('\r\n'),
    ).toHaveLength(1);
    const other = await world.another();
    const theirs = await world.within(
      (scope) => messageRows(scope, { after: '', most: 10, from: null, until: null }),
      other.id,
    );
    expect(theirs).toEqual([]);
  });

  it('are read page by page, so that what is made meanwhile comes last and nothing twice', async () => {
    await broadcastTo(world, 2);
    const page = (after: string) =>
      world.within((scope) => messageRows(scope, { after, most: 2, from: null, until: null }));
    const first = await page('');
    world.clock.at += DAY;
    await world.texts(phone(7), 'sky');
    const rest = [...(await page(first.at(-1)!.id))];
    rest.push(...(await page(rest.at(-1)!.id)));
    expect(new Set([...first, ...rest].map(({ id }) => id)).size).toBe(5);
    expect(rest.at(-1)!.address).toBe(phone(7));
  });
});
