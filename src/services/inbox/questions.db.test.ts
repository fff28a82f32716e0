import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import { KeywordRow } from '@/db/programs/entities';
import { addField } from '@/services/audience/own-fields';
import { follow } from '@/services/kit/happenings';
import { workThrough } from '@/services/kit/trouble';
import { changeKeyword } from '@/services/programs/change-keyword';
import type { ChangeKeywordInput } from '@/services/programs/inputs';
import { ASKING_QUEUE, QUESTIONS_FOLLOW, restoreAskings } from '@/services/questions/after-silence';
import { readPersonalPage, submitPersonalPage, noteLink } from '@/services/questions/personal-link';
import { readFunnel, readTold } from '@/services/questions/screen';
import { must } from '@/services/testing/people';
import { round, Scripted } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';

const ANA = phone(0);
let world: World;
beforeEach(async () => {
  world = await makeWorld();
});
afterEach(() => world.close());

const keyword = () => world.within((scope) => scope.em.findOneOrFail(KeywordRow, { word: 'sky' }));
const asks = async (fields: string[], more: Partial<ChangeKeywordInput> = {}) => {
  const { id, stamp } = await keyword();
  const questions = fields.map((field) => ({ field }));
  must(
    await world.within((scope) =>
      changeKeyword(world.ctx, scope, id, { stamp, questions, ...more } as ChangeKeywordInput, 'test'),
    ),
  );
};
/** What leaves now. */
async function leaves(after = 10_000): Promise<string[]> {
  world.clock.at += after;
  const carrier = new Scripted();
  await round(world, carrier);
  return carrier.parts.map(({ body }) => body);
}
const person = async () =>
  (
    await world.rows<{
      first_name: string;
      last_name: string;
      email: string;
      postal_code: string;
      waiting_since: Date;
    }>(
      `select first_name, last_name, email, postal_code, fields, waiting_since from person where workspace_id = :workspace`,
    )
  )[0]!;
const silence = () => workThrough(world.ctx, ASKING_QUEUE);
const state = async () =>
  (
    await world.rows<{ state: string }>(
      `select state from asking where workspace_id = :workspace order by begun_at, id`,
    )
  ).map((row) => row.state);
const funnel = async () => {
  const row = await keyword();
  return world.within((scope) => readFunnel(scope, row));
};

describe('questions by text', () => {
  it('are asked one at a time after the confirmation, kept on the person, and nobody has to read the answers', async () => {
    await asks(['name', 'email', 'postal_code'], { thanks: 'Thank you!' });
    await world.texts(ANA, 'sky');
    expect(await leaves()).toEqual([
      expect.stringContaining('Reply HELP for help'),
      'What is your name? Reply SKIP to leave it out.',
    ]);
    await world.texts(ANA, "I'm Ana Ruiz");
    expect(await leaves()).toEqual(['What is your e-mail address? Reply SKIP to leave it out.']);
    await world.texts(ANA, 'ana at mail dot com');
    expect(await leaves()).toEqual(['What is your ZIP code? Reply SKIP to leave it out.']);
    await world.texts(ANA, 'skip');
    expect(await leaves()).toEqual(['Thank you!']);
    expect(await person()).toMatchObject({
      ...{
        first_name: 'Ana',
        last_name: 'Ruiz',
        email: 'ana@mail.com',
        postal_code: null,
        waiting_since: null,
      },
    });
    expect(await state()).toEqual(['answered']);
    expect((await funnel()).questions).toMatchObject([
      { field: 'name', asked: 1, answered: 1, skipped: 0 },
      { field: 'email', asked: 1, answered: 1 },
      { field: 'postal_code', asked: 1, answered: 0, skipped: 1 },
    ]);
    const [{ id } = { id: '' }] = await world.rows<{ id: string }>(
      `select id from person where workspace_id = :workspace`,
    );
    const told = await world.within((scope) => readTold(scope, id));
    expect(told.told.map(({ label, outcome, keyword: word }) => [label, outcome, word])).toEqual([
      ['postal code', 'skipped', 'sky'],
      ['e-mail address', 'answered', 'sky'],
      ['name', 'answered', 'sky'],
    ]);
  });

  it('are asked once more in other words, then left; a human sees what could not be read', async () => {
    await asks(['email', 'name']);
    await world.texts(ANA, 'sky');
    await leaves();
    await world.texts(ANA, 'ana@');
    expect(await leaves()).toEqual([expect.stringMatching(/^Sorry, that is no e-mail/)]);
    await world.texts(ANA, 'ana again');
    expect(await leaves()).toEqual([expect.stringMatching(/^What is your name\?/)]);
    expect((await person()).waiting_since).not.toBeNull();
    expect((await funnel()).questions[0]).toMatchObject({ again: 1, unreadable: 1, answered: 0 });
  });

  it('ask only for the year where that is missing', async () => {
    const field = await world.within((scope) =>
      addField(world.ctx, scope, { label: 'Birthday', kind: 'date' } as never, 'test'),
    );
    await asks([`own.${must(field).key}`]);
    await world.texts(ANA, 'sky');
    await leaves();
    await world.texts(ANA, '5th of May');
    expect(await leaves()).toEqual([expect.stringContaining('which year?')]);
    await world.texts(ANA, '1990');
    expect(await person()).toMatchObject({ fields: { birthday: '1990-05-05' } });
  });

  it('are never in the way of STOP, HELP, a keyword, or a question of theirs', async () => {
    await asks(['name']);
    await world.texts(ANA, 'sky');
    await leaves();
    await world.texts(ANA, 'help');
    expect(await leaves()).toEqual([expect.stringContaining('Help: (719) 555-0110')]);
    await world.texts(ANA, 'what do you need it for?');
    expect(await leaves()).toEqual([]);
    expect((await person()).waiting_since).not.toBeNull();
    expect(await state()).toEqual(['open']);
    await world.texts(ANA, 'STOP');
    expect(await leaves()).toEqual([expect.stringContaining('opted out')]);
    await follow(world.ctx, QUESTIONS_FOLLOW);
    expect(await state()).toEqual(['left']);
    await world.texts(ANA, 'Ana');
    expect(await leaves(DAY)).toEqual([]);
    expect(await person()).toMatchObject({ first_name: null });
  });

  it('are not answered by a sign that is pressed on one', async () => {
    await asks(['name', 'postal_code']);
    await world.texts(ANA, 'sky');
    const question = [...(await leaves()), ...(await leaves())].at(-1)!;
    expect(question).toContain('name');
    await world.texts(ANA, `Liked “${question}”`);
    expect(await person()).toMatchObject({ first_name: null, waiting_since: null });
    expect(await leaves()).toEqual([]);
    await world.texts(ANA, 'Ana Ruiz');
    expect(await person()).toMatchObject({ first_name: 'Ana', last_name: 'Ruiz' });
  });

  it('do not ask for what is known or was left out', async () => {
    await asks(['name', 'email']);
    await world.texts(ANA, 'sky');
    await leaves();
    await world.texts(ANA, 'Ana');
    await world.texts(ANA, 'no thanks');
    await leaves(2 * MINUTE);
    await world.texts(ANA, 'sky');
    expect(await leaves()).toEqual([expect.stringContaining('Reply HELP')]);
    expect(await state()).toEqual(['answered']);
  });

  it('wait for nobody before the YES of a double opt-in', async () => {
    await world.close();
    world = await makeWorld({ program: { double_opt_in: true } });
    await asks(['name']);
    await world.texts(ANA, 'sky');
    expect(await leaves()).toHaveLength(1);
    await world.texts(ANA, 'yes');
    expect(await leaves()).toEqual([
      expect.stringContaining('Reply HELP'),
      expect.stringMatching(/^What is your name/),
    ]);
  });
});

describe('silence', () => {
  it('is asked once more after a day at a good hour, then a personal link follows, then a task', async () => {
    await asks(['name', 'email'], { link_days: 7, task_after: true });
    await world.texts(ANA, 'sky');
    await leaves();
    world.clock.at += 23 * HOUR;
    expect(await silence()).toBe(0);
    // Three in the morning where they are: asked, and held until nine.
    world.clock.at += 16 * HOUR;
    expect(await silence()).toBe(1);
    expect(await leaves()).toEqual([]);
    expect(await leaves(7 * HOUR)).toEqual([expect.stringMatching(/^Sorry, we did not catch that/)]);
    world.clock.at += 2 * DAY;
    await silence();
    const [text = ''] = await leaves();
    expect(text).toMatch(/^Juniper Gap Observatory: 2 things are left .*\/p\/[0-9a-z]{16}$/);
    expect(await state()).toEqual(['linked']);
    world.clock.at += 7 * DAY;
    await silence();
    expect(await state()).toEqual(['handed']);
    expect(await world.rows(`select title, source from task where workspace_id = :workspace`)).toEqual([
      { title: 'Complete the record of (303) 555-0100: name, e-mail address', source: 'question' },
    ]);
    expect(await silence()).toBe(0);
  });

  it('is not asked again from a restored copy: whose silence was over is a task at most', async () => {
    await asks(['name', 'email'], { link_days: 7, task_after: true });
    await world.texts(ANA, 'sky');
    await leaves();
    world.clock.at += 40 * HOUR;
    await world.texts(phone(1), 'sky');
    await leaves();
    expect(await world.within((scope) => restoreAskings(world.ctx, scope))).toEqual({
      'people are asked nothing more, who may have been asked again since': 1,
    });
    expect(await silence()).toBe(0);
    expect(await leaves()).toEqual([]);
    expect(await state()).toEqual(['handed', 'open']);
  });

  it('ends where nothing more is wanted, and one that cannot go on holds up nobody', async () => {
    await asks(['name']);
    await world.texts(ANA, 'sky');
    await world.texts(phone(1), 'sky');
    await leaves();
    world.clock.at += DAY;
    await world.poison('asking_step', `new.asking_id = (select min(id) from asking)`);
    expect(await silence()).toBe(1);
    await world.cure('asking_step');
    expect(
      await world.rows(
        `select problem is not null as shown from trouble where workspace_id = :workspace and queue = 'asking'`,
      ),
    ).toEqual([{ shown: true }]);
    world.clock.at += 4 * DAY;
    await silence();
    world.clock.at += 4 * DAY;
    await silence();
    expect(await state()).toEqual(['given-up', 'given-up']);
  });
});

describe('a personal link', () => {
  const linked = async () => {
    await asks(['name', 'email'], { link_days: 7, task_after: true });
    await world.texts(ANA, 'sky');
    await leaves();
    world.clock.at += 4 * DAY;
    await silence();
    world.clock.at += 4 * DAY;
    await silence();
    const [{ code } = { code: '' }] = await world.rows<{ code: string }>(
      `select code from personal_link where workspace_id = :workspace`,
    );
    return code;
  };

  it('completes the record once, and counts opened, begun and finished', async () => {
    const code = await linked();
    expect(await readPersonalPage(world.ctx, code)).toMatchObject({
      state: 'open',
      business: 'Juniper Gap Observatory',
    });
    await noteLink(world.ctx, code, 'opened');
    await noteLink(world.ctx, code, 'begun');
    expect(await submitPersonalPage(world.ctx, code, { name: 'Ana 7', email: 'no' })).toEqual({
      state: 'open',
      problems: { name: 'name', email: 'email' },
    });
    expect(await submitPersonalPage(world.ctx, code, {})).toMatchObject({ problems: { '': 'nothing' } });
    const sent = { name: 'Ana Ruiz', email: 'ana@example.org', number: '+13035550999', 'own.x': 'y' };
    const both = await Promise.all([
      submitPersonalPage(world.ctx, code, sent),
      submitPersonalPage(world.ctx, code, sent),
    ]);
    expect(both.map((one) => one?.state)).toEqual(['finished', 'finished']);
    expect(await person()).toMatchObject({ first_name: 'Ana', last_name: 'Ruiz', email: 'ana@example.org' });
    expect(
      await world.rows(
        `select 1 from audit_entry where workspace_id = :workspace and actor = 'their personal link'`,
      ),
    ).toHaveLength(3);
    expect(await state()).toEqual(['finished']);
    expect((await funnel()).people).toMatchObject({ linked: 1, opened: 1, begun: 1, finished: 1, handed: 0 });
    world.clock.at += 30 * DAY;
    expect(await silence()).toBe(0);
  });

  it('says no more once it is over, and nothing to whoever guesses', async () => {
    const code = await linked();
    world.clock.at += 8 * DAY;
    expect(await readPersonalPage(world.ctx, code)).toMatchObject({ state: 'expired' });
    expect(await submitPersonalPage(world.ctx, code, { name: 'Ana' })).toMatchObject({ state: 'expired' });
    expect(await readPersonalPage(world.ctx, 'abcdefgh12345678')).toBeNull();
    expect(await submitPersonalPage(world.ctx, "' or 1=1 --", { name: 'Ana' })).toBeNull();
    expect(await person()).toMatchObject({ first_name: null });
  });
});
