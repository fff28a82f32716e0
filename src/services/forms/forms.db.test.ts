import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { FORM_FORMAT, newForm, type FormDocument } from '@/core/form/document';
import { FOR_ONE_NUMBER } from '@/core/form/limits';
import { TRAP } from '@/core/form/page';
import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import { Form } from '@/db/forms/entities';
import { Source } from '@/db/inquiries/entities';
import { addField } from '@/services/audience/own-fields';
import { changeSource, createSource } from '@/services/inquiries/sources';
import { ARRIVAL_QUEUE } from '@/services/inquiries/take-arrival';
import { createOffer } from '@/services/offers/offers';
import { workThrough } from '@/services/kit/trouble';
import { changeProgram } from '@/services/programs/change-program';
import { createProgram } from '@/services/programs/create-program';
import { mergePrograms } from '@/services/programs/merge-programs';
import { findOrMakeLabel } from '@/services/people/labels';
import { line, says, SequenceDesk } from '@/services/testing/sequences';
import { must } from '@/services/testing/people';
import { round, Scripted } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { readToday } from '@/services/today/screen';
import { SUBMISSION_QUEUE } from './ask-for-proof';
import { changeForm, createForm, publishForm } from './forms';
import { releaseSubmission } from './held';
import type { ChangeFormInput } from './inputs';
import { readFormResult } from './screen';
import { drawForm, noteSeen, takeIn } from './take-in';

const ME = { name: 'test', accountId: null };
const ANA = phone(0);
const ORIGIN = { address: '198.51.100.7', agent: 'A browser' };

let world: World;
let form: Form;
beforeEach(async () => {
  world = await makeWorld();
  form = must(
    await world.within((scope) =>
      createForm(world.ctx, scope, { name: 'Sign up', program: 'Clear Sky Alerts' }, ME),
    ),
  );
});
afterEach(() => world.close());

const stored = () => world.within((scope) => scope.em.findOneOrFail(Form, { id: form.id }));
const change = async (more: Partial<ChangeFormInput>) =>
  world.within(async (scope) => {
    const { stamp } = await scope.em.findOneOrFail(Form, { id: form.id });
    return changeForm(world.ctx, scope, form.id, { stamp, ...more } as ChangeFormInput, ME);
  });
const publish = async () =>
  must(
    await world.within(async (scope) => {
      const { stamp } = await scope.em.findOneOrFail(Form, { id: form.id });
      return publishForm(world.ctx, scope, form.id, stamp, ME);
    }),
  );
let presses = 0;
const filled = (more: Record<string, string> = {}) => ({
  ...{ name: 'Ana Ruiz', number: '(303) 555-0100', agree: 'yes' },
  ...{ press: `press-${presses++}`.padEnd(12, 'x'), drawn: String(world.clock.at - MINUTE) },
  ...more,
});
const send = (more: Record<string, string> = {}, origin = ORIGIN) =>
  takeIn(world.ctx, form.code, filled(more), origin);
const work = () => workThrough(world.ctx, SUBMISSION_QUEUE);
async function leaves(): Promise<string[]> {
  const carrier = new Scripted();
  await round(world, carrier);
  return carrier.parts.map(({ body }) => body);
}
const states = async () =>
  (
    await world.rows<{ state: string; because: string | null }>(
      `select state, because from submission where workspace_id = :workspace order by at, id`,
    )
  ).map(({ state, because }) => (because ? `${state}: ${because}` : state));
const people = () =>
  world.rows<{ first_name: string | null; number: string; fields: object }>(
    `select first_name, last_name, number, fields from person where workspace_id = :workspace order by created_at, id`,
  );
const consents = () =>
  world.rows<{ state: string }>(
    `select state from consent_state where workspace_id = :workspace and channel = 'sms'`,
  );

describe('a form', () => {
  it('asks the number whether it was them, and nothing else is done before the YES', async () => {
    const label = await world.within((scope) =>
      findOrMakeLabel(world.ctx, scope, 'list', 'Visitors', 'test'),
    );
    const offer = await world.within((scope) =>
      createOffer(world.ctx, scope, { name: 'Free hour', words: 'One free hour.' } as never, ME),
    );
    const desk = new SequenceDesk(() => world);
    const sequence = await desk.publish(
      [line('a', { at: 'once' }, says('First line. Reply STOP to stop.'))],
      {
        begins: [],
      },
    );
    must(
      await change({
        welcome: 'Hello {$person.first_name :wren:field fallback=friend}.',
        ...{ labels: [must(label).id], offer: must(offer).id, sequences: [sequence] },
      }),
    );
    await publish();
    expect((await drawForm(world.ctx, form.code))?.html).toContain('I agree that Juniper Gap Observatory');
    expect(await send()).toMatchObject({ status: 200, html: expect.stringContaining('(303) 555-0100') });
    expect(await states()).toEqual(['received']);
    expect(await work()).toBe(1);
    expect(await leaves()).toEqual([expect.stringContaining('reply YES to get Clear Sky Alerts')]);
    expect(await people()).toMatchObject([{ first_name: null, number: ANA }]);
    expect(await consents()).toEqual([{ state: 'asked' }]);
    await world.texts(ANA, 'Yes');
    expect((await leaves()).join(' ')).toMatch(/^Hello Ana\. One free hour\. Code .*Reply HELP for help/);
    expect(await people()).toMatchObject([{ first_name: 'Ana', last_name: 'Ruiz' }]);
    expect(await states()).toEqual(['proved']);
    await desk.settle();
    expect(await world.rows(`select begun_by from enrolment where workspace_id = :workspace`)).toEqual([
      { begun_by: 'form' },
    ]);
    expect(await world.rows(`select 1 from person_label where workspace_id = :workspace`)).toHaveLength(1);
    const [asked] = await world.rows<{ method: string; evidence: object }>(
      `select method, evidence from consent_event where workspace_id = :workspace and kind = 'asked'`,
    );
    expect(asked).toMatchObject({
      method: 'form',
      evidence: {
        wording: expect.stringContaining('not a condition of purchase'),
        source: 'form “Sign up”, version 1',
        ...{ address: '198.51.100.7', agent: 'A browser', formVersion: 1 },
      },
    });
  });

  it('counts a double press once, and says what is wrong with what was typed', async () => {
    await publish();
    const twice = filled();
    const both = await Promise.all([
      takeIn(world.ctx, form.code, twice, ORIGIN),
      takeIn(world.ctx, form.code, twice, ORIGIN),
    ]);
    expect(both.map((one) => one?.status)).toEqual([200, 200]);
    expect(await states()).toHaveLength(1);
    const wrong = await send({ number: '12', name: '<script>', agree: '' });
    expect(wrong).toMatchObject({ status: 422 });
    for (const words of [
      'Write a mobile number',
      'Write a first and a last name',
      'Tick the box',
      '&lt;script&gt;',
    ])
      expect(wrong!.html).toContain(words);
    expect((await send({ number: '+44 20 7946 0018' }))!.html).toContain('numbers of this country only');
    expect((await send({ number: '', agree: 'yes' }))!.status).toBe(422);
    expect(await states()).toHaveLength(1);
  });

  it('is not there before it is published or with a code that is none, and takes nothing once it is closed', async () => {
    expect(await drawForm(world.ctx, form.code)).toBeNull();
    expect(await send()).toBeNull();
    expect(await takeIn(world.ctx, "x' or 1=1", filled(), ORIGIN)).toBeNull();
    await publish();
    must(await change({ closed: true }));
    expect(await drawForm(world.ctx, form.code)).toMatchObject({ status: 410 });
    expect(await send()).toMatchObject({ status: 410 });
    expect(await states()).toEqual([]);
  });

  it('shows what was published, also when it is worked on or the promise of its program rises', async () => {
    await publish();
    const { document } = await stored();
    must(await change({ document: { ...document, title: 'Another title' } }));
    must(
      await world.within((scope) =>
        changeProgram(
          world.ctx,
          scope,
          form.programId,
          { stamp: 0, promise: { count: 20, period: 'month' }, members: 'keep' } as never,
          'test',
        ),
      ),
    );
    const html = (await drawForm(world.ctx, form.code))!.html;
    expect(html).not.toContain('Another title');
    expect(html).toContain('Up to 6 msgs/month');
    await publish();
    expect((await drawForm(world.ctx, form.code))!.html).toContain('Up to 20 msgs/month');
    await send();
    await work();
    const versions = await world.rows<{ version: number; wording: string }>(
      `select version, wording from form_version where workspace_id = :workspace order by version`,
    );
    expect(versions.map(({ wording }) => /Up to \d+/.exec(wording)?.[0])).toEqual(['Up to 6', 'Up to 20']);
  });

  it('goes along when its program is let go into another, closed until it says what is agreed to now', async () => {
    await publish();
    must(
      await world.within((scope) =>
        createProgram(
          world.ctx,
          scope,
          { name: 'All Nights', purpose: 'recurring', promise: { count: 4, period: 'month' } } as never,
          'test',
        ),
      ),
    );
    must(await world.within((scope) => mergePrograms(world.ctx, scope, form.programId, 'All Nights', ME)));
    expect(await drawForm(world.ctx, form.code)).toMatchObject({ status: 410 });
    expect(await change({ closed: false })).toMatchObject({ ok: false });
    await publish();
    must(await change({ closed: false }));
    expect((await drawForm(world.ctx, form.code))!.html).toContain('All Nights');
  });

  it('keeps own fields, and leaves out those that are gone meanwhile', async () => {
    for (const [label, kind] of [
      ['Birthday', 'date'],
      ['Party', 'number'],
    ])
      must(await world.within((scope) => addField(world.ctx, scope, { label, kind } as never, 'test')));
    const { document } = await stored();
    const field = (name: string) => ({ field: name, label: '', help: '', required: false });
    must(
      await change({
        document: {
          ...document,
          fields: [...document.fields, field('own.birthday'), field('own.party')],
        } as FormDocument,
      }),
    );
    await publish();
    await send({ 'own.birthday': '1990-05-05', 'own.party': '4' });
    await work();
    await leaves();
    await world.within((scope) =>
      scope.run(`update field set archived_at = now() where workspace_id = :workspace and key = 'party'`),
    );
    await world.texts(ANA, 'yes');
    expect(await people()).toMatchObject([{ first_name: 'Ana', fields: { birthday: '1990-05-05' } }]);
    expect((await drawForm(world.ctx, form.code))!.html).not.toContain('Party');
  });

  it('refuses documents that name what is not here', async () => {
    const { document } = await stored();
    const refused = async (data: unknown) => {
      const result = await change({ document: data as object });
      return result.ok ? 'taken' : result.reason.problems[0]!.message;
    };
    const with_ = (more: Partial<FormDocument>) => ({ ...document, ...more });
    expect(
      await refused(with_({ fields: [{ field: 'own.none', label: '', help: '', required: true }] })),
    ).toMatch(/number is missing/);
    expect(
      await refused(
        with_({ fields: [...document.fields, { field: 'own.none', label: '', help: '', required: true }] }),
      ),
    ).toMatch(/no field “own.none”/);
    expect(await refused(with_({ look: { colour: '#8c3a1c', picture: 'pic_none' } }))).toMatch(
      /no such picture/,
    );
    expect(await refused({ ...document, format: 'other' })).toMatch(/other.*steady-wren\/form\/1/);
    expect(await refused({ ...document, more: 1 })).toMatch(/“more” is not known/);
    expect(newForm('x').format).toBe(FORM_FORMAT);
  });
});

describe('what is not believed', () => {
  beforeEach(publish);

  it('never texts a number that opted out: it comes back only by its own act, and the ledger says so', async () => {
    await world.texts(ANA, 'sky');
    await leaves();
    await world.texts(ANA, 'stop');
    await leaves();
    expect(await send()).toMatchObject({ status: 200 });
    await work();
    expect(await leaves()).toEqual([]);
    expect(await states()).toEqual(['refused: opted-out']);
    expect(await consents()).toEqual([{ state: 'out' }]);
    await world.texts(ANA, 'START');
    expect(await consents()).toEqual([{ state: 'in' }]);
  });

  it('asks a member whether it was them, and keeps what they sent by YES; others’ words about them never', async () => {
    await world.texts(ANA, 'sky');
    await leaves();
    await send({ name: 'Somebody Else' });
    await work();
    expect(await leaves()).toEqual([expect.stringContaining('Was it you?')]);
    await world.texts(ANA, 'no idea what that is');
    expect(await people()).toMatchObject([{ first_name: null }]);
    await world.texts(ANA, 'YES');
    expect(await people()).toMatchObject([{ first_name: 'Somebody' }]);
    expect(await consents()).toEqual([{ state: 'in' }]);
  });

  it('never texts a landline', async () => {
    await world.texts(ANA, 'hello');
    await world.within((scope) =>
      scope.run(`update address set line_type = 'landline' where workspace_id = :workspace`),
    );
    await send();
    await work();
    expect(await leaves()).toEqual([]);
    expect(await states()).toEqual(['refused: landline']);
  });

  it('drops what a machine filled in, and says nothing of it', async () => {
    expect(await send({ [TRAP]: 'https://spam.example.com' })).toMatchObject({ status: 200 });
    expect(await send({ drawn: String(world.clock.at - 300) })).toMatchObject({ status: 200 });
    expect(await states()).toEqual(['dropped: machine', 'dropped: machine']);
    expect(await work()).toBe(0);
    const row = await stored();
    expect((await world.within((scope) => readFormResult(scope, row))).counts).toMatchObject({
      ...{ sent: 0, machines: 2 },
    });
  });

  it('takes twenty an hour from one address, and two proofs a day for one number', async () => {
    const many = [];
    for (let i = 0; i < 40; i++) many.push(await send({ number: phone(i) }));
    expect(many.filter((one) => one?.status === 200)).toHaveLength(20);
    expect(many.filter((one) => one?.status === 429)).toHaveLength(20);
    expect(await send({ number: phone(50) }, { ...ORIGIN, address: '203.0.113.9' })).toMatchObject({
      status: 200,
    });
    world.clock.at += HOUR;
    expect(await send({ number: phone(51) })).toMatchObject({ status: 200 });
    while ((await work()) > 0);
    for (let i = 0; i < 3; i++) await send({ number: phone(60) }, { ...ORIGIN, address: `192.0.2.${i}` });
    while ((await work()) > 0);
    expect((await states()).slice(-3).sort()).toEqual(['asked', 'asked', 'held: number']);
    expect(
      (await world.within((scope) => readToday(scope, world.clock.at, 'America/Denver', 'acc_nobody'))).held,
    ).toEqual([{ id: form.id, name: 'Sign up', held: 1 }]);
    const [held] = await world.rows<{ id: string }>(
      `select id from submission where workspace_id = :workspace and state = 'held'`,
    );
    must(await world.within((scope) => releaseSubmission(world.ctx, scope, held!.id, 'test')));
    await work();
    expect((await states()).filter((state) => state.startsWith('held'))).toEqual([]);
  });

  it('is over when nobody answers, and one that cannot be worked on holds up nobody', async () => {
    await send();
    await send({ number: phone(1) }, { ...ORIGIN, address: '192.0.2.1' });
    await world.poison('message', `new.address = '${phone(1)}'`);
    expect(await work()).toBe(1);
    await world.cure('message');
    expect(await states()).toEqual(['asked', 'received']);
    world.clock.at += HOUR;
    await work();
    await leaves();
    world.clock.at += 3 * DAY + HOUR;
    while ((await work()) > 0);
    expect(await states()).toEqual(['lapsed', 'lapsed']);
    // They come by themselves a week later: what they filled in is theirs.
    await world.texts(ANA, 'sky');
    expect(await states()).toEqual(['proved', 'lapsed']);
  });

  it('says where its program cannot text from', async () => {
    await world.within((scope) =>
      scope.run(`update sender_number set released_at = now() where workspace_id = :workspace`),
    );
    await send();
    expect(await work()).toBe(0);
    expect(await world.rows(`select problem from trouble where workspace_id = :workspace`)).toEqual([
      { problem: expect.stringContaining('no number to text from') },
    ]);
  });
});

it('counts who opened, began and sent, and where the others left', async () => {
  await publish();
  const sent = filled();
  for (const [press, furthest] of [
    ['visitor-one', 0],
    ['visitor-two', 1],
    ['visitor-two', 2],
    ['visitor-three', 3],
    [sent.press, 3],
    ['x', 1],
    ['visitor-four', -1],
    ['visitor-five', 1e9],
  ] as const)
    await noteSeen(world.ctx, form.code, { press, furthest });
  await takeIn(world.ctx, form.code, sent, ORIGIN);
  const row = await stored();
  expect(await world.within((scope) => readFormResult(scope, row))).toMatchObject({
    counts: { opened: 4, begun: 3, sent: 1 },
    left: [
      { field: 'number', people: 1 },
      { field: 'agree', people: 1 },
    ],
  });
});

describe('a form of a source', () => {
  const inquiries = async () => {
    await workThrough(world.ctx, ARRIVAL_QUEUE);
    return world.rows<{ words: string; number: string; first_name: string | null }>(
      `select i.words, p.number, p.first_name from inquiry i join person p on p.id = i.person_id where i.workspace_id = :workspace order by i.id`,
    );
  };
  let source: string;
  beforeEach(async () => {
    const made = await world.within((scope) =>
      createSource(world.ctx, scope, { name: 'Website', program: 'Clear Sky Alerts' }, ME),
    );
    source = must(made).id;
    must(
      await world.within((scope) => addField(world.ctx, scope, { label: 'Question', kind: 'text' }, 'test')),
    );
    const { document } = await stored();
    const asks = { field: 'own.question', label: '', help: '', required: false };
    must(await change({ document: { ...document, fields: [...document.fields, asks] } }));
    must(await change({ source }));
    await publish();
  });

  it('brings an inquiry that is read without being mapped, beside the question whether it was them', async () => {
    await send({ 'own.question': 'Is the dome warm?' });
    await work();
    expect(await inquiries()).toEqual([{ words: 'Is the dome warm?', number: ANA, first_name: 'Ana' }]);
    expect(await leaves()).toEqual([expect.stringContaining('reply YES')]);
  });

  it('brings nothing of what is held for a human, until it is let through, and then once', async () => {
    for (let i = 0; i < FOR_ONE_NUMBER; i++) await send();
    await work();
    const before = (await inquiries()).length;
    await send({ 'own.question': 'Once more?' });
    await work();
    expect((await states()).at(-1)).toContain('held');
    expect(await inquiries()).toHaveLength(before);
    const [held] = await world.rows<{ id: string }>(
      `select id from submission where workspace_id = :workspace and state = 'held'`,
    );
    must(await world.within((scope) => releaseSubmission(world.ctx, scope, held!.id, 'test')));
    await work();
    await work();
    expect((await inquiries()).slice(before)).toMatchObject([{ words: 'Once more?' }]);
  });

  it('only signs people up once its source is closed, and takes no source that is not here', async () => {
    await world.within((scope) =>
      scope.run(`update source set closed_at = now() where workspace_id = :workspace`),
    );
    await send();
    await work();
    expect(await inquiries()).toEqual([]);
    expect(await leaves()).toHaveLength(1);
    expect(await change({ source: 'src_none' })).toMatchObject({ ok: false });
    must(await change({ source: null }));
    expect(await change({ source })).toMatchObject({ ok: false });
  });

  it('teaches a source that was mapped already nothing', async () => {
    const mapping = { rules: [{ to: 'number', from: ['/phone'] }], kinds: [], otherKind: 'inquiry' };
    const other = must(
      await world.within((scope) =>
        createSource(world.ctx, scope, { name: 'Portal', program: 'Clear Sky Alerts' }, ME),
      ),
    );
    must(await world.within((scope) => changeSource(world.ctx, scope, other.id, { stamp: 0, mapping }, ME)));
    must(await change({ source: other.id }));
    const kept = await world.within((scope) => scope.em.findOneOrFail(Source, { id: other.id }));
    expect(kept.mapping).toEqual(mapping);
  });
});

it('belongs to its workspace alone', async () => {
  await publish();
  const { id } = await world.another();
  expect(await world.within((scope) => scope.em.find(Form, {}), id)).toEqual([]);
  expect(
    await world.within((scope) => changeForm(world.ctx, scope, form.id, { stamp: 1 } as never, ME), id),
  ).toMatchObject({ ok: false, reason: { code: 'not-found' } });
});
