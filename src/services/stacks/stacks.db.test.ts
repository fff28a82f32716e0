import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import { addAccount } from '@/services/access/create-workspace';
import { readBox } from '@/services/inbox/screen';
import { workThrough } from '@/services/kit/trouble';
import { createBroadcast } from '@/services/sends/broadcasts';
import { changePace } from '@/services/sends/change-pace';
import { TURNS_QUEUE } from '@/services/sends/give-turns';
import { actOnBroadcast } from '@/services/sends/broadcasts';
import { pauseBroadcast, resumeBroadcast, stopBroadcast } from '@/services/sends/move-broadcast';
import { finishBroadcasts } from '@/services/sends/prepare-broadcast';
import { handSent } from '@/services/testing/by-hand';
import { must, personOf } from '@/services/testing/people';
import { round, Scripted } from '@/services/testing/sending';
import { makeWorld, NOON, phone, type World } from '@/services/testing/world';
import { adapt } from './adapt';
import { deskRequest } from './desk-request';
import type { SplitInput, StackInput } from './inputs';
import { answerFromStack, readTalk } from './guest';
import { inStackOf, openDesk, press, readDesk, returnWhatIsHeld, skip, stackOf } from './press';
import { readStacks } from './screen';
import { actOnStack, splitSend } from './split';
import { sayToTeam } from './words';

let world: World;
let tess: string;
let mira: string;
let send: string;
const ME = { name: 'test', accountId: null };
const teammate = (name: string) =>
  addAccount(world.ctx, world.workspaceId, {
    ...{ name, email: `${name.split(' ')[0]}@example.org`, role: 'teammate' as const },
    password: 'a long enough password',
  });

beforeEach(async () => {
  world = await makeWorld();
  tess = await teammate('Tess Nightjar');
  mira = await teammate('Mira Toft');
});
afterEach(() => world.close());

const byHand = async (people: number, pace: { adapt?: boolean } = {}): Promise<void> => {
  send = await handSent(world, people, pace);
};

const split = (input: SplitInput) =>
  world.within((scope) => splitSend(world.ctx, scope, send, input, { name: tess, accountId: tess }));
const among = (...accounts: string[]) => accounts.map((account) => ({ account }));
const act = (id: string, input: StackInput) =>
  world.within((scope) => actOnStack(world.ctx, scope, id, input, { name: tess, accountId: tess }));
const mine = async (who: string) => (await world.within((scope) => stackOf(scope, send, who)))!.id;
const desk = async (id: string) => (await world.within((scope) => openDesk(world.ctx, scope, id)))!;
const pressing = (id: string, messages: string[]) =>
  world.within((scope) => press(world.ctx, scope, id, { messages })).then(must);
const opened = (key: string) =>
  inStackOf(world.ctx, key, ({ workspaceId }, id) => Promise.resolve({ id, workspaceId }));
const leave = () => round(world, new Scripted());
const counts = async () => (await world.within((scope) => readStacks(scope, send, world.clock.at)))!;

describe('what whoever runs it says', () => {
  const say = (words: string, sendId = send) =>
    world.within((scope) => sayToTeam(world.ctx, scope, sendId, words, { name: tess, accountId: tess }));

  it('stands on every desk until something else is said, or the evening is over', async () => {
    await byHand(2);
    await split({ how: 'evenly', holders: among(tess, mira) });
    const words = async () => (await desk(await mine(mira))).words;
    expect(await words()).toBeNull();
    must(await say('Begin.'));
    must(await say('<b>Soup</b> at eight.'));
    expect(await words()).toEqual({ body: '<b>Soup</b> at eight.', by: 'Tess' });
    world.clock.at += 13 * HOUR;
    expect(await words()).toBeNull();
  });

  it('is refused where it is empty, too long, or of nothing that is pressed', async () => {
    await byHand(1);
    for (const words of [' ', 'x'.repeat(301)])
      expect(await say(words)).toMatchObject({ reason: { problems: [{ field: 'words' }] } });
    expect(await say('Hello', 'brc_none')).toMatchObject({ reason: { code: 'not-found' } });
  });
});

describe('the words of one that is pressed', () => {
  it('are changed by whoever presses it, within what its author allows, and leave as they were changed', async () => {
    await byHand(2, { adapt: true });
    await split({ how: 'evenly', holders: among(tess) });
    const stack = await mine(tess);
    const [one, other] = (await desk(stack)).next;
    const put = (message: string, body: string) =>
      world.within((scope) => adapt(world.ctx, scope, stack, { message, body }));
    must(await put(one!.id, 'Juniper Gap Observatory: {a chair} on Friday? Reply STOP to stop.'));
    expect((await desk(stack)).next[0]!.body).toContain('{a chair} on Friday?');
    for (const [body, words] of [
      ['', 'write something'],
      ['Juniper Gap Observatory: see https://elsewhere.example.org', 'links'],
      ['x '.repeat(290), 'dearer'],
    ] as const)
      expect(JSON.stringify(await put(other!.id, body))).toContain(words);
    await pressing(stack, [one!.id, other!.id]);
    const carrier = new Scripted();
    await round(world, carrier);
    expect(carrier.parts.map(({ body }) => body).join()).toContain('on Friday?');
    // What was pressed is on its way.
    expect(await put(one!.id, 'Juniper Gap Observatory: No?')).toMatchObject({
      reason: { code: 'conflict' },
    });
    const rows = await world.rows<{ adapted: boolean }>(
      `select adapted from stack_row where workspace_id = :workspace order by adapted`,
    );
    expect(rows.map(({ adapted }) => adapted)).toEqual([false, true]);
  });

  it('stay as they are where their author does not allow it, and in a stack of another', async () => {
    await byHand(2);
    await split({ how: 'evenly', holders: among(tess, mira) });
    const [stack, theirs] = [await mine(tess), await mine(mira)];
    const { id } = (await desk(theirs)).next[0]!;
    for (const of of [stack, theirs])
      expect(
        await world.within((scope) => adapt(world.ctx, scope, of, { message: id, body: 'Hello' })),
      ).toMatchObject({ ok: false });
  });
});

describe('a broadcast that is sent by hand', () => {
  it('sends what is pressed, each once, and nothing by itself', async () => {
    await byHand(6);
    await split({ how: 'evenly', holders: among(tess, mira) });
    await workThrough(world.ctx, TURNS_QUEUE);
    expect([await leave(), await finishBroadcasts(world.ctx)]).toEqual([0, 0]);
    const [one, other] = [await mine(tess), await mine(mira)];
    const { next } = await desk(one);
    expect(next).toHaveLength(3);
    expect(next[0]).toMatchObject({ body: expect.stringContaining('chair'), address: phone(0) });
    const ids = next.slice(0, 2).map(({ id }) => id);
    expect((await pressing(one, ids)).pressed.sort()).toEqual([...ids].sort());
    // Again, from the other's stack, and what never was: nothing.
    expect((await pressing(one, ids)).pressed).toEqual([]);
    expect((await pressing(other, [next[2]!.id, 'txt_nobody'])).pressed).toEqual([]);
    expect(await leave()).toBe(2);
    expect((await desk(one)).next.map(({ id }) => id)).toEqual([next[2]!.id]);
    expect((await counts()).stacks.map(({ to_send: left, pressed, sent }) => [left, pressed, sent])).toEqual([
      [1, 2, 2],
      [3, 0, 0],
    ]);
    await pressing(one, [next[2]!.id]);
    await pressing(
      other,
      (await desk(other)).next.map(({ id }) => id),
    );
    expect(await leave()).toBe(4);
    expect(await finishBroadcasts(world.ctx)).toBe(1);
  });

  it('presses of two at the same moment count once', async () => {
    await byHand(4);
    await split({ how: 'evenly', holders: among(tess) });
    const stack = await mine(tess);
    const ids = (await desk(stack)).next.map(({ id }) => id);
    const all = await Promise.all([1, 2, 3].map(() => pressing(stack, ids)));
    expect(all.flatMap(({ pressed }) => pressed).sort()).toEqual([...ids].sort());
    expect(await leave()).toBe(4);
  });

  it('goes to nobody who left between two presses, and says so to whoever presses', async () => {
    await byHand(2);
    await split({ how: 'evenly', holders: among(tess) });
    const stack = await mine(tess);
    const ids = (await desk(stack)).next.map(({ id }) => id);
    await world.texts(phone(0), 'STOP');
    await leave();
    expect((await desk(stack)).next.map(({ address }) => address)).toEqual([phone(1)]);
    expect((await pressing(stack, ids)).pressed).toHaveLength(1);
    expect(await leave()).toBe(1);
  });

  it('waits while it is paused, and is over when it is stopped', async () => {
    await byHand(2);
    await split({ how: 'evenly', holders: among(tess) });
    const stack = await mine(tess);
    const [first, second] = (await desk(stack)).next.map(({ id }) => id) as [string, string];
    const move = (verb: typeof pauseBroadcast) =>
      world.within((scope) => actOnBroadcast(world.ctx, scope, send, verb, ME)).then(must);
    await move(pauseBroadcast);
    expect((await pressing(stack, [first])).pressed).toEqual([]);
    await move(resumeBroadcast);
    expect((await pressing(stack, [first])).pressed).toEqual([first]);
    expect(await leave()).toBe(1);
    await move(stopBroadcast);
    expect((await pressing(stack, [second])).pressed).toEqual([]);
    expect((await desk(stack)).next).toEqual([]);
  });

  it('is pressed days later, and then held at night until the morning, when it is pressed anew', async () => {
    await byHand(1);
    await split({ how: 'evenly', holders: among(tess) });
    const stack = await mine(tess);
    world.clock.at = NOON + 3 * DAY + 12 * HOUR;
    const [row] = (await desk(stack)).next;
    expect((await pressing(stack, [row!.id])).pressed).toEqual([row!.id]);
    expect(await leave()).toBe(0);
    await returnWhatIsHeld(world.ctx);
    expect((await desk(stack)).next).toEqual([]);
    expect((await counts()).stacks[0]).toMatchObject({ to_send: 1, held: 1, pressed: 0 });
    world.clock.at = NOON + 4 * DAY;
    expect((await desk(stack)).next.map(({ id }) => id)).toEqual([row!.id]);
    await pressing(stack, [row!.id]);
    expect(await leave()).toBe(1);
  });

  it('never goes by itself, nor does what goes by itself wait for a hand', async () => {
    await byHand(1);
    const change = (pace: object | null) =>
      world.within((scope) => changePace(world.ctx, scope, send, { pace }, ME));
    expect(await change(null)).toMatchObject({ reason: { code: 'conflict' } });
    expect(await leave()).toBe(0);
  });
});

describe('a stack', () => {
  it('is split by what is said, and as they come each takes what is next', async () => {
    await byHand(5);
    must(
      await split({
        how: 'counts',
        holders: [
          { account: tess, count: 1 },
          { account: mira, count: 2 },
        ],
      }),
    );
    expect([(await desk(await mine(tess))).next.length, (await desk(await mine(mira))).next.length]).toEqual([
      1, 2,
    ]);
    expect((await counts()).loose).toBe(2);
    must(await split({ how: 'as-they-come', holders: among(tess) }));
    expect((await desk(await mine(tess))).next).toHaveLength(3);
    expect((await counts()).loose).toBe(0);
  });

  it('takes nobody by being read, and the next ones when that is asked', async () => {
    await byHand(3);
    must(await split({ how: 'as-they-come', holders: among(tess) }));
    const stack = await mine(tess);
    const read = () => world.within((scope) => readDesk(world.ctx, scope, stack));
    expect((await read())!.next).toEqual([]);
    expect(await counts()).toMatchObject({ loose: 3, stacks: [{ heard_at: null }] });
    expect(must(await act(stack, { verb: 'take' }))).toMatchObject({ moved: 3 });
    expect((await read())!.next).toHaveLength(3);
    must(await act(stack, { verb: 'end' }));
    expect(await act(stack, { verb: 'take' })).toMatchObject({ reason: { problems: [{ field: 'verb' }] } });
  });

  it('is moved with what is left, ended, and what was pressed stays where it was', async () => {
    await byHand(4);
    must(await split({ how: 'evenly', holders: among(tess, mira) }));
    const [one, other] = [await mine(tess), await mine(mira)];
    await pressing(one, [(await desk(one)).next[0]!.id]);
    expect(must(await act(one, { verb: 'move', to: other }))).toMatchObject({ moved: 1 });
    expect((await desk(other)).next).toHaveLength(3);
    must(await act(other, { verb: 'end' }));
    expect(await world.within((scope) => openDesk(world.ctx, scope, other))).toBeNull();
    expect(await counts()).toMatchObject({ loose: 3, stacks: [{ pressed: 1, to_send: 0 }, { to_send: 0 }] });
    expect(await act(one, { verb: 'move', to: other })).toMatchObject({
      reason: { problems: [{ field: 'to' }] },
    });
  });

  it('passes over for good, with why', async () => {
    await byHand(1);
    await split({ how: 'evenly', holders: among(tess) });
    const stack = await mine(tess);
    const [row] = (await desk(stack)).next;
    const pass = () =>
      world.within((scope) => skip(world.ctx, scope, stack, { message: row!.id, why: 'I call them' }));
    must(await pass());
    expect(await pass()).toMatchObject({ reason: { code: 'conflict' } });
    expect((await pressing(stack, [row!.id])).pressed).toEqual([]);
    expect(await leave()).toBe(0);
    expect((await counts()).stacks[0]).toMatchObject({ skipped: 1, to_send: 0 });
    expect(await finishBroadcasts(world.ctx)).toBe(1);
  });

  it.each<[string, SplitInput, string]>([
    ['nobody known', { how: 'evenly', holders: [{ account: 'acc_gone' }] }, 'holders.0.account'],
    ['nobody at all', { how: 'evenly', holders: [{}] }, 'holders.0.guest'],
    ['both at once', { how: 'evenly', holders: [{ account: 'x', guest: 'Iris' }] }, 'holders.0.guest'],
  ])('is refused to %s', async (_, input, field) => {
    await byHand(1);
    expect(await split(input)).toMatchObject({ ok: false, reason: { problems: [{ field }] } });
  });

  it('belongs to a broadcast that is sent by hand', async () => {
    await byHand(1);
    send = must(
      await world.within((scope) =>
        createBroadcast(world.ctx, scope, { program: 'Clear Sky Alerts', name: 'B', body: 'Hi.' }, ME),
      ),
    ).id;
    expect(await split({ how: 'evenly', holders: among(tess) })).toMatchObject({
      reason: { code: 'conflict' },
    });
    expect(await world.within((scope) => readStacks(scope, send, world.clock.at))).toBeNull();
  });

  it('gives whoever pressed the conversation', async () => {
    await byHand(2);
    await split({ how: 'evenly', holders: among(tess, mira) });
    for (const who of [tess, mira])
      await pressing(
        await mine(who),
        (await desk(await mine(who))).next.map(({ id }) => id),
      );
    await leave();
    await world.texts(phone(0), 'Yes please!');
    const { rows } = await world.within((scope) =>
      readBox(scope, { box: 'mine', filters: {}, accountId: tess, now: world.clock.at }),
    );
    expect(rows.map(({ id }) => id)).toEqual([await personOf(world, phone(0))]);
    expect((await desk(await mine(tess))).replies).toMatchObject([{ words: 'Yes please!' }]);
    expect((await desk(await mine(mira))).replies).toEqual([]);
    expect((await counts()).stacks.map(({ replied, waiting }) => [replied, waiting])).toEqual([
      [1, 1],
      [0, 0],
    ]);
  });
});

describe('a guest', () => {
  const invite = async (more: object = {}) => {
    const [one] = must(await split({ how: 'evenly', holders: [{ guest: 'Iris', ...more }] }));
    return { id: one!.stack.id, key: one!.url!.split('/').at(-1)! };
  };

  it('opens their own stack by a link until it ends, and sees first names alone', async () => {
    await byHand(2);
    await world.rows(
      `update person set first_name = 'Ana', last_name = 'Ironwood' where workspace_id = :workspace returning id`,
    );
    const { id, key } = await invite({ hours: 2 });
    expect(await opened(key)).toEqual({ id, workspaceId: world.workspaceId });
    expect((await desk(id)).next[0]).toMatchObject({ name: 'Ana', address: null });
    expect(await opened(`${key}x`)).toBeNull();
    world.clock.at += 2 * HOUR + MINUTE;
    expect(await opened(key)).toBeNull();
    const { url } = must(await act(id, { verb: 'link' }));
    expect(await opened(url!.split('/').at(-1)!)).not.toBeNull();
    must(await act(id, { verb: 'end' }));
    expect(await opened(url!.split('/').at(-1)!)).toBeNull();
  });

  it('sees numbers where that was allowed', async () => {
    await byHand(1);
    const { id } = await invite({ sees_numbers: true });
    expect((await desk(id)).next[0]).toMatchObject({ address: phone(0) });
  });

  it('reads and answers those of their stack since they pressed, and nobody else', async () => {
    await world.texts(phone(0), 'Something private');
    await byHand(2);
    world.clock.at += MINUTE;
    const { id } = await invite();
    const [first] = (await desk(id)).next;
    const talk = (personId: string) =>
      world.within((scope) => readTalk(world.ctx, scope, { stackId: id, personId }));
    const answer = (personId: string) =>
      world.within((scope) =>
        answerFromStack(world.ctx, scope, { stackId: id, personId }, { body: 'At eight.' }),
      );
    expect([await talk(first!.personId), (await answer(first!.personId)).ok]).toEqual([null, false]);
    await pressing(id, [first!.id]);
    await leave();
    world.clock.at += MINUTE;
    await world.texts(phone(0), 'When?');
    expect((await talk(first!.personId))!.talk.map(({ body }) => body)).toEqual([
      expect.stringContaining('chair'),
      'When?',
    ]);
    must(await answer(first!.personId));
    expect(
      await world.rows(
        `select actor from audit_entry where workspace_id = :workspace and action = 'answer.from-stack'`,
      ),
    ).toEqual([{ actor: 'Iris' }]);
    expect(await leave()).toBe(1);
    expect((await desk(id)).replies).toEqual([]);
  });

  it('asks by what a page sends, whatever that is', async () => {
    await byHand(1);
    const { id } = await invite();
    const ask = (body: Record<string, string>) =>
      world.within((scope) => deskRequest(world.ctx, scope, id, body));
    const nonsense: Record<string, string>[] = [
      {},
      { act: 'end' },
      { act: 'press' },
      { act: 'press', messages: '{"a":1}' },
      { act: 'press', messages: JSON.stringify(Array(51).fill('x')) },
      { act: 'skip', message: 'x', why: '' },
      { act: 'talk', person: "' or 1=1" },
      { act: 'answer', person: 'x', body: 'x'.repeat(9_000) },
    ];
    for (const body of nonsense) expect((await ask(body)).ok).toBe(false);
    expect((await ask({ act: 'look' })).ok).toBe(true);
  });
});
