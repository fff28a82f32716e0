import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR } from '@/core/shared/instant';
import { readProgramScreen } from '@/services/programs/screen';
import { inWorkspace } from '@/db/kit/scope';
import { countMembers } from '@/db/programs/programs';
import { broadcastTo, deliverTo } from '@/services/testing/sending';
import { addAccount } from '@/services/access/create-workspace';
import { answerThread } from '@/services/inbox/answer-thread';
import { findOrMakeLabel } from '@/services/people/labels';
import { must } from '@/services/testing/people';
import { makeWorld, NOON, NUMBER, phone, type World } from '@/services/testing/world';
import type { Measure } from '@/core/results/overview';
import { readAsked, type Asked } from './asked';
import { readBehind, readKeeping, readOverTime, readOverview, readSpeed } from './screen';
import { createPoster } from '@/services/posters/posters';
import { readWorks } from './works';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const TODAY = { from: '2026-11-24', to: '2026-11-24' };
const asked = (input: object = TODAY) =>
  world.within(async (scope) => must(await readAsked(scope, input, world.clock.at)));
const reading = async <T>(
  read: (scope: Parameters<typeof readOverview>[0], of: Asked) => Promise<T>,
  input?: object,
) => {
  const of = await asked(input);
  return world.within((scope) => read(scope, of));
};

/** Eight join by keyword and get a broadcast; one cannot be reached, two answer, one goes. */
async function aDay(): Promise<string> {
  const id = await broadcastTo(world, 8, 'Shall we keep you a place?');
  await deliverTo(world, 8, { 0: '001' });
  world.clock.at += HOUR / 2;
  await world.texts(phone(2), 'Yes please');
  await world.texts(phone(3), 'For two');
  await world.texts(phone(3), 'Or three');
  await world.texts(phone(4), 'STOP');
  return id;
}

describe('the overview', () => {
  it('says what happened today, and every count leads to its people', async () => {
    await aDay();
    const { lines } = await reading(readOverview);
    expect(lines.joined.now).toBe(8);
    expect(lines.answered.rate?.now).toMatchObject({ count: 2, of: 7 });
    expect(lines.left.rate?.now).toMatchObject({ count: 1, of: 7 });
    for (const [measure, people] of [
      ['joined', 8],
      ['replied', 2],
      ['answered', 2],
      ['conversation', 2],
      ['left', 1],
      ['failed', 1],
      ['delivered', 7],
      ['sent', 8],
      ['spent', 8],
      ['clicked', 0],
      ['redeemed', 0],
    ] as [Measure, number][]) {
      const { rows } = await reading((scope, of) =>
        readBehind(scope, of, { measure, reason: null, page: 0 }),
      );
      expect(`${measure} ${rows.length}`).toBe(`${measure} ${people}`);
      const times = rows.reduce((sum, { n }) => sum + n, 0);
      if (measure !== 'spent') expect(`${measure} ${times}`).toBe(`${measure} ${lines[measure].now}`);
    }
  });

  it('is of one program or channel where that is asked', async () => {
    await aDay();
    const [program] = await world.rows<{ id: string }>(
      `select id from program where workspace_id = :workspace`,
    );
    const of = async (more: object) => (await reading(readOverview, { ...TODAY, ...more })).lines.joined.now;
    expect([
      await of({ program: program!.id }),
      await of({ channel: 'sms' }),
      await of({ channel: 'email' }),
    ]).toEqual([8, 8, 0]);
    expect(await of({ program: 'prg_other' })).toBe(0);
  });

  it.each([
    [{ from: '2026-02-31' }, 'from'],
    [{ to: 'soon' }, 'to'],
    [{ from: '2026-11-24', to: '2026-11-20' }, 'to'],
    [{ from: '2019-01-01', to: '2026-11-20' }, 'from'],
  ])('refuses %j', async (input, field) =>
    expect(await world.within((scope) => readAsked(scope, input, NOON))).toMatchObject({
      reason: { problems: [{ field }] },
    }),
  );

  it('of another workspace is empty', async () => {
    await aDay();
    const { id } = await world.another();
    const of = await asked();
    const there = await inWorkspace(world.ctx.orm, id, (scope) => readOverview(scope, of));
    expect([there.lines.sent.now, there.lines.joined.now]).toEqual([0, 0]);
  });
});

describe('what works', () => {
  const works = async (compare: Parameters<typeof readWorks>[2], outcome?: Parameters<typeof readWorks>[3]) =>
    must(await reading((scope, of) => readWorks(scope, of, compare, outcome)));

  it.each([
    ['broadcast', 'answered', 2, 7],
    ['program', 'lost', 1, 7],
    ['hour', 'answered', 2, 7],
    ['weekday', 'delivered', 7, 8],
    ['keyword', 'stayed', 6, 8],
    ['way', 'wrote', 2, 8],
  ] as const)('compares by %s the share that %s', async (compare, outcome, count, of) => {
    await aDay();
    const { rows } = await works(compare, outcome);
    expect(rows.map(({ rate }) => [rate.count, rate.of])).toEqual([[count, of]]);
  });

  it('counts clicks and vouchers that were used by number, by hour and by broadcast, each message once', async () => {
    const id = await aDay();
    for (const [what, people] of [
      ['clicked', [1, 2, 2]],
      ['redeemed', [2, 2]],
    ] as const)
      for (const person of people)
        await world.rows(
          `insert into engagement (workspace_id, person_id, kind, text_id, send_id, at) select :workspace, person_id, :what, id, send_id, :at from message
            where workspace_id = :workspace and send_id = :id and address = :number returning id`,
          { what, id, number: phone(person), at: new Date(world.clock.at) },
        );
    for (const compare of ['broadcast', 'number', 'hour', 'weekday'] as const)
      for (const [outcome, count] of [
        ['clicked', 2],
        ['redeemed', 1],
      ] as const) {
        const { rows } = await works(compare, outcome);
        expect([compare, outcome, ...rows.map(({ rate }) => [rate.count, rate.of])]).toEqual([
          ...[compare, outcome],
          [count, 7],
        ]);
      }
    const lines = await reading((scope, of) =>
      readOverTime(scope, of, { compare: 'broadcast', outcome: 'clicked', keys: [id] }),
    );
    expect(lines).toEqual([{ key: id, points: [{ from: '2026-11-24', n: 2, of: null }] }]);
  });

  it('compares posters by who came by what stands on them; two of one keyword count alike', async () => {
    await aDay();
    const [keyword] = await world.rows<{ id: string }>(
      `select id from keyword where workspace_id = :workspace and word = 'sky'`,
    );
    for (const _ of [1, 2])
      must(
        await world.within((scope) =>
          createPoster(world.ctx, scope, { keyword: keyword!.id }, { name: 'test', accountId: null }),
        ),
      );
    const { rows } = await works('poster', 'stayed');
    expect(rows.map(({ name, rate, trend }) => [name, rate.count, rate.of, trend])).toEqual([
      ['“Clear Sky Alerts”, A4', 6, 8, null],
      ['“Clear Sky Alerts”, A4', 6, 8, null],
    ]);
  });

  it('compares people by their tags and by where they live, each in every tag of theirs', async () => {
    await aDay();
    const tag = async (name: string, people: readonly number[]) =>
      world.within(async (scope) => {
        const { id } = must(await findOrMakeLabel(world.ctx, scope, 'tag', name, 'test'));
        await scope.run(
          `insert into person_label (workspace_id, label_id, person_id, at) select :workspace, :id, id, now() from person where workspace_id = :workspace and number = any(:numbers)`,
          { id, numbers: people.map(phone) },
        );
      });
    await tag('member', [0, 1, 2, 3, 4]);
    await tag('teacher', [3]);
    const shares = async (compare: 'tag' | 'region') =>
      Object.fromEntries(
        (await works(compare, 'wrote')).rows.map(({ name, rate }) => [name, [rate.count, rate.of]]),
      );
    expect(await shares('tag')).toEqual({ member: [2, 5], teacher: [1, 1] });
    // By their numbers, where nothing else is known.
    expect(await shares('region')).toEqual({ Colorado: [2, 8] });
  });

  it('compares what teammates wrote by hand, and nothing else they sent', async () => {
    await aDay();
    const tess = await addAccount(world.ctx, world.workspaceId, {
      ...{ name: 'Tess Nightjar', email: 'tess@example.org', role: 'teammate' },
      password: 'a long enough password',
    });
    for (const i of [2, 3]) {
      const [person] = await world.rows<{ id: string }>(
        `select id from person where workspace_id = :workspace and number = '${phone(i)}'`,
      );
      must(await world.within((scope) => answerThread(world.ctx, scope, person!.id, 'Come at nine.', tess)));
    }
    await deliverTo(world, 8, {});
    world.clock.at += HOUR;
    await world.texts(phone(3), 'And the children?');
    const { rows } = await works('teammate', 'answered');
    expect(rows).toMatchObject([{ name: 'Tess Nightjar', rate: { count: 1, of: 2 } }]);
  });

  it('compares numbers, lines, templates, forms and sources, of which there are none or one', async () => {
    await aDay();
    for (const compare of ['line', 'template', 'form', 'source'] as const)
      expect((await works(compare)).rows).toEqual([]);
    expect((await works('number')).rows).toMatchObject([{ rate: { count: 7, of: 8 } }]);
  });

  it('refuses an outcome that is none of what is compared', async () =>
    expect(await reading((scope, of) => readWorks(scope, of, 'keyword', 'clicked'))).toMatchObject({
      reason: { problems: [{ field: 'outcome' }] },
    }));

  it('draws what was chosen over time, and nothing where there is no time', async () => {
    const id = await aDay();
    const lines = (
      compare: 'keyword' | 'broadcast' | 'number',
      outcome: 'stayed' | 'answered' | 'delivered',
      keys: string[],
    ) => reading((scope, of) => readOverTime(scope, of, { compare, outcome, keys }));
    expect(await lines('keyword', 'stayed', ['sky'])).toEqual([
      { key: 'sky', points: [{ from: '2026-11-24', n: 8, of: null }] },
    ]);
    expect(await lines('broadcast', 'answered', [id])).toEqual([
      { key: id, points: [{ from: '2026-11-24', n: 2, of: null }] },
    ]);
    expect(await lines('broadcast', 'delivered', [id])).toBeNull();
    const [number] = (await works('number', 'delivered')).rows;
    expect(await lines('number', 'delivered', [number!.key])).toEqual([
      { key: number!.key, points: [{ from: '2026-11-24', n: 7, of: 8 }] },
    ]);
    expect(await lines('number', 'answered', [number!.key])).toBeNull();
  });
});

describe('who stays', () => {
  it('is told from the day somebody came to the day they went', async () => {
    await aDay();
    world.clock.at += 40 * DAY;
    await world.texts(phone(5), 'STOP');
    world.clock.at += DAY;
    // One number is gone: nobody went by it, and it is watched no longer.
    const { cohorts, often } = await reading(readKeeping, {});
    expect(cohorts).toMatchObject([
      {
        month: '2026-11-01',
        people: 8,
        steps: [{ share: 1 }, { day: 0, share: 7 / 8 }, { day: 40, share: (7 / 8) * (5 / 6) }],
      },
    ]);
    expect(cohorts[0]!.wrote).toEqual([{ month: 0, count: 2, of: 8 }]);
    expect(often).toEqual([{ texts: 0, delivered: 7, lost: 2 }]);
  });

  it('of a program says who joined, who left, and where they came from', async () => {
    for (let i = 0; i < 3; i++) await world.texts(phone(i), 'sky');
    await world.texts(phone(2), 'stop');
    const [program] = await world.within((scope) =>
      countMembers(scope, { since: new Date(world.clock.at - 30 * DAY) }),
    );
    const screen = await world.within((scope) => readProgramScreen(scope, program!.id, world.clock.at));
    expect(screen).toMatchObject({
      counts: {
        members: 2,
        left: 1,
        joined30: 3,
        left30: 1,
        sources: [{ source: 'SKY', joined: 3, left: 1 }],
      },
      countedAt: null,
      keywords: [{ word: 'sky' }],
      senders: [{ number: NUMBER }],
    });
    world.clock.at += 40 * DAY;
    const later = await world.within((scope) => readProgramScreen(scope, program!.id, world.clock.at));
    expect(later!.counts).toMatchObject({ members: 2, left: 1, joined30: 0, left30: 0 });
  });
});

describe('how soon', () => {
  it('people answer is told by what they answer, months included', async () => {
    await aDay();
    world.clock.at += 80 * DAY;
    await world.texts(phone(6), 'Is it too late?');
    world.clock.at += DAY;
    const { delays } = await reading(readSpeed, { days: 91 });
    expect(delays).toEqual([{ kind: 'broadcast', all: 3, steps: [0, 2, 0, 0, 0, 1] }]);
  });
});
