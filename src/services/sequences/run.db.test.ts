import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import { findOrMakeLabel, setLabel } from '@/services/people/labels';
import { addPerson, editField, must, personOf } from '@/services/testing/people';
import { broadcastTo, round, Scripted } from '@/services/testing/sending';
import { line, says, SequenceDesk } from '@/services/testing/sequences';
import { wantHappenings } from '@/db/kit/happenings';
import { acrossWorkspaces } from '@/db/kit/scope';
import { Sequence } from '@/db/sequences/entities';
import { untroubled } from '@/db/kit/trouble';
import { workspacesDue } from '@/db/sequences/enrolments';
import { follow } from '@/services/kit/happenings';
import { SEQUENCES_FOLLOW } from './follow';
import { makeWorld, NOON, phone, type World } from '@/services/testing/world';
import { workThrough } from '@/services/kit/trouble';
import { readTroubles } from '@/services/stuck';
import { mergePeople } from '@/services/people/merge-people';
import { erasePerson } from '@/services/people/erase-person';
import { addField } from '@/services/audience/own-fields';
import { callBackGrace, enrol, tellEnrolment } from './by-hand';
import { DATES_QUEUE } from './dates';
import { runDue } from './run';
import { moveSequence, publishSequence, saveDraft } from './sequences';

const ME = { name: 'test', accountId: null };
let world: World;
const desk = new SequenceDesk(() => world);
const { publish, settle, pass, bodies, sent, enrolments, passed } = desk;
beforeEach(async () => {
  world = await makeWorld({ program: { promise: null } as never });
  await world.within((scope) => scope.run(`update workspace set weekly_cap = null where id = :workspace`));
});
afterEach(() => world.close());

const WELCOME = [
  line('a', { at: 'once' }, says('Hello')),
  line('b', { at: 'after', minutes: 60, from: 'before' }, says('An hour later')),
  line('c', { at: 'day', day: 2, time: '09:40' }, says('Day two')),
];
const tag = (name: string) =>
  world.within(async (scope) => must(await findOrMakeLabel(world.ctx, scope, 'tag', name, 'test')).id);
const put = (label: string, people: string[], batch: string | null = null) =>
  world.within((scope) => setLabel(world.ctx, scope, label, people, true, batch));

describe('a sequence that runs', () => {
  it('begins by a keyword, answers at once, and goes on by its times', async () => {
    await publish(WELCOME);
    await world.texts(phone(1), 'sky');
    await settle();
    expect(await bodies()).toEqual(['Hello']);
    expect((await sent())[0]).toMatchObject({ kind: 'sequence-answer' });
    await pass(DAY);
    expect((await sent()).map(({ body, at }) => [body, at!.toISOString()])).toEqual([
      ['Hello', '2026-11-24T19:00:00.000Z'],
      ['An hour later', '2026-11-24T20:00:00.000Z'],
      ['Day two', '2026-11-25T16:40:00.000Z'],
    ]);
    expect(await enrolments()).toMatchObject([{ state: 'ended', ended_why: 'through', look_at: null }]);
    expect((await passed()).map(({ line: id, because }) => [id, because])).toEqual([
      ['a', null],
      ['b', null],
      ['c', null],
    ]);
  });

  it('tells that it began, where somebody wants to hear it', async () => {
    await desk.publish([line('a', { at: 'once' }, says('Welcome. Reply STOP to stop.'))]);
    const told = () =>
      world.rows<{ person_id: string; detail: object }>(
        `select person_id, detail from happening where workspace_id = :workspace and kind = 'sequence.began'`,
      );
    await world.texts(phone(0), 'sky');
    await desk.settle();
    expect(await told()).toEqual([]);
    await world.within((scope) => wantHappenings(scope, 'somebody', ['sequence.began']));
    await world.texts(phone(1), 'sky');
    await desk.settle();
    expect(await told()).toMatchObject([{ detail: { by: 'joined' } }]);
  });

  it('answers at once while a long broadcast leaves from the same number', async () => {
    await publish(WELCOME);
    await broadcastTo(world, 5);
    await world.texts(phone(9), 'sky');
    await follow(world.ctx, SEQUENCES_FOLLOW);
    await runDue(world.ctx);
    const carrier = new Scripted();
    // The confirmation of the keyword, and the answer of the sequence: both before the five of the broadcast.
    await round(world, carrier, 2);
    expect(carrier.parts.map(({ body }) => body)).toEqual([expect.stringContaining('STOP'), 'Hello']);
  });

  it('counts from when a message left: over a night nothing arrives together', async () => {
    world.clock.at = NOON + 8.5 * HOUR;
    await publish(WELCOME);
    await world.texts(phone(1), 'sky');
    await settle();
    await pass(HOUR);
    // 21:30 in Denver: the second waits for the morning.
    expect((await sent()).map(({ state }) => state)).toEqual(['submitted', 'queued']);
    await pass(14 * HOUR);
    expect((await sent()).map(({ body, at }) => [body, at?.toISOString().slice(11, 16)])).toEqual([
      ['Hello', '03:30'],
      ['An hour later', '15:00'],
      ['Day two', '16:40'],
    ]);
  });

  it('ends by a reply that is no keyword, tells the owner, and sends nothing after it', async () => {
    await publish(WELCOME, {
      ends: [
        {
          when: { on: 'reply' },
          then: [{ do: 'task', title: 'Call them', for: { to: 'owner' }, due_minutes: 60 }],
        },
      ],
    });
    await world.texts(phone(1), 'sky');
    await settle();
    await world.texts(phone(1), 'Which gate?');
    await pass(2 * DAY, HOUR);
    expect(await bodies()).toEqual(['Hello']);
    expect(await enrolments()).toMatchObject([{ state: 'ended', ended_why: 'replied' }]);
    expect(await world.rows(`select title from task where workspace_id = :workspace`)).toEqual([
      { title: 'Call them' },
    ]);
  });

  it('ends when a field gets the value that ends it, and by no other value', async () => {
    await world.within(async (scope) =>
      must(await addField(world.ctx, scope, { label: 'Bought', kind: 'text' }, 'test')),
    );
    await publish(WELCOME, {
      ends: [{ when: { on: 'field', field: 'own.bought', value: 'ticket' }, then: [] }],
    });
    await world.texts(phone(1), 'sky');
    await settle();
    const id = (await enrolments())[0]!.person_id;
    must(await editField(world, id, 'own.bought', 'nothing'));
    await settle();
    expect(await enrolments()).toMatchObject([{ state: 'waiting' }]);
    must(await editField(world, id, 'own.bought', 'ticket'));
    await settle();
    expect(await enrolments()).toMatchObject([{ state: 'ended', ended_why: 'field' }]);
  });

  it('ends by a tag that it names, and by no other', async () => {
    const [bought, other] = [await tag('bought'), await tag('other')];
    await publish(WELCOME, { ends: [{ when: { on: 'tag', label: bought }, then: [] }] });
    await world.texts(phone(1), 'sky');
    await settle();
    const ana = (await enrolments())[0]!.person_id;
    await put(other, [ana]);
    await settle();
    expect(await enrolments()).toMatchObject([{ ended_why: null }]);
    await put(bought, [ana]);
    await settle();
    expect(await enrolments()).toMatchObject([{ ended_why: 'tag' }]);
  });

  it('ends by STOP, whatever waits', async () => {
    await publish(WELCOME);
    await world.texts(phone(1), 'sky');
    await settle();
    await world.texts(phone(1), 'Stop.');
    await pass(2 * DAY, HOUR);
    expect(await bodies()).toEqual(['Hello']);
    expect(await enrolments()).toMatchObject([{ state: 'ended', ended_why: 'opted-out' }]);
  });

  it('passes over what is blocked for good, with its reason, and goes on', async () => {
    await publish([
      line('a', { at: 'once' }, says('Hi {$person.first_name :wren:field}')),
      line('b', { at: 'once' }, says('Hello')),
    ]);
    await world.texts(phone(1), 'sky');
    await settle();
    expect(await bodies()).toEqual(['Hello']);
    expect(await passed()).toMatchObject([
      { line: 'a', because: 'empty-field' },
      { line: 'b', because: null },
    ]);
  });

  it('asks what is known at a fork', async () => {
    const vip = await tag('vip');
    await publish([
      line(
        'f',
        { at: 'once' },
        {
          do: 'fork',
          columns: [
            {
              id: 'v',
              name: 'vip',
              if: { test: 'known', condition: { ask: 'tag', id: vip, has: true } },
              lines: [line('x', { at: 'once' }, says('For you'))],
              then: 'rejoin',
            },
            { id: 'e', name: 'else', if: { test: 'else' }, lines: [], then: 'rejoin' },
          ],
        },
      ),
      line('z', { at: 'once' }, says('For all')),
    ]);
    const ana = await addPerson(world, phone(1));
    await put(vip, [ana]);
    await world.texts(phone(1), 'sky');
    await world.texts(phone(2), 'sky');
    await settle();
    expect((await bodies()).sort()).toEqual(['For all', 'For all', 'For you']);
  });

  it('keeps the answer to its question in a field', async () => {
    await world.within(async (scope) =>
      must(await addField(world.ctx, scope, { label: 'Planet', kind: 'text' }, 'test')),
    );
    await publish([
      line('q', { at: 'once' }, { do: 'ask', body: 'Your planet?', field: 'own.planet' }),
      line('t', { at: 'until', act: 'reply', minutes: 600 }, says('Thank you')),
    ]);
    await world.texts(phone(1), 'sky');
    await settle();
    await world.texts(phone(1), 'Saturn');
    await settle();
    expect(await bodies()).toEqual(['Your planet?', 'Thank you']);
    expect(await world.rows(`select fields from person where workspace_id = :workspace`)).toEqual([
      { fields: { planet: 'Saturn' } },
    ]);
  });

  it('begins days before a date, in the year that has no 29 February too', async () => {
    await world.within(async (scope) =>
      must(await addField(world.ctx, scope, { label: 'Born', kind: 'date' }, 'test')),
    );
    await publish([line('a', { at: 'once' }, says('Soon!'))], {
      begins: [{ on: 'date', field: 'own.born', days: -3, yearly: true, time: '10:00' }],
    });
    world.clock.at = Date.UTC(2027, 1, 25, 15, 0);
    await world.texts(phone(1), 'sky');
    const [{ id }] = (await world.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace`,
    )) as [{ id: string }];
    must(await editField(world, id, 'own.born', '2000-02-29'));
    expect(await workThrough(world.ctx, DATES_QUEUE)).toBe(1);
    expect(await workThrough(world.ctx, DATES_QUEUE)).toBe(0);
    await pass(3 * HOUR);
    expect((await sent()).map(({ at }) => at!.toISOString())).toEqual(['2027-02-25T17:00:00.000Z']);
  });

  it('that begins by a date from a new version on begins nobody on the day it is published', async () => {
    await world.within(async (scope) =>
      must(await addField(world.ctx, scope, { label: 'Born', kind: 'date' }, 'test')),
    );
    const lines = [line('a', { at: 'once' }, says('Many returns'))];
    const id = await publish(lines);
    const born = await addPerson(world, phone(2));
    must(await editField(world, born, 'own.born', '2000-11-26'));
    world.clock.at += 2 * DAY;
    await workThrough(world.ctx, DATES_QUEUE);
    const document = await desk.document(lines, {
      begins: [{ on: 'date', field: 'own.born', days: 0, yearly: true, time: '10:00' }],
    } as never);
    await world.within(async (scope) => {
      const { draftStamp: stamp } = await scope.em.findOneOrFail(Sequence, { id });
      const saved = must(await saveDraft(world.ctx, scope, id, { document, stamp } as never, ME));
      must(await publishSequence(world.ctx, scope, id, { stamp: saved.draftStamp } as never, ME));
    });
    expect(await workThrough(world.ctx, DATES_QUEUE)).toBe(0);
    must(await editField(world, born, 'own.born', '2000-11-27'));
    world.clock.at += DAY;
    expect(await workThrough(world.ctx, DATES_QUEUE)).toBe(1);
    expect(await enrolments()).toMatchObject([{ person_id: born }]);
  });

  it('by a date that cannot begin holds up no other, shows its problem, and begins once it is mended', async () => {
    await world.within(async (scope) =>
      must(await addField(world.ctx, scope, { label: 'Born', kind: 'date' }, 'test')),
    );
    const born = {
      begins: [{ on: 'date', field: 'own.born', days: 0, yearly: true, time: '10:00' }],
    } as never;
    const broken = await publish([line('a', { at: 'once' }, says('Never'))], born);
    await publish([line('a', { at: 'once' }, says('Many returns'))], born);
    await world.texts(phone(1), 'sky');
    must(await editField(world, await personOf(world, phone(1)), 'own.born', '2000-11-25'));
    world.clock.at = NOON + DAY;
    await world.poison('enrolment', `new.sequence_id = '${broken}'`);
    expect(await workThrough(world.ctx, DATES_QUEUE)).toBe(1);
    await pass(HOUR);
    expect(await bodies()).toEqual(['Many returns']);
    expect(
      (await world.within((scope) => readTroubles(scope))).map(({ queue, name }) => [queue, name]),
    ).toEqual([['sequence-dates', 'Welcome']]);
    await world.cure('enrolment');
    world.clock.at += HOUR;
    expect(await workThrough(world.ctx, DATES_QUEUE)).toBe(1);
    await pass(HOUR);
    expect(await bodies()).toEqual(['Many returns', 'Never']);
  });
});

describe('many at once', () => {
  it('begun by a batch wait for their grace, and are all called back by one press', async () => {
    const label = await tag('walks');
    const id = await publish(WELCOME, { begins: [{ on: 'tag', label }] });
    const people: string[] = [];
    for (let i = 0; i < 30; i++)
      people.push(
        await addPerson(world, phone(i), { consent: { program: 'Clear Sky Alerts', wording: 'yes' } }),
      );
    await put(label, people, 'bat_1');
    await settle();
    expect((await enrolments()).length).toBe(30);
    expect(await bodies()).toEqual([]);
    expect(await world.within((scope) => callBackGrace(world.ctx, scope, id, ME))).toBe(30);
    await pass(DAY, HOUR);
    expect(await bodies()).toEqual([]);
    expect(new Set((await enrolments()).map(({ ended_why }) => ended_why))).toEqual(new Set(['called-back']));
  });

  it('a poisoned one holds up nobody, shows its problem, and can be taken out', async () => {
    vi.spyOn(console, 'error').mockImplementation(() => undefined);
    await publish(WELCOME);
    for (let i = 0; i < 5; i++) await world.texts(phone(i), 'sky');
    const [person] = await world.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace and number = '${phone(2)}'`,
    );
    await world.poison('message', `new.enrolment_id is not null and new.person_id = '${person!.id}'`);
    await settle();
    expect((await bodies()).length).toBe(4);
    expect(await world.within((scope) => readTroubles(scope))).toMatchObject([{ queue: 'enrolment' }]);
    // While it waits for its next try its workspace takes no turn: others have theirs.
    const due = await acrossWorkspaces(world.ctx.orm, (crossing) =>
      workspacesDue(crossing, untroubled('enrolment')('e.id'), new Date(world.clock.at)),
    );
    expect(due).toEqual([]);
    await world.cure('message');
    await pass(10 * MINUTE, MINUTE);
    expect((await bodies()).filter((body) => body === 'Hello').length).toBe(5);
    vi.restoreAllMocks();
  });

  it('two workers send each line once', async () => {
    await publish(WELCOME);
    for (let i = 0; i < 40; i++) await world.texts(phone(i), 'sky');
    await desk.settle();
    world.clock.at += HOUR;
    await Promise.all([runDue(world.ctx), runDue(world.ctx), runDue(world.ctx)]);
    await settle();
    const texts = await sent();
    expect(texts.filter(({ body }) => body === 'Hello').length).toBe(40);
    expect(texts.filter(({ body }) => body === 'An hour later').length).toBe(40);
  });
});

describe('what a human does', () => {
  const one = async () => (await enrolments())[0]!;
  const begin = async (lines = WELCOME) => {
    const id = await publish(lines);
    await world.texts(phone(1), 'sky');
    await settle();
    return id;
  };

  it('pauses it for all, and what was due goes when it goes on', async () => {
    const id = await begin();
    await world.within((scope) => moveSequence(world.ctx, scope, id, 'pause', ME));
    await pass(3 * HOUR, HOUR);
    expect(await bodies()).toEqual(['Hello']);
    await world.within((scope) => moveSequence(world.ctx, scope, id, 'resume', ME));
    await settle();
    expect(await bodies()).toEqual(['Hello', 'An hour later']);
  });

  it('ends it for all who are in it', async () => {
    const id = await begin();
    await world.within((scope) => moveSequence(world.ctx, scope, id, 'stop', ME));
    await pass(DAY, HOUR);
    expect(await bodies()).toEqual(['Hello']);
    expect(await one()).toMatchObject({ state: 'ended', ended_why: 'stopped' });
  });

  it('skips a line, holds somebody until a day, takes them out', async () => {
    await begin();
    const { id } = await one();
    const told = (trigger: Parameters<typeof tellEnrolment>[3]) =>
      world.within((scope) => tellEnrolment(world.ctx, scope, id, trigger, ME));
    must(await told({ on: 'skip' }));
    must(await told({ on: 'hold', until: NOON + 3 * DAY }));
    await pass(2 * DAY, HOUR);
    expect(await bodies()).toEqual(['Hello']);
    await pass(DAY + HOUR, HOUR);
    expect(await bodies()).toEqual(['Hello', 'Day two']);
    expect(await told({ on: 'skip' })).toMatchObject({ ok: false, reason: { code: 'conflict' } });
  });

  it('lets somebody in by hand, once, at a line if wanted', async () => {
    const id = await publish(WELCOME, { begins: [] });
    const ana = await addPerson(world, phone(1), {
      consent: { program: 'Clear Sky Alerts', wording: 'yes' },
    });
    const letIn = (more = {}) =>
      world.within((scope) => enrol(world.ctx, scope, id, { people: [ana], ...more }, ME));
    expect(await letIn({ line: 'b' })).toEqual({ ok: true, value: { came: 1 } });
    expect(await letIn()).toEqual({ ok: true, value: { came: 0 } });
    expect(await letIn({ line: 'zz' })).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'line' }] },
    });
    await pass(2 * HOUR);
    expect(await bodies()).toEqual(['An hour later']);
  });
});

describe('somebody who is in it', () => {
  it('merged goes on as the one that is kept, once', async () => {
    await publish(WELCOME);
    await world.texts(phone(1), 'sky');
    await world.texts(phone(2), 'sky');
    await settle();
    const [one, other] = await enrolments();
    must(
      await world.within((scope) => mergePeople(world.ctx, scope, one!.person_id, other!.person_id, {}, ME)),
    );
    await pass(2 * HOUR);
    expect((await bodies()).filter((body) => body === 'An hour later')).toHaveLength(1);
  });

  it('erased leaves nothing behind', async () => {
    await publish(WELCOME);
    await world.texts(phone(1), 'sky');
    await settle();
    const id = (await enrolments())[0]!.person_id;
    await world.within((scope) => erasePerson(world.ctx, scope, id, 'test'));
    await pass(DAY, HOUR);
    expect(await enrolments()).toEqual([]);
    expect(await passed()).toEqual([]);
  });

  it('whose clock is set forward by a year gets each line once', async () => {
    await publish(WELCOME);
    await world.texts(phone(1), 'sky');
    await settle();
    world.clock.at += 365 * DAY;
    await settle();
    expect(new Set(await bodies()).size).toBe((await bodies()).length);
    expect((await enrolments())[0]).toMatchObject({ state: 'ended' });
  });
});
