import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR } from '@/core/shared/instant';
import { addAccount } from '@/services/access/create-workspace';
import { findOrMakeLabel } from '@/services/people/labels';
import { addPerson, must } from '@/services/testing/people';
import { line, says, SequenceDesk } from '@/services/testing/sequences';
import { makeWorld, NOON, phone, type World } from '@/services/testing/world';
import { changeTask, createTask, openTasks } from '@/services/tasks/tasks';
import { readAhead } from './ahead';
import { moveEverybody } from './by-hand';
import { tallyMove } from './difference';
import { rehearseSequence } from './rehearsal';
import { readSequenceResult } from './results';
import {
  createSequence,
  exportedDocument,
  publishSequence,
  saveDraft,
  takeBackVersion,
  warningsOf,
} from './sequences';
import { readSequenceScreen } from './screen';

const ME = { name: 'test', accountId: null };
let world: World;
const desk = new SequenceDesk(() => world);
beforeEach(async () => {
  world = await makeWorld();
  await world.within((scope) => scope.run(`update workspace set weekly_cap = null where id = :workspace`));
});
afterEach(() => world.close());

const minuteOf = (iso: string) => iso.slice(0, 16);

const WELCOME = [
  line('a', { at: 'once' }, says('Juniper Gap Observatory: hello. Reply STOP to stop.')),
  line('b', { at: 'after', minutes: 60, from: 'before' }, says('An hour later')),
  line('c', { at: 'day', day: 2, time: '09:40' }, says('Day two')),
];
const create = async (document: object) =>
  world.within((scope) => createSequence(world.ctx, scope, { document }, ME));
const publish = (id: string, stamp: number) =>
  world.within((scope) => publishSequence(world.ctx, scope, id, { stamp }, ME));

describe('a draft', () => {
  it('saved by two at once: the second is told, and loses nothing', async () => {
    const document = await desk.document(WELCOME);
    const made = must(await create(document));
    const save = (name: string, stamp: number) =>
      world.within((scope) =>
        saveDraft(world.ctx, scope, made.id, { document: { ...document, name }, stamp }, ME),
      );
    expect(must(await save('First', 1)).draftStamp).toBe(2);
    expect(await save('Second', 1)).toMatchObject({
      ok: false,
      reason: { code: 'conflict', problems: [{ field: 'stamp' }] },
    });
    expect(await publish(made.id, 1)).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'stamp' }] },
    });
    expect((await publish(made.id, 2)).ok).toBe(true);
  });

  it('is not published while something must be mended, and its place is named', async () => {
    const made = must(
      await create(await desk.document([line('x', { at: 'once' }, { do: 'tag', label: 'lab_gone' })])),
    );
    expect(await publish(made.id, 1)).toMatchObject({
      ok: false,
      reason: { code: 'invalid', problems: [{ field: 'line x' }] },
    });
    expect(await create({ ...(await desk.document(WELCOME)), colour: 'red' })).toMatchObject({
      ok: false,
      reason: { problems: [{ message: expect.stringContaining('colour') as string }] },
    });
  });

  it('taken to another workspace finds what is called the same there', async () => {
    const label = await world.within(
      async (scope) => must(await findOrMakeLabel(world.ctx, scope, 'tag', 'Walks', 'test')).id,
    );
    const made = must(
      await create(await desk.document([...WELCOME, line('t', { at: 'once' }, { do: 'tag', label })])),
    );
    const exported = await world.within((scope) => exportedDocument(scope, made.draft));
    const { id: other } = await world.another();
    const theirs = await world.within(
      async (scope) => must(await findOrMakeLabel(world.ctx, scope, 'tag', 'walks', 'test')).id,
      other,
    );
    const copy = must(
      await world.within((scope) => createSequence(world.ctx, scope, { document: exported }, ME), other),
    );
    expect(copy.draft.lines.at(-1)!.what).toEqual({ do: 'tag', label: theirs });
    expect(
      (await world.within((scope) => warningsOf(scope, copy.draft, copy.id), other)).filter(
        ({ weight }) => weight === 'must',
      ),
    ).toEqual([]);
  });
});

describe('a new version', () => {
  const longer = [...WELCOME, line('d', { at: 'day', day: 5, time: '10:00' }, says('Day five'))];
  const begin = async () => {
    const id = await desk.publish(WELCOME);
    for (let i = 0; i < 3; i++) await world.texts(phone(i), 'sky');
    await desk.settle();
    return id;
  };
  const write = async (id: string, lines: typeof longer) => {
    const stamp = (
      await world.rows<{ draft_stamp: number }>(
        `select draft_stamp from sequence where workspace_id = :workspace and id = :id`,
        { id },
      )
    )[0]!.draft_stamp;
    const document = await desk.document(lines);
    must(await world.within((scope) => saveDraft(world.ctx, scope, id, { document, stamp }, ME)));
    must(await publish(id, stamp + 1));
    return document;
  };

  it('says before what moving to it does, and leaves those on the way where they were', async () => {
    const id = await begin();
    const report = (lines: typeof longer) =>
      world.within(async (scope) => tallyMove(world.ctx, scope, id, await desk.document(lines)));
    expect(await report(longer)).toMatchObject({
      ...{ people: 3, counted: 3, same: 0 },
      more: { people: 3 },
      fewer: { people: 0 },
    });
    expect(await report([WELCOME[0]!])).toMatchObject({ ends: { people: 3 }, losesNext: { people: 3 } });
    await write(id, longer);
    await desk.pass(6 * DAY, HOUR);
    expect(await desk.bodies()).not.toContain('Day five');
  });

  it('moves them when that is wanted, and is taken back', async () => {
    const id = await begin();
    await write(id, longer);
    expect(await world.within((scope) => moveEverybody(world.ctx, scope, id))).toBe(3);
    expect(await world.within((scope) => moveEverybody(world.ctx, scope, id))).toBe(0);
    must(await world.within((scope) => takeBackVersion(world.ctx, scope, id, ME)));
    await world.within((scope) => moveEverybody(world.ctx, scope, id));
    await desk.pass(6 * DAY, HOUR);
    expect((await desk.bodies()).filter((body) => body === 'Day two')).toHaveLength(3);
    expect(await desk.bodies()).not.toContain('Day five');
  });
});

describe('a rehearsal', () => {
  it('equals what then happens, line by line', async () => {
    world.clock.at = NOON + 8.5 * HOUR;
    const id = await desk.publish(WELCOME, { ends: [{ when: { on: 'reply' }, then: [] }] });
    const ana = await addPerson(world, phone(1), {
      consent: { program: 'Clear Sky Alerts', wording: 'yes' },
    });
    const from = new Date(world.clock.at).toISOString();
    const rehearsed = must(
      await world.within((scope) => rehearseSequence(world.ctx, scope, { sequence: id, person: ana, from })),
    );
    await desk.settle();
    await desk.pass(2 * DAY);
    const live = (await desk.sent()).map(({ body, at }) => [body, minuteOf(at!.toISOString())]);
    // The clock of the test goes in steps, a second beside the full minute.
    expect(rehearsed.itinerary.map(({ body, at }) => [body, minuteOf(at)])).toEqual(live);
    expect(rehearsed.ended).toMatchObject({ why: 'through' });
  });

  it('of a made-up person with pretended events says what is not sent, and why', async () => {
    const document = await desk.document(WELCOME, {
      ends: [{ when: { on: 'reply' }, then: [{ do: 'tell', words: 'x', to: { to: 'owner' } }] }],
    });
    const at = new Date(NOON + 2 * HOUR).toISOString();
    const played = must(
      await world.within((scope) =>
        rehearseSequence(world.ctx, scope, {
          document,
          from: new Date(NOON).toISOString(),
          events: [{ at, kind: 'reply' }],
        }),
      ),
    );
    expect(played.itinerary.map(({ line: id, verdict }) => [id, verdict])).toEqual([
      ['a', 'sent'],
      ['b', 'sent'],
      ['end 0', 'done'],
    ]);
    expect(played.ended).toMatchObject({ why: 'replied' });
    expect(await world.rows(`select 1 from message where workspace_id = :workspace`)).toEqual([]);
  });

  it.each<[string, object, string]>([
    ['no sequence', {}, 'sequence'],
    [
      'an event of no kind',
      { sequence: 'x', events: [{ at: '2026-11-24T10:00:00Z', kind: 'dances' }] },
      'id',
    ],
    ['a person who is not here', { person: 'per_x' }, 'id'],
  ])('with %s is refused', async (_, input, field) => {
    const document =
      'sequence' in input || Object.keys(input).length === 0
        ? {}
        : { document: await desk.document(WELCOME) };
    expect(
      await world.within((scope) => rehearseSequence(world.ctx, scope, { ...document, ...input })),
    ).toMatchObject({ ok: false, reason: { problems: [{ field }] } });
  });
});

it('what is ahead of somebody is what then comes; results say what came of it', async () => {
  const id = await desk.publish(WELCOME);
  await world.texts(phone(1), 'sky');
  await desk.settle();
  const [{ person_id: person }] = (await desk.enrolments()) as unknown as [{ person_id: string }];
  const screen = await world.within((scope) => readSequenceScreen(world.ctx, scope, id, 'acc_test'));
  expect(screen).toMatchObject({
    forecast: { days: expect.any(Array) as unknown },
    sequence: { version: 1 },
  });
  expect(screen!.forecast!.days.slice(0, 2).map(({ messages }) => messages > 0)).toEqual([true, false]);
  const ahead = await world.within((scope) => readAhead(world.ctx, scope, person));
  expect(ahead.map(({ words, at }) => [words, at])).toEqual([
    ['An hour later', '2026-11-24T20:00:00.000Z'],
    ['Day two', '2026-11-25T16:40:00.000Z'],
  ]);
  await desk.pass(DAY);
  const { counts, lines } = await world.within((scope) => readSequenceResult(world.ctx, scope, id));
  expect(counts).toMatchObject({ open: 0, ended: 1 });
  expect(lines.map(({ line: one, through, waiting }) => [one, through, waiting]).sort()).toEqual([
    ['a', 1, 0],
    ['b', 1, 0],
    ['c', 1, 0],
  ]);
});

it('tasks are done, put off, handed on and opened again', async () => {
  const account = await addAccount(world.ctx, world.workspaceId, {
    email: 'o@example.org',
    name: 'Odile Farrow',
    password: 'x',
    role: 'owner',
  });
  const due = new Date(NOON + HOUR).toISOString();
  const task = must(
    await world.within((scope) => createTask(world.ctx, scope, { title: ' Call ', due }, 'hand', ME)),
  );
  const change = (input: Parameters<typeof changeTask>[3]) =>
    world.within((scope) => changeTask(world.ctx, scope, task.id, input, ME));
  expect(must(await change({ verb: 'hand-on', account: account })).accountId).toBe(account);
  expect(await change({ verb: 'later' })).toMatchObject({
    ok: false,
    reason: { problems: [{ field: 'due' }] },
  });
  must(await change({ verb: 'later', due: new Date(NOON + DAY).toISOString() }));
  must(await change({ verb: 'done', note: 'Left a message' }));
  expect(await world.within((scope) => openTasks(scope, null))).toEqual([]);
  expect(await change({ verb: 'done' })).toMatchObject({ ok: false, reason: { code: 'conflict' } });
  must(await change({ verb: 'again' }));
  expect(await world.within((scope) => openTasks(scope, account))).toMatchObject([
    { title: 'Call', account: 'Odile Farrow', note: 'Left a message' },
  ]);
});
