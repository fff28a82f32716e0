import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import type { Box } from '@/core/inbox/waiting';
import type { OwnFieldKind } from '@/core/audience/fields';
import { addAccount } from '@/services/access/create-workspace';
import { changeDuty } from '@/services/inquiries/duty';
import { addField } from '@/services/audience/own-fields';
import { follow } from '@/services/kit/happenings';
import { erasePeople } from '@/services/people/erase-person';
import { mergePeople } from '@/services/people/merge-people';
import { undoMerge } from '@/services/people/undo-merge';
import { editPerson } from '@/services/people/edit-person';
import { createTemplate } from '@/services/templates/templates';
import { must, personOf } from '@/services/testing/people';
import { round, Scripted } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { readToday } from '@/services/today/screen';
import { actOnThread, answerBy, changeReplies } from './act-on-thread';
import { answerThread, closeThread } from './answer-thread';
import { fillInWhy, THREADS_FOLLOW } from './follow-threads';
import type { ThreadInput } from './inputs';
import { noticesFor } from './notices';
import { findThreads, nextThread, readBox, readReplies, readThreadLog, readThreadSide } from './screen';
import { handOver, noteOnThread, removeNote, takeAnswerBack, tellWhoComesBack } from './whose';

let world: World;
let tess: string;
let mira: string;
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

const actor = (accountId: string) => ({ name: accountId, accountId });

/** They write, and what follows is done. Gives whose thread it is. */
async function writes(i: number, ...bodies: string[]): Promise<string> {
  for (const body of bodies) await world.texts(phone(i), body);
  await settled();
  return personOf(world, phone(i));
}

const settled = async () => {
  while ((await follow(world.ctx, THREADS_FOLLOW)) > 0);
};

const box = (name: Box = 'team', who = tess, filters = {}) =>
  world.within((scope) => readBox(scope, { box: name, filters, accountId: who, now: world.clock.at }));
const inBox = async (name: Box = 'team', who = tess, filters = {}) =>
  (await box(name, who, filters)).rows.map(({ id, why }) => [id, why]);

const act = (id: string, input: ThreadInput, who = tess) =>
  world.within((scope) => actOnThread(world.ctx, scope, id, input, actor(who)));
const side = (id: string, who = tess) =>
  world.within((scope) => readThreadSide(scope, id, who, world.clock.at));
const answer = (id: string, body: string, who = tess, more = {}) =>
  world.within((scope) => answerThread(world.ctx, scope, id, body, who, more));
const noticed = (who: string) =>
  world.within(async (scope) =>
    (await noticesFor(scope, who)).map(({ kind, person_id: id, words }) => [kind, id, words]),
  );
const iso = (at: number) => new Date(at).toISOString();

describe('the inbox', () => {
  it('shows who should be answered first: by why, and by since when', async () => {
    const thanks = await writes(1, 'sky', 'Thank you!');
    world.clock.at += 10 * MINUTE;
    const asks = await writes(2, 'sky', 'How late is it open?');
    world.clock.at += 10 * MINUTE;
    const near = await writes(3, 'ksy');
    const doubt = await writes(4, 'sky', 'this is spam');
    // A plain reply may wait an hour, a question half of one, a doubt not at all.
    expect(await inBox()).toEqual([
      [doubt, 'opt-out'],
      [asks, 'asks'],
      [near, 'near-miss'],
      [thanks, 'reply'],
    ]);
    const { rows, counts } = await box();
    expect(rows.map(({ by_at: by, since }) => (by.getTime() - since.getTime()) / MINUTE)).toEqual([
      0, 30, 30, 60,
    ]);
    expect(counts).toEqual({ mine: 0, nobody: 4, team: 4, later: 0, over: 1 });
    world.clock.at += 2 * HOUR;
    expect((await box()).counts.over).toBe(4);
    // However long the others wait.
    const late = await writes(5, 'sky', 'this is spam');
    expect((await inBox()).slice(0, 3)).toEqual([
      [doubt, 'opt-out'],
      [late, 'opt-out'],
      [asks, 'asks'],
    ]);
  });

  it('finds out why whoever waits does of whom nothing is known', async () => {
    const asks = await writes(1, 'sky', 'Is it open?');
    const plain = await writes(2, 'sky', 'Hello');
    await world.rows(`delete from thread where workspace_id = :workspace returning person_id`);
    expect((await inBox()).map(([, why]) => why)).toEqual(['reply', 'reply']);
    expect(await fillInWhy(world.ctx)).toBe(2);
    expect(await fillInWhy(world.ctx)).toBe(0);
    expect(await inBox()).toEqual([
      [asks, 'asks'],
      [plain, 'reply'],
    ]);
  });

  it('takes the more urgent of what came, and a question stays one after a thank you', async () => {
    const id = await writes(1, 'sky', 'Is it open?', 'Thanks!');
    expect(await inBox()).toEqual([[id, 'asks']]);
    must(await answer(id, 'It is.'));
    expect(await inBox()).toEqual([]);
    await writes(1, 'Great.');
    expect(await inBox()).toEqual([[id, 'reply']]);
  });

  it('says nothing of a STOP or a keyword, and nothing waits after one', async () => {
    await writes(1, 'sky', 'Is it open?', 'STOP');
    await writes(2, 'sky');
    expect(await inBox()).toEqual([]);
  });

  it('says that an answer by hand did not arrive', async () => {
    const id = await writes(1, 'sky', 'Hello there');
    await round(world, new Scripted());
    must(await answer(id, 'Hello.'));
    expect(await inBox()).toEqual([]);
    await round(world, new Scripted([{ kind: 'refused', reason: 'refused', status: 0x45 }]));
    await settled();
    expect(await inBox()).toEqual([[id, 'not-reached']]);
  });

  it('is narrowed down by why, channel, number and program, and pages hold each once', async () => {
    const asks = await writes(1, 'sky', 'Is it open?');
    const plain = await writes(2, 'sky', 'Hello');
    expect(await inBox('team', tess, { why: 'asks' })).toEqual([[asks, 'asks']]);
    expect(await inBox('team', tess, { channel: 'email' })).toEqual([]);
    expect((await inBox('team', tess, { channel: 'sms' })).map(([id]) => id)).toEqual([asks, plain]);
    expect(await inBox('team', tess, { sender: 'nobody' })).toEqual([]);
    expect(await inBox('team', tess, { source: 'nowhere' })).toEqual([]);
  });

  it('keeps one workspace from another', async () => {
    await writes(1, 'sky', 'Is it open?');
    const { id: other } = await world.another();
    const look = { box: 'team' as const, filters: {}, accountId: tess, now: world.clock.at };
    const { rows, counts } = await world.within((scope) => readBox(scope, look), other);
    expect([rows, counts.team]).toEqual([[], 0]);
    expect(await world.within((scope) => findThreads(scope, 'open'), other)).toEqual([]);
  });
});

describe('whose a thread is', () => {
  it('is whose the person is, until it is given to somebody, who is told', async () => {
    const id = await writes(1, 'sky', 'Is it open?');
    await world.within((scope) => editPerson(world.ctx, scope, id, 'owner', mira, 'test'));
    expect(await inBox('mine', mira)).toEqual([[id, 'asks']]);
    must(await act(id, { verb: 'give', account: tess }, mira));
    expect([await inBox('mine', mira), await inBox('mine', tess)]).toEqual([[], [[id, 'asks']]]);
    expect(await noticed(tess)).toEqual([['thread.given', id, null]]);
    must(await act(id, { verb: 'give' }));
    expect(await inBox('mine', mira)).toEqual([[id, 'asks']]);
  });

  it('is refused to whoever is no teammate here', async () => {
    const id = await writes(1, 'sky', 'Hello');
    expect(await act(id, { verb: 'give', account: 'acc_gone' })).toMatchObject({
      reason: { problems: [{ field: 'account' }] },
    });
    expect(await act('per_gone', { verb: 'give', account: tess })).toMatchObject({
      reason: { code: 'not-found' },
    });
  });

  it('is given by rule, in turn or by load, to who takes part; what is somebody’s stays theirs', async () => {
    const kept = await writes(9, 'sky', 'Mine already?');
    must(await act(kept, { verb: 'give', account: mira }));
    must(
      await world.within((scope) =>
        changeReplies(world.ctx, scope, { minutes: 15, by: 'turn', among: [tess, mira] }, actor(tess)),
      ),
    );
    for (let i = 1; i <= 4; i++) {
      world.clock.at += 1_000;
      await writes(i, 'sky', 'Is it open?');
    }
    const { counts } = await box();
    expect([counts.mine, counts.nobody, (await box('mine', mira)).rows.length]).toEqual([2, 0, 3]);
    must(
      await world.within((scope) =>
        changeReplies(world.ctx, scope, { minutes: 15, by: 'load', among: [tess, mira] }, actor(tess)),
      ),
    );
    await writes(5, 'sky', 'And now?');
    expect((await box('mine')).rows).toHaveLength(3);
    await writes(9, 'Still mine?');
    expect((await box('mine', mira)).rows.map(({ id }) => id)).toContain(kept);
    expect(
      await world.within((scope) =>
        changeReplies(world.ctx, scope, { minutes: 15, by: 'load', among: ['acc_gone'] }, actor(tess)),
      ),
    ).toMatchObject({ reason: { problems: [{ field: 'among' }] } });
  });

  it('is given by its number or its program before anybody has their turn', async () => {
    const [{ id: program }] = (await world.rows<{ id: string }>(
      `select id from program where workspace_id = :workspace and name = 'Clear Sky Alerts'`,
    )) as [{ id: string }];
    const [{ id: number }] = (await world.rows<{ id: string }>(
      `select sender_id as id from program_sender where workspace_id = :workspace and program_id = :program order by sender_id limit 1`,
      { program },
    )) as [{ id: string }];
    const rule = (whose: Record<string, string>) =>
      world.within((scope) => changeReplies(world.ctx, scope, { minutes: 15, whose }, actor(tess)));
    must(await rule({ [program]: mira }));
    const asks = async (i: number) => {
      await writes(i, 'sky');
      // They answer what the program wrote.
      await round(world, new Scripted());
      return writes(i, 'Is it open?');
    };
    const first = await asks(1);
    expect((await box('mine', mira)).rows.map(({ id }) => id)).toEqual([first]);
    // The number is narrower.
    must(await rule({ [program]: mira, [number]: tess }));
    const second = await asks(2);
    expect((await box('mine', tess)).rows.map(({ id }) => id)).toEqual([second]);
    // With nobody named, and nobody taking part, it stays nobody's.
    must(await rule({}));
    await asks(3);
    expect((await box()).counts.nobody).toBe(1);
    for (const whose of [{ prg_gone: mira }, { [program]: 'acc_gone' }])
      expect(await rule(whose)).toMatchObject({ reason: { problems: [{ field: 'whose' }] } });
  });

  it('is handed over by whoever goes away: what waits, and what was put off', async () => {
    const [waits, later, done, theirs] = [
      await writes(1, 'sky', 'Hello'),
      await writes(2, 'sky', 'Hello'),
      await writes(3, 'sky', 'Hello'),
      await writes(4, 'sky', 'Hello'),
    ];
    for (const id of [waits, later, done]) must(await act(id, { verb: 'give', account: tess }));
    must(await act(theirs, { verb: 'give', account: mira }));
    must(await act(later, { verb: 'later', until: iso(world.clock.at + DAY) }));
    must(await act(done, { verb: 'done' }));
    const over = (to: string) =>
      world.within((scope) => handOver(world.ctx, scope, { from: tess, to }, actor(tess)));
    expect(must(await over(mira))).toEqual({ threads: 2 });
    expect((await inBox('mine', mira)).map(([id]) => id).sort()).toEqual([waits, theirs].sort());
    expect((await side(later)).accountId).toBe(mira);
    expect((await side(done)).accountId).toBe(tess);
    for (const to of [tess, 'acc_gone']) expect(await over(to)).toMatchObject({ ok: false });
  });

  it('is told by e-mail and by text to who wants that, one of each however many there are', async () => {
    const [one, two] = [await writes(1, 'sky', 'Hello'), await writes(2, 'sky', 'Is it open?')];
    await writes(50, 'sky');
    await world.rows(
      `insert into own_number (workspace_id, account_id, number, proved_at) values (:workspace, :mira, :number, :at) returning account_id`,
      { mira, number: phone(50), at: new Date(world.clock.at) },
    );
    const letters = () =>
      world.rows<{ subject: string; body: string }>(
        `select subject, body from teammate_mail where workspace_id = :workspace and account_id = :mira order by id`,
        { mira },
      );
    const texts = () =>
      world.rows<{ address: string; body: string }>(
        `select address, body from message where workspace_id = :workspace and kind = 'told' order by created_at, id`,
      );
    must(await act(one, { verb: 'give', account: mira }));
    expect([await letters(), await texts()]).toEqual([[], []]);
    await world.within((scope) =>
      changeDuty(world.ctx, scope, mira, { hours: [], mail_threads: true, text_threads: true }, actor(tess)),
    );
    must(await world.within((scope) => noteOnThread(world.ctx, scope, one, 'Ask @Mira Toft', actor(tess))));
    const [note] = await letters();
    expect(note!.subject).toBe('Somebody: a note calls you');
    expect(note!.body).toContain('Ask @Mira Toft');
    // What teammates say among themselves is in no text.
    const [text] = await texts();
    expect(text).toMatchObject({ address: phone(50) });
    expect(text!.body).toMatch(/^Somebody: a note calls you\. http\S+\/inbox\/per_\w+$/);
    for (const id of [one, two]) must(await act(id, { verb: 'give', account: tess }));
    const over = { from: tess, to: mira };
    must(await world.within((scope) => handOver(world.ctx, scope, over, actor(tess))));
    expect((await letters()).map(({ subject }) => subject).slice(1)).toEqual(['2 threads']);
    expect((await texts()).slice(1)).toHaveLength(1);
    expect((await noticed(mira)).map(([kind]) => kind)).toContain('thread.given');
  });

  it('goes with whoever is merged, and is gone with whoever is erased', async () => {
    const [kept, gone] = [await writes(1, 'sky', 'Hello'), await writes(2, 'sky', 'Is it open?')];
    must(await world.within((scope) => noteOnThread(world.ctx, scope, gone, 'Knows the way.', actor(tess))));
    must(await act(gone, { verb: 'give', account: mira }));
    const merge = must(
      await world.within((scope) => mergePeople(world.ctx, scope, kept, gone, {}, actor(tess))),
    );
    expect(await side(kept)).toMatchObject({ accountId: mira, notes: [{ body: 'Knows the way.' }] });
    must(await world.within((scope) => undoMerge(world.ctx, scope, merge.mergeId, 'test')));
    expect([(await side(kept)).notes, (await side(gone)).notes.length]).toEqual([[], 1]);
    await world.within((scope) => erasePeople(world.ctx, scope, [gone], 'test'));
    expect(await world.rows(`select 1 from thread_note where workspace_id = :workspace`)).toEqual([]);
    expect(await world.within((scope) => findThreads(scope, 'way'))).toEqual([]);
  });
});

describe('a thread that is put off', () => {
  const tomorrow = () => iso(world.clock.at + DAY);

  it('is out of the way until its time, and then back, told to whose it is', async () => {
    const id = await writes(1, 'sky', 'Is it open in June?');
    must(await act(id, { verb: 'give', account: mira }));
    must(await act(id, { verb: 'later', until: tomorrow() }));
    expect([await inBox(), await inBox('later')]).toEqual([[], [[id, 'later']]]);
    expect(await tellWhoComesBack(world.ctx)).toBe(0);
    world.clock.at += DAY;
    expect(await tellWhoComesBack(world.ctx)).toBe(1);
    expect(await tellWhoComesBack(world.ctx)).toBe(0);
    expect([await inBox(), await inBox('later')]).toEqual([[[id, 'asks']], []]);
    expect((await noticed(mira)).map(([kind]) => kind)).toContain('thread.back');
    // It waits since it is back, and is not over at once for having been put off.
    expect((await box()).counts.over).toBe(0);
  });

  it('is not on Today either, where callers and near misses stand together and are counted with the others', async () => {
    const [off, asks] = [
      await writes(1, 'sky', 'Is it open in June?'),
      await writes(2, 'sky', 'And in May?'),
    ];
    await writes(3, 'ksy');
    must(await act(off, { verb: 'later', until: tomorrow() }));
    const { threads, waiting } = await world.within((scope) =>
      readToday(scope, world.clock.at, 'America/Denver', tess),
    );
    expect([threads.map(({ id, why }) => [id, why]), waiting]).toEqual([
      [[asks, 'asks']],
      (await box()).counts,
    ]);
    expect(waiting).toMatchObject({ team: 2, later: 1 });
  });

  it('is back at once when they write, or when it is taken up', async () => {
    const id = await writes(1, 'sky', 'In June?');
    must(await act(id, { verb: 'later', until: tomorrow() }));
    world.clock.at += MINUTE;
    await writes(1, 'Or in July?');
    expect([await inBox(), await inBox('later')]).toEqual([[[id, 'asks']], []]);
    must(await act(id, { verb: 'later', until: tomorrow() }));
    expect(await inBox()).toEqual([]);
    must(await act(id, { verb: 'take-up' }));
    expect([(await inBox()).map(([one]) => one), await inBox('later')]).toEqual([[id], []]);
  });

  it('is back where they have not answered, and not where they have', async () => {
    const [silent, talks] = [await writes(1, 'sky', 'Hello'), await writes(2, 'sky', 'Hello')];
    for (const id of [silent, talks])
      must(await answer(id, 'Shall we book you in?', tess, { backAt: world.clock.at + 2 * DAY }));
    expect([await inBox(), (await inBox('later')).length]).toEqual([[], 2]);
    world.clock.at += HOUR;
    await writes(2, 'Yes please');
    must(await world.within((scope) => closeThread(world.ctx, scope, talks, tess)));
    world.clock.at += 3 * DAY;
    expect(await inBox()).toEqual([[silent, 'no-answer']]);
  });

  it.each(['', iso(Date.UTC(2020, 0, 1)), iso(Date.UTC(2099, 0, 1))])(
    'is refused until %j',
    async (until) => {
      const id = await writes(1, 'sky', 'Hello');
      expect(await act(id, { verb: 'later', until })).toMatchObject({
        reason: { problems: [{ field: 'until' }] },
      });
    },
  );

  it('is refused while a reply may be an opt-out: that is decided first', async () => {
    const id = await writes(1, 'sky', 'this is spam');
    expect(await act(id, { verb: 'later', until: tomorrow() })).toMatchObject({
      reason: { code: 'conflict' },
    });
  });
});

describe('an answer', () => {
  it('is taken back before it leaves, and the thread waits as it did', async () => {
    const id = await writes(1, 'sky', 'Is it open?');
    await round(world, new Scripted());
    const since = (await box()).rows[0]!.since;
    world.clock.at += MINUTE;
    const { messageId } = must(await answer(id, 'It is.', tess, { leavesAt: world.clock.at + 5_000 }));
    expect((await side(id)).onItsWay).toMatchObject({ id: messageId, body: 'It is.' });
    expect((await side(id, mira)).onItsWay).toBeNull();
    must(await world.within((scope) => takeAnswerBack(world.ctx, scope, messageId, actor(tess))));
    expect((await box()).rows).toMatchObject([{ id, why: 'asks', since }]);
    world.clock.at += MINUTE;
    expect(await round(world, new Scripted())).toBe(0);
    expect(
      await world.within((scope) => takeAnswerBack(world.ctx, scope, messageId, actor(tess))),
    ).toMatchObject({ reason: { code: 'conflict' } });
  });

  it('that has left cannot be taken back', async () => {
    const id = await writes(1, 'sky', 'Is it open?');
    const { messageId } = must(await answer(id, 'It is.', tess, { leavesAt: world.clock.at + 5_000 }));
    world.clock.at += 6_000;
    await round(world, new Scripted());
    expect(
      await world.within((scope) => takeAnswerBack(world.ctx, scope, messageId, actor(tess))),
    ).toMatchObject({ reason: { code: 'conflict' } });
  });

  it('goes later where that is wanted, and not on a guess', async () => {
    const id = await writes(1, 'sky', 'Is it open?');
    await round(world, new Scripted());
    const later = (at: string) =>
      world.within((scope) => answerBy(world.ctx, scope, id, { body: 'It is.', at }, actor(tess)));
    expect(await later(iso(world.clock.at + 400 * DAY))).toMatchObject({
      reason: { problems: [{ field: 'at' }] },
    });
    must(await later(iso(world.clock.at + HOUR)));
    expect(await round(world, new Scripted())).toBe(0);
    world.clock.at += HOUR;
    expect(await round(world, new Scripted())).toBe(1);
  });

  it('of two who write at once stops the second, until they have read the first', async () => {
    const id = await writes(1, 'sky', 'Is it open?');
    const seenAt = world.clock.at;
    world.clock.at += MINUTE;
    must(await answer(id, 'It is.', tess, { seenAt }));
    expect(await answer(id, 'No, it is not.', mira, { seenAt })).toMatchObject({
      ok: false,
      reason: { code: 'conflict', problems: [{ message: expect.stringContaining('Tess Nightjar') }] },
    });
    world.clock.at += MINUTE;
    must(await answer(id, 'Until ten.', mira, { seenAt: world.clock.at }));
    // One’s own answer before stops nobody.
    must(await answer(id, 'And on Sunday.', mira, { seenAt: world.clock.at - 1 }));
  });

  it('is counted: by whom, how soon, in time, at what hour', async () => {
    const [soon, late, closed] = [
      await writes(1, 'sky', 'Is it open?'),
      await writes(2, 'sky', 'Hello?'),
      await writes(3, 'sky', 'Hello'),
    ];
    world.clock.at += 10 * MINUTE;
    must(await answer(soon, 'It is.'));
    world.clock.at += 50 * MINUTE;
    must(await answer(late, 'Hello.', mira));
    must(await world.within((scope) => closeThread(world.ctx, scope, closed, tess)));
    // Nobody waits any more: what is said besides counts for nothing.
    must(await answer(soon, 'Until ten.'));
    const { speed, hours } = await world.within((scope) => readReplies(scope, world.clock.at));
    expect(speed).toEqual([
      expect.objectContaining({ account_id: mira, answered: 1, closed: 0, median: HOUR, in_time: 0 }),
      expect.objectContaining({ account_id: tess, answered: 1, closed: 1, median: 10 * MINUTE, in_time: 1 }),
    ]);
    expect(hours).toEqual([{ hour: 12, answered: 2, median: 35 * MINUTE }]);
    expect((await inBox('done')).map(([id]) => id).sort()).toEqual([soon, late, closed].sort());
  });

  it('that was prepared is proposed for words like those it answered', async () => {
    const template = must(
      await world.within((scope) =>
        createTemplate(
          world.ctx,
          scope,
          { name: 'Price', body: 'Nine dollars.', question: 'What does it cost?' },
          actor(tess),
        ),
      ),
    );
    const first = await writes(1, 'sky', 'Are there tickets for children?');
    expect((await side(first)).suggested).toEqual([]);
    must(await answer(first, 'Nine dollars.', tess, { preparedId: template.id }));
    const second = await writes(2, 'sky', 'tickets for two children');
    expect((await side(second)).suggested).toMatchObject([
      { id: template.id, body: 'Nine dollars.', because: expect.arrayContaining(['tickets', 'children']) },
    ]);
    expect((await side(await writes(3, 'sky', 'Zebra!'))).suggested).toEqual([]);
  });
});

describe('a note', () => {
  it('is for teammates alone, and tells whom it calls', async () => {
    const id = await writes(1, 'sky', 'Hello');
    const note = (words: string) =>
      world.within((scope) => noteOnThread(world.ctx, scope, id, words, actor(tess)));
    const kept = must(await note('<b>Ask</b> @mira, she knows'));
    expect(await noticed(mira)).toEqual([['note.called', id, '<b>Ask</b> @mira, she knows']]);
    expect((await side(id)).notes).toMatchObject([
      { account: 'Tess Nightjar', body: '<b>Ask</b> @mira, she knows' },
    ]);
    expect(await note(' ')).toMatchObject({ reason: { problems: [{ field: 'note' }] } });
    expect(await note('x'.repeat(4_001))).toMatchObject({ reason: { problems: [{ field: 'note' }] } });
    const remove = (who: string) =>
      world.within((scope) => removeNote(world.ctx, scope, kept.id, actor(who)));
    expect(await remove(mira)).toMatchObject({ reason: { code: 'not-found' } });
    must(await remove(tess));
    expect(
      await world.rows(`select 1 from message where workspace_id = :workspace and body like '%Ask%'`),
    ).toEqual([]);
  });
});

describe('words', () => {
  it('are found in what they wrote, in answers and in notes, each person once, the newest place', async () => {
    const id = await writes(1, 'sky', 'Is there parking for a bus?');
    await writes(2, 'sky', 'Hello');
    const find = async (words: string) =>
      (await world.within((scope) => findThreads(scope, words))).map(({ id: who, by }) => [who, by]);
    expect(await find('PARKING')).toEqual([[id, 'them']]);
    expect(await find('"a bus"')).toEqual([[id, 'them']]);
    expect(await find('parking -bus')).toEqual([]);
    world.clock.at += MINUTE;
    must(await answer(id, 'Parking is behind the dome.'));
    expect(await find('parking')).toEqual([[id, 'us']]);
    world.clock.at += MINUTE;
    must(await world.within((scope) => noteOnThread(world.ctx, scope, id, 'Parking paid.', actor(tess))));
    expect(await find('parking')).toEqual([[id, 'note']]);
    for (const nonsense of ['', '   ', '"', "' or 1=1", '\u0000', 'x'.repeat(5_000), '🔭'])
      expect(await find(nonsense)).toEqual([]);
  });
});

it('the next thread is one’s own first, then the team’s, and never the same', async () => {
  const [first, second] = [await writes(1, 'sky', 'Is it open?'), await writes(2, 'sky', 'Is it open?')];
  const next = (id: string) =>
    world.within(async (scope) => (await nextThread(scope, id, mira, world.clock.at))?.id ?? null);
  expect([await next(first), await next(second)]).toEqual([second, first]);
  must(await act(second, { verb: 'give', account: mira }));
  expect(await next(first)).toBe(second);
  must(await world.within((scope) => closeThread(world.ctx, scope, second, tess)));
  expect(await next(first)).toBeNull();
});

it('a thread says what changed beside messages, an act for many programs in one line', async () => {
  const id = await writes(1, 'sky', 'STOP');
  const log = await world.within((scope) => readThreadLog(scope, id));
  expect(log.map(({ words }) => words.split(' (')[0])).toEqual(
    expect.arrayContaining(['opted in to Clear Sky Alerts', 'opted out of Clear Sky Alerts']),
  );
});

it('what is asked of teammates stands beside a thread, and what they learn on the person', async () => {
  const id = await writes(1, 'sky', 'We are coming.');
  const field = async (label: string, kind: OwnFieldKind, noted: boolean, options: string[] = []) =>
    must(await world.within((scope) => addField(world.ctx, scope, { label, kind, noted, options }, 'test')));
  await field('Brings children', 'yes-no', true);
  await field('Shoe size', 'number', false);
  const { key } = await field('Comes by', 'one-of', true, ['car', 'bus']);
  expect((await side(id)).facts.map(({ label, known }) => [label, known])).toEqual([
    ['Brings children', null],
    ['Comes by', null],
  ]);
  must(await world.within((scope) => editPerson(world.ctx, scope, id, `own.${key}`, 'bus', tess)));
  expect((await side(id)).facts.map(({ known }) => known)).toEqual([null, 'bus']);
  expect(
    await world.within((scope) => editPerson(world.ctx, scope, id, `own.${key}`, 'ship', tess)),
  ).toMatchObject({ ok: false });
  // An address that somebody typed names nobody: nothing is known, and nothing breaks.
  expect((await side('🐞')).facts.map(({ known }) => known)).toEqual([null, null]);
});
