import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR } from '@/core/shared/instant';
import { acrossWorkspaces } from '@/db/kit/scope';
import { daySums, hourSums, markOwnSumsDue } from '@/db/results/sums';
import { changeWorkspace } from '@/services/access/change-workspace';
import { recordConsent } from '@/services/consent/record-consent';
import { mergePeople } from '@/services/people/merge-people';
import { erasePerson } from '@/services/people/erase-person';
import { workThrough } from '@/services/kit/trouble';
import { broadcastTo, deliverTo } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { putSumsTogether, SUMS_QUEUE } from './count-sums';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const ALL = { program: null, channel: null };
const EVER = { from: '2020-01-01', until: '2040-01-01' };
const kept = () => world.within((scope) => daySums(scope, EVER, ALL));
const sum = async (what: string, reason?: string) =>
  (await kept())
    .filter((row) => row.what === what && (reason === undefined || row.reason === reason))
    .reduce((total, { n }) => total + n, 0);

/** Works until nothing is due: whoever else is at work in the same server, in whatever database, is waited for. */
async function countAll(): Promise<void> {
  for (;;) {
    await workThrough(world.ctx, SUMS_QUEUE);
    const due = await world.rows(`select 1 from sums_due where workspace_id = :workspace`);
    if (due.length === 0) return;
    await new Promise((resolve) => setTimeout(resolve, 20));
  }
}

const BY = 'about, id, channel, day, nth, what, reason, gone';
const rows = (from: string) =>
  world.rows(
    `select about, id, channel, day::text, nth, what, reason, sum(n)::int as n, sum(parts)::int as parts, sum(credits)::int as credits
       from ${from} where about not in ('send', 'sender', 'heard') group by ${BY} having sum(n) <> 0 or sum(credits) <> 0 order by ${BY}`,
  );
const asKept = () => rows(`(select * from tally where workspace_id = :workspace and not gone) t`);
const asCounted = () => rows(`sums_of(:workspace, '-infinity', 'infinity') t`);

/** People join, get a broadcast, answer, click, leave. */
async function aDay(): Promise<void> {
  await broadcastTo(world, 8, 'Shall we keep you a place?');
  await deliverTo(world, 8, { 0: '001' });
  world.clock.at += HOUR;
  for (const words of ['Yes please', 'For two', 'Lovely']) await world.texts(phone(2), words);
  await world.texts(phone(3), 'Yes');
  await world.texts(phone(4), 'STOP');
  await world.texts(phone(4), 'STOP');
  await world.within((scope) =>
    scope.run(
      `insert into engagement (workspace_id, person_id, kind, text_id, at) select :workspace, person_id, 'clicked', id, :at from message
        where workspace_id = :workspace and address in (:a, :b) and kind = 'broadcast' union all select :workspace, person_id, 'clicked', id, :at from message
        where workspace_id = :workspace and address = :a and kind = 'broadcast'`,
      { a: phone(5), b: phone(6), at: new Date(world.clock.at) },
    ),
  );
}

describe('the sums of days', () => {
  it('say what happened, each once', async () => {
    await aDay();
    expect(await sum('joined')).toBe(8);
    expect(await sum('joined', 'keyword')).toBe(8);
    // Three texts of one, one of another; each begins one conversation and answers one message.
    expect([await sum('replied'), await sum('conversation'), await sum('answered')]).toEqual([4, 2, 2]);
    expect([await sum('left'), await sum('left', 'broadcast'), await sum('lost')]).toEqual([1, 1, 1]);
    expect(await sum('clicked')).toBe(2);
    expect(await sum('failed')).toBe(1);
    expect(await asKept()).toEqual(await asCounted());
  });

  it('begin a conversation anew after a week of silence', async () => {
    await aDay();
    world.clock.at += 6 * DAY;
    await world.texts(phone(2), 'Still there?');
    expect(await sum('conversation')).toBe(2);
    world.clock.at += 8 * DAY;
    await world.texts(phone(2), 'Hello again');
    expect(await sum('conversation')).toBe(3);
    expect(await asKept()).toEqual(await asCounted());
  });

  it('follow a receipt that comes in another month to the day the text left', async () => {
    await broadcastTo(world, 3);
    const before = await kept();
    expect(before.some(({ what }) => what === 'delivered')).toBe(false);
    await deliverTo(world, 3, {}, [0]);
    const day = (await kept()).find(({ what }) => what === 'delivered')!.day;
    world.clock.at += 40 * DAY;
    await world.within((scope) =>
      scope.run(
        `update message set state = 'delivered', settled_at = :at where workspace_id = :workspace and state = 'submitted' and kind = 'broadcast'`,
        { at: new Date(world.clock.at) },
      ),
    );
    expect((await kept()).filter(({ what }) => what === 'delivered').map((row) => row.day)).toEqual([day]);
    expect(await asKept()).toEqual(await asCounted());
  });

  it('are the same after differences are put together and after all is counted anew', async () => {
    await aDay();
    const before = await kept();
    const hours = await world.within((scope) => hourSums(scope, EVER, ALL));
    await putSumsTogether(world.ctx);
    expect(await kept()).toEqual(expect.arrayContaining(before));
    await world.within(markOwnSumsDue);
    await countAll();
    expect([...(await kept())].sort(byAll)).toEqual([...before].sort(byAll));
    expect([...(await world.within((scope) => hourSums(scope, EVER, ALL)))].sort(byAll)).toEqual(
      [...hours].sort(byAll),
    );
  });

  it('stay when people are erased: people go, counts stay', async () => {
    await aDay();
    const before = await kept();
    for (const i of [2, 4, 5]) {
      const id = await idOf(i);
      await world.within((scope) => erasePerson(world.ctx, scope, id, 'test'));
    }
    expect([...(await kept())].sort(byAll)).toEqual([...before].sort(byAll));
    await world.within(markOwnSumsDue);
    await countAll();
    expect([...(await kept())].sort(byAll)).toEqual([...before].sort(byAll));
  });

  it('stay when two people become one', async () => {
    await aDay();
    const before = await kept();
    const [one, gone] = [await idOf(2), await idOf(3)];
    await world.within((scope) =>
      mergePeople(world.ctx, scope, one, gone, {}, { name: 'test', accountId: null }),
    );
    expect([...(await kept())].sort(byAll)).toEqual([...before].sort(byAll));
    expect(await asKept()).toEqual(await asCounted());
  });

  it('go by other days when the workspace moves to another zone', async () => {
    await aDay();
    // What left in the evening is of the next day in Kathmandu, whose hours begin at a quarter.
    world.clock.at += 9 * HOUR;
    await world.texts(phone(20), 'sky');
    const days = new Set((await kept()).map(({ day }) => day));
    await world.within(async (scope) => {
      const stamp = (
        await scope.rows<{ stamp: number }>(`select stamp from workspace where id = :workspace`)
      )[0]!.stamp;
      expect(
        await changeWorkspace(world.ctx, scope, { stamp, zone: 'Asia/Kathmandu' }, 'test'),
      ).toMatchObject({
        ok: true,
      });
    });
    await countAll();
    expect(await asKept()).toEqual(await asCounted());
    expect(new Set((await kept()).map(({ day }) => day))).not.toEqual(days);
  });

  it('waits with counting until nobody adds by the old days any more', async () => {
    await aDay();
    let release = () => {};
    const held = new Promise<void>((resolve) => (release = resolve));
    const slow = acrossWorkspaces(world.ctx.orm, async (crossing) => {
      await crossing.rows(`select pg_current_xact_id()`);
      await held;
    });
    await world.within(markOwnSumsDue);
    const meanwhile = await workThrough(world.ctx, SUMS_QUEUE);
    release();
    await slow;
    expect(meanwhile).toBe(0);
    await countAll();
  });

  it('count a consent of an import until it is taken back', async () => {
    await aDay();
    const id = await idOf(7);
    const [program] = await world.rows<{ id: string }>(
      `select id from program where workspace_id = :workspace limit 1`,
    );
    const entry = {
      ...{ personId: id, programId: program!.id, channel: 'email' as const, address: 'a@example.org' },
      ...{
        method: 'import' as const,
        evidence: { importId: 'imp_1', wording: 'I agree.', source: 'a file' },
      },
    };
    await world.within((scope) => recordConsent(world.ctx, scope, { ...entry, kind: 'opted-in' }));
    expect(await sum('joined', 'import')).toBe(1);
    await world.within((scope) => recordConsent(world.ctx, scope, { ...entry, kind: 'lapsed' }));
    expect(await sum('joined', 'import')).toBe(0);
    expect(await asKept()).toEqual(await asCounted());
  });
});

const byAll = (a: object, b: object): number => JSON.stringify(a).localeCompare(JSON.stringify(b));
const idOf = async (i: number): Promise<string> =>
  (
    await world.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace and number = :number`,
      {
        number: phone(i),
      },
    )
  )[0]!.id;
