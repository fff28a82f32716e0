import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR, SECOND } from '@/core/shared/instant';
import { addAccount } from '@/services/access/create-workspace';
import { follow } from '@/services/kit/happenings';
import { workThrough } from '@/services/kit/trouble';
import { must } from '@/services/testing/people';
import { round, Scripted } from '@/services/testing/sending';
import { line, says, SequenceDesk } from '@/services/testing/sequences';
import { makeWorld, type World } from '@/services/testing/world';
import { SEQUENCES_FOLLOW } from './follow';
import { readSequenceResult } from './results';
import { askForProof, giveProof, readOwnNumber } from './own-number';
import { TRIAL_QUEUE } from './run-trial';
import { endTrialOf, readTrial, startTrial } from './trials';
import { createSequence } from './sequences';

let the: World;
const world = () => the;
const desk = new SequenceDesk(world);
const NUMBER = '+13035550147';
let me: { name: string; accountId: string };

beforeEach(async () => {
  the = await makeWorld();
  const { ctx, workspaceId } = world();
  const accountId = await addAccount(ctx, workspaceId, {
    ...{ email: 'tova@example.org', name: 'Tova Lindqvist', password: 'a long password', role: 'manager' },
  });
  me = { name: accountId, accountId };
});

afterEach(() => the.close());

const texts = () =>
  world().rows<{ id: string; body: string; state: string; address: string; send_id: string | null }>(
    `select id, body, state, address, send_id from message where workspace_id = :workspace and kind = 'trial' order by id`,
  );

async function settle(): Promise<void> {
  const { ctx } = world();
  for (let i = 0; i < 30; i++) {
    const done =
      (await follow(ctx, SEQUENCES_FOLLOW)) +
      (await workThrough(ctx, TRIAL_QUEUE)) +
      (await round(world(), new Scripted()));
    if (done === 0) return;
  }
}

/** So many seconds of the clock, with everything that falls due on the way. */
async function pass(seconds: number): Promise<void> {
  for (const end = world().clock.at + seconds * SECOND; world().clock.at < end;) {
    world().clock.at += SECOND;
    await settle();
  }
}

/** The code leaves from the program of what is tried. */
const ask = async (number = NUMBER) => {
  const document = await desk.document([], { name: `Any ${Math.random()}` });
  return world().within(async (scope) => {
    return askForProof(world().ctx, scope, { number, programId: document.program }, me);
  });
};
const codeIn = (body: string) => /: (\d{6}) is the code/.exec(body)![1]!;
const give = (code: string) => world().within((scope) => giveProof(world().ctx, scope, code, me));

async function prove(): Promise<void> {
  must(await ask());
  await settle();
  must(await give(codeIn((await texts()).at(-1)!.body)));
}

const sequence = async (lines: Parameters<SequenceDesk['document']>[0], more = {}): Promise<string> => {
  const document = await desk.document(lines, more);
  return world()
    .within(async (scope) => must(await createSequence(world().ctx, scope, { document }, me)))
    .then(({ id }) => id);
};
const start = (id: string, secondsADay = 10) =>
  world().within((scope) => startTrial(world().ctx, scope, id, { teammate: me.accountId, secondsADay }, me));
const trial = (id: string) => world().within((scope) => readTrial(scope, id, me.accountId));

describe('an own number', () => {
  it('is proved by the six digits that were sent to it', async () => {
    expect(must(await ask())).toEqual({ asked: NUMBER });
    await settle();
    const [text] = await texts();
    expect(text).toMatchObject({ address: NUMBER, state: 'submitted', send_id: null });
    expect(must(await give('000000' === codeIn(text!.body) ? '111111' : '000000'))).toEqual({
      proved: false,
    });
    expect(must(await give(` ${codeIn(text!.body).slice(0, 3)} ${codeIn(text!.body).slice(3)}`))).toEqual({
      proved: true,
    });
    expect(await world().within((scope) => readOwnNumber(world().ctx, scope, me.accountId))).toEqual({
      number: NUMBER,
      asked: null,
    });
  });

  it('needs a new code after five wrong ones, and after ten minutes', async () => {
    must(await ask());
    await settle();
    const code = codeIn((await texts())[0]!.body);
    const wrong = code === '123456' ? '654321' : '123456';
    for (let i = 0; i < 5; i++) expect(must(await give(wrong))).toEqual({ proved: false });
    expect(await give(code)).toMatchObject({ ok: false, reason: { code: 'conflict' } });
    must(await ask());
    await settle();
    world().clock.at += 11 * 60 * SECOND;
    expect(await give(codeIn((await texts()).at(-1)!.body))).toMatchObject({ ok: false });
  });

  it('gets no more than three codes in an hour, and none after it said STOP', async () => {
    for (let i = 0; i < 3; i++) must(await ask());
    expect(await ask()).toMatchObject({ ok: false, reason: { code: 'conflict' } });
    world().clock.at += HOUR + 1;
    must(await ask());
    await world().within((scope) =>
      scope.run(
        `update person set stopped_at = now() where workspace_id = :workspace and number = '${NUMBER}'`,
      ),
    );
    expect(await ask()).toMatchObject({ ok: false, reason: { code: 'conflict' } });
  });

  it.each(['12', 'nonsense', '+442079460000'])('is refused where it is none: %s', async (number) =>
    expect(await ask(number)).toMatchObject({ ok: false, reason: { problems: [{ field: 'number' }] } }),
  );
});

describe('trying a sequence on oneself', () => {
  const LINES = [
    line(
      'hello',
      { at: 'once' },
      says('Juniper Gap: hello {$person.first_name :wren:field fallback=friend}. Reply STOP to stop.'),
    ),
    line(
      'tag',
      { at: 'after', minutes: 60, from: 'before' },
      { do: 'tell', words: 'Look', to: { to: 'owner' } },
    ),
    line('later', { at: 'day', day: 3, time: '09:40' }, says('Juniper Gap: day three. Reply STOP to stop.')),
  ];

  it('takes a day in ten seconds, sends for real, and is in no counts', async () => {
    await prove();
    const id = await sequence(LINES);
    must(await start(id));
    await settle();
    expect((await texts()).at(-1)).toMatchObject({ state: 'submitted' });
    expect((await texts()).at(-1)!.body).toContain('hello Tova');
    await pass(12);
    expect(await texts()).toHaveLength(2);
    await pass(10);
    const bodies = (await texts()).map(({ body }) => body);
    expect(bodies.at(-1)).toContain('day three');
    const view = (await trial(id))!;
    expect(view.ended).toMatchObject({ why: 'came to the end' });
    expect(view.log.map(({ what, verdict }) => `${what} ${verdict}`)).toEqual([
      'text sent',
      'tell done',
      'text sent',
    ]);
    expect(new Date(view.log[2]!.at).getTime() - new Date(view.began).getTime()).toBeGreaterThan(1.5 * DAY);
    const result = await world().within((scope) => readSequenceResult(world().ctx, scope, id));
    expect(result.lines).toEqual([]);
    expect(result.counts.open + result.counts.ended).toBe(0);
    // What a line would do to records was only told.
    expect(await world().rows(`select 1 from notice where workspace_id = :workspace`)).toEqual([]);
  });

  it('ends with a reply that would end it, and calls nothing more', async () => {
    await prove();
    const id = await sequence(LINES, { ends: [{ when: { on: 'reply' }, then: [] }] });
    must(await start(id));
    await settle();
    await world().texts(NUMBER, 'sounds good, tell me more please');
    await settle();
    expect((await trial(id))!.ended).toMatchObject({ why: 'replied' });
    await pass(40);
    expect(await texts()).toHaveLength(2);
  });

  it('ends with STOP, and does not begin again until they come back', async () => {
    await prove();
    const id = await sequence(LINES);
    must(await start(id));
    await settle();
    await world().texts(NUMBER, 'STOP');
    await pass(40);
    expect(await texts()).toHaveLength(2);
    expect(await start(id)).toMatchObject({ ok: false, reason: { code: 'conflict' } });
    await pass(1);
    expect((await trial(id))!.ended).not.toBeNull();
  });

  it('begun again ends the one before; ended by hand nothing follows', async () => {
    await prove();
    const id = await sequence(LINES);
    must(await start(id));
    must(await start(id));
    await world().within((scope) => endTrialOf(world().ctx, scope, id, me.accountId, 'ended by hand'));
    await pass(40);
    const bodies = (await texts()).slice(1);
    expect(bodies.filter(({ state }) => state === 'submitted').length).toBeLessThanOrEqual(1);
    expect(bodies.some(({ body }) => body.includes('day three'))).toBe(false);
    expect((await trial(id))!.ended).toMatchObject({ why: 'ended by hand' });
  });

  it('is not begun without a proved number, at an unknown pace, or with something that must be mended', async () => {
    const id = await sequence(LINES);
    expect(await start(id)).toMatchObject({ ok: false, reason: { problems: [{ field: 'number' }] } });
    await prove();
    expect(await start(id, 7)).toMatchObject({
      ok: false,
      reason: { problems: [{ field: 'seconds_a_day' }] },
    });
    const broken = await sequence([line('t', { at: 'once' }, { do: 'tag', label: 'lab_gone' })], {
      name: 'Broken',
    });
    expect(await start(broken)).toMatchObject({ ok: false, reason: { problems: [{ field: 'document' }] } });
    expect(await start('seq_none')).toMatchObject({ ok: false, reason: { code: 'not-found' } });
  });

  it('one that cannot go on shows its problem, and the others go on', async () => {
    await prove();
    const [bad, good] = [await sequence(LINES, { name: 'Bad' }), await sequence(LINES, { name: 'Good' })];
    must(await start(bad));
    must(await start(good));
    await world().within((scope) =>
      scope.run(
        `update trial set document = jsonb_set(document, '{program}', '"prg_gone"') where workspace_id = :workspace and sequence_id = '${bad}'`,
      ),
    );
    await pass(40);
    expect((await trial(good))!.ended).toMatchObject({ why: 'came to the end' });
    expect((await trial(bad))!.ended).toBeNull();
    const trouble = await world().rows<{ queue: string }>(
      `select queue from trouble where workspace_id = :workspace`,
    );
    expect(trouble).toMatchObject([{ queue: 'trial' }]);
  });
});
