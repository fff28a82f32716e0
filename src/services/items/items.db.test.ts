import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { audienceContext, cutOf, planCondition } from '@/services/audience/audience';
import { cutPage } from '@/db/audience/audience';
import { reportClearance } from '@/services/clearance/report-clearance';
import { createBroadcast, sendBroadcast, updateBroadcast } from '@/services/sends/broadcasts';
import { beginDueBroadcasts, prepareBroadcast } from '@/services/sends/prepare-broadcast';
import { round, Scripted } from '@/services/testing/sending';
import { must } from '@/services/testing/people';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { findItems } from './find-items';
import { importItems } from './import-items';
import { dropItem, listItems, putItem } from './items';
import type { ItemInput } from './inputs';

const ME = { name: 'test', accountId: null };
let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const put = (more: Partial<ItemInput> = {}) =>
  world.within((scope) =>
    putItem(
      world.ctx,
      scope,
      {
        ...{ number: 'E-204', kind: 'event', name: 'Ring night', place: 'the dome', price: '12 USD' },
        ...{ link: 'https://juniper-gap.example.org/ring', starts_at: '2026-12-05T02:30:00Z', ...more },
      },
      ME,
    ),
  );
const take = (text: string) =>
  world.within((scope) => importItems(world.ctx, scope, Buffer.from(text), ME)).then(must);
const find = (called: string) => world.within((scope) => findItems(world.ctx, scope, called));
const list = () => world.within((scope) => listItems(world.ctx, scope));

describe('things to write about', () => {
  it('are kept by their number, the next free one where none is given', async () => {
    const { id } = must(await put());
    expect(must(await put({ number: 'e 204', name: 'Ring night, twice' })).id).toBe(id);
    const numbers = [];
    for (const kind of ['event', 'event', 'tour'] as const)
      numbers.push(
        must(await world.within((scope) => putItem(world.ctx, scope, { kind, name: 'x' }, ME))).number,
      );
    expect(numbers).toEqual(['E1', 'E2', 'T1']);
  });

  it.each<[Partial<ItemInput>, string]>([
    [{ number: '–' }, 'number'],
    [{ name: ' ' }, 'name'],
    [{ link: 'javascript:alert(1)' }, 'link'],
    [{ link: 'http://127.0.0.1/x' }, 'link'],
    [{ ends_at: '2026-12-05T01:00:00Z' }, 'ends_at'],
    [{ picture: 'pic_none' }, 'picture'],
  ])('are refused with %j', async (more, field) =>
    expect(await put(more)).toMatchObject({ ok: false, reason: { problems: [{ field }] } }),
  );

  it('come from a table as other programs write it, row by row', async () => {
    const taken = await take(
      'Event ID;Title;Start Date;Venue;Price;Status\r\nE-1;Saturn week;12/7/2026 7:30 PM;Dome;12 USD;\r\nE-2;Moon walk;soon;;;\r\nE-3;;12/8/2026;;;\r\nE-4;Star party;2026-12-09;Hill;free;Sold out\r\n',
    );
    expect(taken).toMatchObject({ added: 2, changed: 0, refused: [{ line: 'row 3' }, { line: 'row 4' }] });
    expect(
      await take('number,name,starts\nE-1,Saturn week,2026-12-07 20:00\nE-4,Star party,2026-12-09'),
    ).toMatchObject({
      ...{ added: 0, changed: 2, refused: [] },
    });
    expect((await list()).map(({ number }) => number)).toEqual(['E-1', 'E-4']);
  });

  it('come from a calendar, and are changed when it comes again', async () => {
    const ics = (name: string) =>
      `BEGIN:VCALENDAR\nVERSION:2.0\nBEGIN:VEVENT\nUID:a@x\nSUMMARY:${name}\nDTSTART:20261205T023000Z\nEND:VEVENT\nEND:VCALENDAR\n`;
    expect(await take(ics('Ring night'))).toMatchObject({ added: 1 });
    expect(await take(ics('Ring night'))).toMatchObject({ added: 0, same: 1 });
    expect(await take(ics('Ring night again'))).toMatchObject({ changed: 1 });
    expect((await list()).map(({ number, name }) => `${number} ${name}`)).toEqual(['E1 Ring night again']);
  });

  it.each(['nonsense', '\0\0\0', 'a,b\n1,2', 'BEGIN:VCALENDAR\nEND'])(
    'are not read from %j',
    async (text) => {
      const taken = await world.within((scope) => importItems(world.ctx, scope, Buffer.from(text), ME));
      expect(taken.ok ? taken.value.added : 'refused').toBe(taken.ok ? 0 : 'refused');
    },
  );

  it('are found by a part of name or number, with what a text can say of them', async () => {
    await put();
    const [item] = await find('ring e-20');
    expect(item).toMatchObject({ number: 'E-204', when: 'Fri, Dec 4, 7:30 pm', against: null, file: null });
    expect(item!.says[0]!.source).toBe(
      '{$item.e_204.name :wren:field}, {$item.e_204.when :wren:field}, {$item.e_204.place :wren:field}, {$item.e_204.price :wren:field} {$item.e_204.link :wren:field}',
    );
    expect(await find('saturn')).toEqual([]);
  });

  it('belong to one workspace', async () => {
    await put();
    const other = await world.another();
    expect(await world.within((scope) => findItems(world.ctx, scope, 'ring'), other.id)).toEqual([]);
  });
});

const BODY =
  'Juniper Gap: {$item.e_204.name :wren:field} on {$item.e_204.when :wren:field}. {$item.e_204.link :wren:field}';

const report = (body = BODY, at = world.clock.at) =>
  world
    .within((scope) =>
      reportClearance(scope, {
        ...{ program: 'Clear Sky Alerts', body, at },
        senderName: null,
        personId: null,
      }),
    )
    .then(must);

const codes = async (...args: Parameters<typeof report>) =>
  (await report(...args)).findings.map(({ code }) => code).filter((code) => code.startsWith('item'));

describe('a text about one', () => {
  beforeEach(async () => {
    await world.texts(phone(0), 'sky');
    await world.texts(phone(1), 'sky');
    await round(world, new Scripted());
  });

  it('says what stands there when it leaves, with a link that counts, and it is known who was told', async () => {
    const item = must(await put());
    expect((await report()).sample?.text).toMatch(
      /^Juniper Gap: Ring night on Fri, Dec 4, 7:30 pm\. http\S+\/l\/0{10}$/,
    );
    const draft = { program: 'Clear Sky Alerts', name: 'B', body: BODY };
    const { id } = must(await world.within((scope) => createBroadcast(world.ctx, scope, draft, ME)));
    must(await world.within((scope) => updateBroadcast(world.ctx, scope, id, draft)));
    await put({ starts_at: '2026-12-06T02:30:00Z' });
    must(await world.within((scope) => sendBroadcast(world.ctx, scope, id, {}, ME)));
    await beginDueBroadcasts(world.ctx);
    await prepareBroadcast(world.ctx, world.workspaceId, id);
    const carrier = new Scripted();
    await round(world, carrier);
    expect(carrier.parts[0]!.body).toContain('Sat, Dec 5, 7:30 pm');
    await world.texts(phone(2), 'sky');
    const told = await world.within(async (scope) => {
      const condition = { ask: 'sent' as const, has: true, outcome: 'got' as const, of: { item: item.id } };
      const plan = must(planCondition(condition, await audienceContext(scope, world.clock.at)));
      return cutPage(scope, cutOf(plan, ''), '', 10);
    });
    expect(told).toHaveLength(2);
  });

  it('is checked: over by then, sold out, cancelled, without what it says, and gone', async () => {
    await world.rows(
      `update workspace set wording = jsonb_set(wording, '{weights}', '{}') where id = :workspace returning id`,
    );
    await put();
    expect(await codes()).toEqual([]);
    expect(await codes(BODY, Date.parse('2026-12-05T02:30:00Z'))).toEqual(['item-over']);
    await put({ state: 'sold-out' });
    expect(await codes()).toEqual(['item-over']);
    await put({ state: 'on', link: '' });
    expect(await codes()).toEqual(['item-lacks']);
    expect(await codes('Juniper Gap: {$item.e_9.name :wren:field}')).toEqual(['item-lacks']);
  });

  it('goes to nobody where it says what is not there', async () => {
    await put({ link: '' });
    const { report: said } = await report();
    expect(said).toMatchObject({ cleared: 0, lines: [{ code: 'empty-field' }] });
  });

  it('still says what was put away, and it is offered no more', async () => {
    const { id } = must(await put());
    must(await world.within((scope) => dropItem(world.ctx, scope, id, ME)));
    expect(await find('ring')).toEqual([]);
    expect((await report()).sample?.text).toContain('Ring night');
  });
});
