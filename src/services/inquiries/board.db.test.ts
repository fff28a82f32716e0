import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import { addAccount } from '@/services/access/create-workspace';
import { answerThread } from '@/services/inbox/answer-thread';
import { InquiryDesk } from '@/services/testing/inquiries';
import { must } from '@/services/testing/people';
import { round, Scripted } from '@/services/testing/sending';
import { line, says, SequenceDesk } from '@/services/testing/sequences';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { readBoard, readInquiries, silentSources, troubledSources } from './board';

let world: World;
const desk = new InquiryDesk(() => world);
const sequences = new SequenceDesk(() => world);
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const board = (days = 365) => world.within((scope) => readBoard(scope, days, world.clock.at));
const lead = (i: number, more: object = {}) => ({
  ...{ id: `ld-${i}`, phone: `303 555 0${100 + i}`, name: `Ana Orr${i}`, about: 'class trip', text: 'Hello' },
  ...more,
});

describe('the board', () => {
  it('counts answers, replies, late ones, conversations and cost, by source and kind', async () => {
    const program = await desk.program();
    const answer = await sequences.publish([line('a', { at: 'once' }, says('Thank you!'))], {
      ...{ begins: [{ on: 'request' }], program },
    });
    const source = await desk.source({
      begins: [{ sequence: answer, kind: 'school visit' }],
      cost_cents: 250,
    });
    for (const one of [lead(0), lead(1), lead(2), lead(3, { about: 'something' })])
      await desk.bring(source, one);
    await desk.work();
    world.clock.at += 4_000;
    await sequences.settle();
    world.clock.at += HOUR;
    await world.texts(phone(0), 'Yes, Tuesday would be good');
    const [first] = await desk.people();
    const tess = await addAccount(world.ctx, world.workspaceId, {
      ...{ email: 'tess@example.org', name: 'Tess Nightjar', password: 'x', role: 'teammate' as const },
    });
    must(await world.within((scope) => answerThread(world.ctx, scope, first!.id, 'Tuesday it is.', tess)));
    await round(world, new Scripted());
    world.clock.at += 70 * DAY;
    await world.texts(phone(1), 'We are still interested');
    const rows = await board();
    expect(rows).toMatchObject([
      {
        ...{ source: 'Night Sky Guide', kind: 'school visit', came: 3, answered: 3, median: 4, p95: 4 },
        ...{ replied: 2, late: 1, conversations: 1, cost: 750, perConversation: 750 },
      },
      { kind: 'question', came: 1, answered: 0, median: null, replied: 0 },
    ]);
    const late = await world.within((scope) =>
      readInquiries(scope, { sourceId: source.id, kind: null, late: true, before: '' }),
    );
    expect(late.rows.map(({ first_name: name, kind }) => [name, kind])).toEqual([['Ana', 'school visit']]);
    expect(await board(7)).toEqual([]);
  });

  it('leaves out what was answered with another, and shows it in the list', async () => {
    await desk.program();
    const [one, two] = [await desk.source(), await desk.source({}, 'Star Tours')];
    await desk.bring(one, lead(0));
    await desk.bring(two, lead(0));
    await desk.work();
    expect((await board()).map(({ came }) => came)).toEqual([1]);
    const all = await world.within((scope) =>
      readInquiries(scope, { sourceId: null, kind: null, late: false, before: '' }),
    );
    expect(all.rows.map(({ twin }) => twin)).toEqual([true, false]);
  });
});

describe('a source', () => {
  it('that fell silent, or sends what cannot be read, is shown; one that is as usual is not', async () => {
    await desk.program();
    const [busy, slow, broken] = [
      await desk.source(),
      await desk.source({}, 'Star Tours'),
      await desk.source({ mapping: { rules: [], kinds: [], otherKind: 'x' } }, 'Website'),
    ];
    for (let i = 0; i < 12; i += 1) {
      await desk.bring(busy, lead(i));
      if (i % 6 === 0) await desk.bring(slow, lead(i));
      world.clock.at += 30 * MINUTE;
    }
    await desk.bring(broken, { any: 'thing' });
    await desk.work();
    const troubled = () => world.within((scope) => troubledSources(scope, world.clock.at));
    expect((await troubled()).map(({ name, unread }) => [name, unread])).toEqual([['Website', 1]]);
    world.clock.at += 8 * HOUR;
    expect((await troubled()).map(({ name, silent }) => [name, silent !== null])).toEqual([
      ['Night Sky Guide', true],
      ['Website', false],
    ]);
    expect([...(await world.within((scope) => silentSources(scope, world.clock.at))).keys()]).toEqual([
      busy.id,
    ]);
  });
});
