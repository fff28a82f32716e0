import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR } from '@/core/shared/instant';
import type { ProgramFile } from '@/core/registration/file';
import { Account, Workspace } from '@/db/access/entities';
import { TeammateMail } from '@/db/email/entities';
import { SenderNumberRow } from '@/db/numbers/entities';
import { Program, ProgramSender } from '@/db/programs/entities';
import { addSenderNumber } from '@/services/access/create-workspace';
import { Registration, RegistrationQuestion, RegistrationStep } from '@/db/registration/entities';
import { REGISTRATION_QUEUE } from './review';
import { changeNumber, releaseNumber } from '@/services/numbers/sender-numbers';
import { BY_US, RegistrarDesk, TOLD_BRAND } from '@/services/testing/registrar';
import { findInWording } from '@/services/templates/check-wording';
import { must } from '@/services/testing/people';
import { makeWorld, type World } from '@/services/testing/world';
import { dueRows, workThrough } from '@/services/kit/trouble';
import { readUntilRegistered } from '@/db/registration/forecasts';
import { answerQuestion, callBack, fileOf, handIn, type Subject } from './applications';
import { askAnew } from './take-told';
import { RegistrarAccount } from '@/db/registration/entities';
import {
  readOpenQuestions,
  readPublicPage,
  readRegistrations,
  readToldOfProgram,
  readToldOfPrograms,
} from './screen';

let world: World;
const desk = new RegistrarDesk(() => world);
const BRAND: Subject = { about: 'brand', id: '' };
let program: Subject;
let number: Subject;

beforeAll(() => desk.open());
afterAll(() => desk.close());
beforeEach(async () => {
  world = await makeWorld();
  await world.within((scope) => scope.em.nativeUpdate(SenderNumberRow, {}, { registration: 'none' }));
  desk.anew();
  await desk.connect();
  program = { about: 'program', id: (await world.within((scope) => scope.em.findOneOrFail(Program, {}))).id };
  number = {
    about: 'number',
    id: (await world.within((scope) => scope.em.findOneOrFail(SenderNumberRow, {}))).id,
  };
});
afterEach(async () => {
  await desk.quiet();
  await world.close();
});

const hand = (subject: Subject) => world.within((scope) => handIn(world.ctx, scope, subject, BY_US));
const sender = () => world.within((scope) => scope.em.findOneOrFail(SenderNumberRow, { id: number.id }));
const questions = () =>
  world.within((scope) => scope.em.find(RegistrationQuestion, {}, { orderBy: { id: 'asc' } }));
const steps = async (subject: Subject) => {
  const { id } = await desk.standing(subject);
  return (
    await world.within((scope) =>
      scope.em.find(RegistrationStep, { registrationId: id }, { orderBy: { id: 'asc' } }),
    )
  ).map(({ event }) => event);
};
const answer = (id: string, words: string) =>
  world.within((scope) => answerQuestion(world.ctx, scope, id, words, BY_US));

/** Brand and program told of, everything handed in. */
async function handAll(): Promise<void> {
  must(await desk.brand());
  must(await desk.program(program.id));
  for (const subject of [BRAND, program, number]) must(await hand(subject));
}

describe('handing in', () => {
  it('brings brand, program and number one after the other, and the number may then be texted from', async () => {
    await handAll();
    expect((await sender()).registration).toBe('in-review');
    expect((await desk.standing(program)).state).toBe('waiting');
    await desk.until(number, 'registered');
    expect((await sender()).registration).toBe('registered');
    expect(await steps(number)).toEqual(['hand-in', 'bring', 'register']);
    expect(desk.bench.counts.taken).toBe(3);
  });

  it('says what must be mended, field by field, and hands nothing in', async () => {
    must(await desk.brand({ legal_name: '', street: '' }));
    const refused = await hand(BRAND);
    expect(refused).toMatchObject({ ok: false, reason: { code: 'invalid' } });
    expect(JSON.stringify(refused)).toContain('legalName: The legal name is missing.');
    expect(await world.within((scope) => scope.em.count(Registration, {}))).toBe(0);
  });

  it('needs a registrar, and what it rests on', async () => {
    must(await desk.brand());
    expect(await hand(number)).toMatchObject({ ok: false });
    must(await desk.program(program.id));
    expect(JSON.stringify(await hand(program))).toContain('the brand is not handed in');
    await world.within((scope) => scope.em.nativeUpdate(RegistrarAccount, {}, { removedAt: new Date() }));
    expect(JSON.stringify(await hand(BRAND))).toContain('no registrar is connected');
  });

  it('counts once however often it is pressed', async () => {
    must(await desk.brand());
    const pressed = await Promise.all([hand(BRAND), hand(BRAND), hand(BRAND)]);
    expect(pressed.filter(({ ok }) => ok)).toHaveLength(1);
    await desk.until(BRAND, 'registered');
    expect(desk.bench.counts.taken).toBe(1);
  });

  it('goes on after a worker died between the registrar’s yes and our commit', async () => {
    must(await desk.brand());
    must(await hand(BRAND));
    desk.bench.setMoods({ line: 'cuts' });
    await desk.work();
    expect((await desk.standing(BRAND)).state).toBe('waiting');
    desk.bench.setMoods({ line: 'up' });
    world.clock.at += HOUR;
    await desk.until(BRAND, 'registered');
    expect(desk.bench.counts.taken).toBe(1);
  });

  it('waits while the registrar cannot be reached, and holds up no other workspace', async () => {
    must(await desk.brand());
    must(await hand(BRAND));
    desk.bench.setMoods({ line: 'down' });
    expect(await workThrough(world.ctx, REGISTRATION_QUEUE)).toBe(0);
    desk.bench.setMoods({ line: 'up' });
    world.clock.at += HOUR;
    await desk.until(BRAND, 'registered');
  });
});

describe('a reviewer', () => {
  it('asks, is answered in place, and registers; the managers are told', async () => {
    must(await desk.brand());
    must(await desk.program(program.id, { content: ['offers'] }));
    await world.within(async (scope) => {
      const made = {
        id: 'acc_o',
        email: 'o@example.org',
        name: 'O',
        passwordHash: 'x',
        createdAt: new Date(0),
      };
      await scope.em.insert(Account, made);
      await scope.run(
        `insert into membership (workspace_id, account_id, role) values (:workspace, 'acc_o', 'owner')`,
      );
    });
    must(await hand(BRAND));
    must(await hand(program));
    await desk.until(program, 'question');
    const [asked] = await questions();
    expect(asked).toMatchObject({ field: 'content', answer: null });
    must(await answer(asked!.id, 'Two offers: the members’ evening and the school tour.'));
    expect((await desk.standing(program)).state).toBe('in-review');
    await desk.until(program, 'registered');
    expect(desk.bench.accounts[0]!.applications.flatMap((one) => one.questions)[0]!.answer).toContain(
      'school tour',
    );
    // What was answered is answered.
    expect(await answer(asked!.id, 'Another.')).toMatchObject({ ok: false });
    const mails = await world.within((scope) => scope.em.find(TeammateMail, {}));
    expect(mails.map(({ subject }) => subject).sort()).toEqual([
      'Registered: Clear Sky Alerts',
      'Registered: Juniper Gap Observatory',
      'The reviewer asks: Clear Sky Alerts',
    ]);
  });

  it('refuses with a reason; what is mended is handed in again', async () => {
    desk.bench.setMoods({ reviewer: 'refusing' });
    await handAll();
    expect((await desk.until(BRAND, 'refused')).reason).toContain('refuses everything');
    desk.bench.setMoods({ reviewer: 'usual' });
    must(await hand(BRAND));
    await desk.until(number, 'registered');
    expect(await steps(BRAND)).toEqual(['hand-in', 'bring', 'refuse', 'hand-in', 'bring', 'register']);
  });

  it('is told that nothing is needed any more once the program is archived and somebody takes it back', async () => {
    await handAll();
    await desk.until(number, 'registered');
    await world.within((scope) =>
      scope.em.nativeUpdate(Program, { id: program.id }, { archivedAt: new Date(world.clock.at) }),
    );
    const lines = async () => (await world.within((scope) => readRegistrations(scope, world.clock.at))).lines;
    const [line] = (await lines()).filter(({ about }) => about === 'program');
    expect(line).toMatchObject({ archived: true, row: { state: 'registered' } });
    must(await world.within((scope) => callBack(world.ctx, scope, line!.row!.id, BY_US)));
    expect((await desk.until(program, 'draft')).state).toBe('draft');
    expect(await hand(program)).toMatchObject({ ok: false });
    expect((await lines()).some(({ about }) => about === 'program')).toBe(false);
  });

  it('withdraws later: the numbers of the program are not texted from any more', async () => {
    await handAll();
    await desk.until(number, 'registered');
    const { id } = await desk.standing(program);
    desk.bench.decide(id, { state: 'withdrawn', reason: 'Complaints.' });
    await desk.until(program, 'withdrawn');
    await desk.until(number, 'withdrawn');
    expect(await sender()).toMatchObject({
      registration: 'refused',
      registrationNote: 'What it rests on was withdrawn.',
    });
    must(await hand(program));
    must(await hand(number));
    await desk.until(number, 'registered');
  });

  it('tells everything twice and in the wrong order without harm', async () => {
    desk.bench.setMoods({ twice_share: 1, disorder_share: 1 });
    await handAll();
    await desk.until(number, 'registered');
    expect(await steps(program)).toEqual(['hand-in', 'bring', 'register']);
    // An old word of theirs, brought again, is only a reason to ask.
    const account = await world.within((scope) => scope.em.findOneOrFail(RegistrarAccount, {}));
    const { id } = await desk.standing(program);
    const door = { id: account.id, workspaceId: world.workspaceId, secret: '' };
    expect(
      await askAnew(
        world.ctx,
        door,
        JSON.stringify({ events: [{ reference: id, state: 'refused' }, 7, null] }),
      ),
    ).toBe('kept');
    expect(await askAnew(world.ctx, door, '[]')).toBe('unreadable');
    await desk.work();
    expect((await desk.standing(program)).state).toBe('registered');
  });

  it('who never decides is asked more and more rarely, and can be left', async () => {
    desk.bench.setMoods({ reviewer: 'never' });
    must(await desk.brand());
    must(await hand(BRAND));
    await desk.until(BRAND, 'in-review');
    let asked = 0;
    for (let i = 0; i < 48; i++) {
      world.clock.at += HOUR / 2;
      asked += await desk.work();
    }
    expect(asked).toBeGreaterThan(4);
    expect(asked).toBeLessThan(40);
    const { id } = await desk.standing(BRAND);
    must(await world.within((scope) => callBack(world.ctx, scope, id, BY_US)));
    await desk.work();
    expect(desk.bench.accounts[0]!.applications).toEqual([]);
    expect((await desk.standing(BRAND)).dueAt).toBeNull();
    // The registrar has forgotten it, and counts its words anew.
    await world.within((scope) => scope.em.nativeUpdate(Registration, { id }, { turn: 7 }));
    desk.bench.setMoods({ reviewer: 'usual' });
    must(await hand(BRAND));
    await desk.until(BRAND, 'registered');
  });
});

describe('a change of what is registered', () => {
  it('is reviewed while the old file counts, and taken over or refused', async () => {
    await handAll();
    await desk.until(number, 'registered');
    expect(JSON.stringify(await hand(program))).toContain('nothing new');
    must(await desk.program(program.id, { stamp: 1, content: ['events', 'news'] }));
    desk.bench.setMoods({ reviewer: 'refusing' });
    must(await hand(program));
    for (let i = 0; i < 100 && (await desk.standing(program)).change?.state !== 'refused'; i++) {
      await desk.work();
      world.clock.at += 1_000;
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
    expect(await desk.standing(program)).toMatchObject({
      state: 'registered',
      version: 1,
      change: { state: 'refused' },
    });
    expect((await sender()).registration).toBe('registered');
    desk.bench.setMoods({ reviewer: 'usual' });
    must(await hand(program));
    for (let i = 0; i < 100 && (await desk.standing(program)).change !== null; i++) {
      await desk.work();
      world.clock.at += 1_000;
      await new Promise((resolve) => setTimeout(resolve, 20));
    }
    expect(await desk.standing(program)).toMatchObject({ state: 'registered', version: 3, change: null });
  });

  it('is what texts are held against while they are written, as long as somebody counts on it', async () => {
    const said = async () => {
      const found = await world.within(async (scope) =>
        findInWording(scope, {
          ...{ source: 'Juniper Gap: vote for the dark-sky rule.', channel: 'sms', at: world.clock.at },
          program: await scope.em.findOneOrFail(Program, { id: program.id }),
        }),
      );
      return found.some(({ code }) => code === 'not-registered');
    };
    await world.within(async (scope) => {
      const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
      workspace.wording = { ...workspace.wording, weights: {} };
      await scope.em.flush();
    });
    expect(await said()).toBe(false);
    await handAll();
    expect(await said()).toBe(true);
    expect(await world.within(readToldOfPrograms)).toMatchObject([{ id: program.id }]);
    const row = await world.within((scope) => scope.em.findOneOrFail(Registration, { subject: program.id }));
    must(await world.within((scope) => callBack(world.ctx, scope, row.id, BY_US)));
    expect(await said()).toBe(false);
    expect(await world.within(readToldOfPrograms)).toEqual([]);
  });

  it('is compared with what the reviewer was told', async () => {
    await handAll();
    expect(await world.within((scope) => readToldOfProgram(scope, program.id, world.clock.at))).toMatchObject(
      {
        told: { often: expect.any(String) as string },
        state: 'waiting',
      },
    );
    await world.within((scope) => scope.em.nativeUpdate(Program, { id: program.id }, { promiseCount: 99 }));
    const read = (await world.within((scope) => readToldOfProgram(scope, program.id, world.clock.at)))!;
    expect(read.now.often).not.toBe(read.told.often);
    const { lines } = await world.within((scope) => readRegistrations(scope, world.clock.at));
    expect(lines.map(({ about, broken }) => [about, broken.length > 0])).toEqual([
      ['brand', false],
      ['program', true],
      ['number', false],
    ]);
  });
});

describe('what it shows', () => {
  it('says until when a number is likely through, by what such reviews took here', async () => {
    await handAll();
    desk.bench.setMoods({ reviewer: 'never' });
    await desk.until(BRAND, 'in-review');
    const before = await world.within((scope) => readUntilRegistered(scope, number.id, world.clock.at));
    expect(before).toMatchObject({ from: 0 });
    const { id } = await desk.standing(number);
    await world.rows(
      `insert into registration_step (workspace_id, registration_id, event, at)
       select :workspace, :id, e.event, to_timestamp(:at::double precision / 1000) + e.off from (values ('hand-in', interval '-20 days'), ('register', interval '-18 days'),
         ('hand-in', interval '-16 days'), ('refuse', interval '-13 days'), ('hand-in', interval '-12 days'), ('register', interval '-8 days'), ('hand-in', interval '0')) e (event, off)`,
      { id, at: world.clock.at },
    );
    const after = (await world.within((scope) => readUntilRegistered(scope, number.id, world.clock.at)))!;
    expect(after.from).toBe(3);
    expect(after.likely! - world.clock.at).toBeGreaterThan(2 * DAY);
  });

  it('shows pages of ours to anybody, and links them; nothing where they have their own', async () => {
    must(await desk.brand());
    const { slug, termsUrl, privacyUrl } = await world.within((scope) =>
      scope.em.findOneOrFail(Workspace, { id: world.workspaceId }),
    );
    expect([termsUrl, privacyUrl]).toEqual([
      expect.stringContaining(`/about/${slug}/terms`),
      expect.stringContaining('/privacy'),
    ]);
    const page = (await readPublicPage(world.ctx, slug, 'privacy'))!;
    expect(page.sections.flatMap(({ paragraphs }) => paragraphs).join(' ')).toContain('mobile phone numbers');
    expect(await readPublicPage(world.ctx, 'nobody', 'privacy')).toBeNull();
    must(
      await desk.brand({ stamp: 1, our_pages: false, terms_url: 'https://x.test/terms', privacy_url: '' }),
    );
    expect(await readPublicPage(world.ctx, slug, 'privacy')).toBeNull();
    expect(
      await world.within((scope) => scope.em.findOneOrFail(Workspace, { id: world.workspaceId })),
    ).toMatchObject({ termsUrl: 'https://x.test/terms', privacyUrl: null });
  });

  it('refuses to write over what somebody else kept meanwhile, and an address that is none', async () => {
    must(await desk.brand());
    expect(await desk.brand()).toMatchObject({ ok: false });
    expect(JSON.stringify(await desk.brand({ stamp: 1, website: 'juniper' }))).toContain(
      'website: must be an address',
    );
    expect(JSON.stringify(await desk.brand({ stamp: 1, ...TOLD_BRAND, country: 'XX' }))).toContain('country');
  });
});

it('a number that goes through the registrar is not registered by hand', async () => {
  await handAll();
  const changed = await world.within((scope) =>
    changeNumber(world.ctx, scope, number.id, { registration: 'registered' }, 'me'),
  );
  expect(JSON.stringify(changed)).toContain('registration: ');
  expect((await sender()).registration).toBe('in-review');
});

it('a number registered elsewhere before stays so while it is looked at, until a reviewer says no', async () => {
  await world.within((scope) => scope.em.nativeUpdate(SenderNumberRow, {}, { registration: 'registered' }));
  await handAll();
  expect((await sender()).registration).toBe('registered');
  await desk.until(program, 'registered');
  desk.bench.setMoods({ reviewer: 'refusing' });
  await desk.until(number, 'refused');
  expect((await sender()).registration).toBe('refused');
});

it('what people see names the same number however often a row of it is written', async () => {
  await world.within(async (scope) => {
    const more = { number: '+17195550129', kind: 'local' as const, registration: 'registered' as const };
    const { id: senderId } = await addSenderNumber(world.ctx, scope, { ...more, partsPerSecond: 1 });
    await scope.em.insert(ProgramSender, {
      ...{ workspaceId: scope.workspaceId, programId: program.id, senderId },
    });
  });
  const words = () =>
    world.within(async (scope) => {
      // Without an index rows come as they lie, and one that is written again lies last.
      for (const how of ['indexscan', 'bitmapscan'])
        await scope.rows(`select set_config('enable_${how}', 'off', true) where :workspace is not null`);
      const { file } = (await fileOf(scope, program, world.clock.at))!;
      return (file as ProgramFile).ways[0]!.words;
    });
  const before = await words();
  await world.rows(
    `update sender_number set throttled_in_a_row = 1 where workspace_id = :workspace and id = :id returning id`,
    { id: number.id },
  );
  expect(await words()).toBe(before);
});

it('what is taken back is asked about no more, and nobody is asked while there is no registrar', async () => {
  must(await desk.brand({ street: 'P.O. Box 12' }));
  must(await hand(BRAND));
  const { id } = await desk.until(BRAND, 'question');
  expect(await world.within(readOpenQuestions)).toHaveLength(1);
  must(await world.within((scope) => callBack(world.ctx, scope, id, BY_US)));
  expect(await world.within(readOpenQuestions)).toEqual([]);
  await world.within((scope) => scope.em.nativeUpdate(RegistrarAccount, {}, { removedAt: new Date() }));
  expect(await dueRows(world.ctx, REGISTRATION_QUEUE)).toEqual([]);
  expect((await desk.standing(BRAND)).dueAt).not.toBeNull();
});

it('a number that is given back is taken back from the registrar too', async () => {
  await handAll();
  await desk.until(number, 'registered');
  must(await world.within((scope) => releaseNumber(world.ctx, scope, number.id, 'me')));
  await desk.until(number, 'draft');
  expect(desk.bench.accounts[0]!.applications.map(({ about }) => about)).toEqual(['brand', 'program']);
});

it('belongs to its workspace alone', async () => {
  await handAll();
  const { id } = await desk.standing(BRAND);
  const other = await world.another();
  const { inWorkspace } = await import('@/db/kit/scope');
  const theirs = await inWorkspace(world.ctx.orm, other.id, (scope) => callBack(world.ctx, scope, id, BY_US));
  expect(theirs).toMatchObject({ ok: false, reason: { code: 'not-found' } });
});
