import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { MINUTE } from '@/core/shared/instant';
import { personTexts } from '@/db/results/results';
import { addAccount } from '@/services/access/create-workspace';
import { addField } from '@/services/audience/own-fields';
import { answerThread } from '@/services/inbox/answer-thread';
import { workThrough } from '@/services/kit/trouble';
import { LEAVING_QUEUE } from '@/services/inbox/leave-by-hand';
import { readThreadSide } from '@/services/inbox/screen';
import { erasePerson } from '@/services/people/erase-person';
import { createTemplate } from '@/services/templates/templates';
import { handSent } from '@/services/testing/by-hand';
import { must } from '@/services/testing/people';
import { round, Scripted } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { deskRequest } from './desk-request';
import { exportFacts, noteFact, readFacts } from './facts';
import { inStackOf, press, openDesk } from './press';
import { readStack } from './screen';
import { splitSend } from './split';

let world: World;
let tess: string;
let send: string;
let stack: string;
/** Those of the stack, in its order. */
let people: string[];

beforeEach(async () => {
  world = await makeWorld();
  tess = await addAccount(world.ctx, world.workspaceId, {
    ...{ name: 'Tess Nightjar', email: 'tess@example.org', role: 'teammate' },
    password: 'a long enough password',
  });
  send = await handSent(world, 3);
  const [made] = must(
    await world.within((scope) =>
      splitSend(
        ...([world.ctx, scope, send] as const),
        { how: 'counts', holders: [{ guest: 'Iris', count: 2 }] },
        { name: tess, accountId: tess },
      ),
    ),
  );
  stack = (await inStackOf(world.ctx, made!.url!.split('/').at(-1)!, (_, id) => Promise.resolve(id)))!;
  const { next } = (await world.within((scope) => openDesk(world.ctx, scope, stack)))!;
  people = next.map(({ personId }) => personId);
  const messages = next.map(({ id }) => id);
  must(await world.within((scope) => press(world.ctx, scope, stack, { messages })));
  await round(world, new Scripted());
  world.clock.at += MINUTE;
  await world.texts(phone(0), 'What does it cost?');
});
afterEach(() => world.close());

const asks = (body: Record<string, string>) =>
  world.within((scope) => deskRequest(world.ctx, scope, stack, body));
const ask = async (body: Record<string, string>) => must(await asks(body));
const talk = async () => (await ask({ act: 'talk', person: people[0]! })) as Record<string, unknown>;
const field = (label: string, kind: 'yes-no' | 'several-of', options: string[], noted = true) =>
  world
    .within((scope) => addField(world.ctx, scope, { label, kind, options, noted }, 'test'))
    .then((made) => must(made).key);
const facts = () => world.within((scope) => readFacts(scope, send));

describe('somebody who was invited to press', () => {
  it('has the prepared answers of the house in the words of whom they are for, and one that leaves a gap is not offered', async () => {
    const prepare = (name: string, body: string, question: string | null) =>
      world.within((scope) =>
        createTemplate(
          world.ctx,
          scope,
          { name, body, ...(question ? { question } : {}) },
          {
            ...{ name: tess, accountId: tess },
          },
        ),
      );
    must(await prepare('Price', 'It is free, says {$sender.first_name}.', 'What does it cost?'));
    must(await prepare('Gap', 'Dear {$person.last_name}', 'Who am I?'));
    must(await prepare('None', 'A text, and no answer.', null));
    const { prepared } = (await talk()) as { prepared: { id: string; question: string; body: string }[] };
    expect(prepared).toMatchObject([{ question: 'What does it cost?', body: 'It is free, says Iris.' }]);
    await ask({ act: 'answer', person: people[0]!, body: prepared[0]!.body, prepared: prepared[0]!.id });
    expect(await world.rows(`select template_id from prepared_use where workspace_id = :workspace`)).toEqual([
      { template_id: prepared[0]!.id },
    ]);
  });

  it('answers under their own name', async () => {
    await ask({ act: 'answer', person: people[0]!, body: 'Nothing at all.' });
    const texts = await world.within((scope) => personTexts(scope, people[0]!, 10));
    expect(texts.find(({ body }) => body === 'Nothing at all.')).toMatchObject({ sent_by: 'Iris' });
  });

  it('is named where a teammate answers in their place, until they ask for somebody else', async () => {
    const answer = async (body: string) => {
      must(await world.within((scope) => answerThread(world.ctx, scope, people[0]!, body, tess)));
      const texts = await world.within((scope) => personTexts(scope, people[0]!, 10));
      return texts.find((text) => text.body === body);
    };
    expect(await answer('It is free.')).toMatchObject({ sent_by: 'Tess Nightjar', in_place_of: 'Iris' });
    await ask({ act: 'another', person: people[0]!, why: 'wants to know more' });
    expect(await answer('All of it.')).toMatchObject({ sent_by: 'Tess Nightjar', in_place_of: null });
  });

  it('notes what is asked beside threads, of their own people, and no other field', async () => {
    const comes = await field('Comes on Friday', 'yes-no', []);
    const secret = await field('Owes us', 'yes-no', [], false);
    expect((await talk()).facts).toMatchObject([{ key: comes, known: null }]);
    await ask({ act: 'note', person: people[0]!, key: comes, value: 'yes' });
    await ask({ act: 'note', person: people[1]!, key: comes, value: 'no' });
    expect((await asks({ act: 'note', person: people[0]!, key: secret, value: 'yes' })).ok).toBe(false);
    expect((await asks({ act: 'note', person: people[0]!, key: comes, value: 'perhaps' })).ok).toBe(false);
    expect((await talk()).facts).toMatchObject([{ known: 'yes' }]);
    expect(await facts()).toEqual([
      {
        ...{ key: comes, label: 'Comes on Friday' },
        answers: [
          { value: 'no', people: 1 },
          { value: 'yes', people: 1 },
        ],
      },
    ]);
  });

  it('asks for somebody else: whoever invited has the thread and the reason, and it is the guest’s no more', async () => {
    await ask({ act: 'another', person: people[0]!, why: 'asks about the roof' });
    const side = await world.within((scope) => readThreadSide(scope, people[0]!, tess, world.clock.at));
    expect(side).toMatchObject({
      accountId: tess,
      notes: [{ body: 'Iris asks for somebody else to answer: asks about the roof' }],
    });
    expect((await world.within((scope) => openDesk(world.ctx, scope, stack)))!.replies).toEqual([]);
    const read = (await world.within((scope) => readStack(scope, send, stack, world.clock.at)))!;
    expect(read.pressed[0]).toMatchObject({ passed_on: true, words: 'What does it cost?' });
  });

  it('takes out who wants no more, with the final text, unless it is taken back at once', async () => {
    await ask({ act: 'leave', person: people[0]! });
    expect(await talk()).toMatchObject({ leaving: true, stopped: false });
    await ask({ act: 'stay', person: people[0]! });
    expect(await talk()).toMatchObject({ leaving: false });
    await ask({ act: 'leave', person: people[0]! });
    world.clock.at += MINUTE;
    await workThrough(world.ctx, LEAVING_QUEUE);
    expect(await talk()).toMatchObject({ leaving: false, stopped: true });
    const carrier = new Scripted();
    expect(await round(world, carrier)).toBe(1);
    expect((await asks({ act: 'answer', person: people[0]!, body: 'But wait!' })).ok).toBe(false);
    expect(
      await world.rows(
        `select distinct evidence ->> 'why' as why from consent_event where workspace_id = :workspace and kind = 'opted-out'`,
      ),
    ).toEqual([{ why: 'said so to Iris' }]);
  });

  it('does none of it with anybody else', async () => {
    const [other] = await world.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace and not (id = any(:people::text[]))`,
      { people },
    );
    const person = other!.id;
    const tries: Record<string, string>[] = [
      { act: 'talk', person },
      { act: 'answer', person, body: 'Hello' },
      { act: 'note', person, key: 'x', value: 'yes' },
      { act: 'another', person },
      { act: 'leave', person },
      { act: 'stay', person },
    ];
    for (const body of tries) expect((await asks(body)).ok).toBe(false);
    expect(await world.rows(`select id from leaving where workspace_id = :workspace`)).toEqual([]);
  });
});

describe('what is learnt in a broadcast', () => {
  const note = (personId: string, key: string, value: string) =>
    world.within((scope) =>
      noteFact(world.ctx, scope, personId, { key, value }, { accountId: tess, name: 'Tess Nightjar' }),
    );

  it('stays with it when it is asked again another year, and is taken out with an empty answer', async () => {
    const brings = await field('Brings', 'several-of', ['chair', 'blanket', 'soup']);
    must(await note(people[0]!, brings, 'chair, soup'));
    must(await note(people[1]!, brings, 'soup'));
    const learnt = async () => (await facts())[0]?.answers;
    expect(await learnt()).toEqual([
      { value: 'soup', people: 2 },
      { value: 'chair', people: 1 },
    ]);
    await world.rows(
      `update person set fields = '{}' where workspace_id = :workspace and :at::timestamptz is not null`,
      { at: new Date(world.clock.at) },
    );
    expect(await learnt()).toHaveLength(2);
    const csv = await world.within((scope) => exportFacts(scope, send));
    expect(csv.split('\r\n')[0]).toBe('First name,Last name,Address,Stack,Brings,Noted by,Noted at');
    expect(csv).toContain(`${phone(0)},Iris,"chair, soup",Tess Nightjar,`);
    must(await note(people[0]!, brings, ''));
    expect(await learnt()).toEqual([{ value: 'soup', people: 1 }]);
  });

  it('goes with whom it was learnt of when they are erased', async () => {
    const comes = await field('Comes', 'yes-no', []);
    for (const personId of people) must(await note(personId, comes, 'yes'));
    must(await world.within((scope) => erasePerson(world.ctx, scope, people[0]!, tess)));
    expect((await facts())[0]!.answers).toEqual([{ value: 'yes', people: 1 }]);
    expect(await world.within((scope) => exportFacts(scope, send))).not.toContain(phone(0));
  });

  it('is nothing of who was pressed nothing to', async () => {
    const comes = await field('Comes', 'yes-no', []);
    const [other] = await world.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace and not (id = any(:people::text[]))`,
      { people },
    );
    must(await note(other!.id, comes, 'yes'));
    expect(await facts()).toEqual([]);
  });
});
