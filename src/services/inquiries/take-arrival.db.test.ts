import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { DAY, HOUR, MINUTE } from '@/core/shared/instant';
import { addAccount } from '@/services/access/create-workspace';
import { erasePerson } from '@/services/people/erase-person';
import { InquiryDesk, MAPPING } from '@/services/testing/inquiries';
import { addPerson, must } from '@/services/testing/people';
import { line, says, SequenceDesk } from '@/services/testing/sequences';
import { makeWorld, NOON, NUMBER, phone, type World } from '@/services/testing/world';
import { changeSource, newKey, playUnreadAgain } from './sources';
import { doorOf } from './intake';

const ME = { name: 'test', accountId: null };
let world: World;
const desk = new InquiryDesk(() => world);
const sequences = new SequenceDesk(() => world);
const { bring, work, arrivals, inquiries, people, consents, source } = desk;
beforeEach(async () => {
  world = await makeWorld();
  await desk.program();
});
afterEach(() => world.close());

const ASKED = {
  ...{ id: 'ld-1', phone: '(303) 555-0100', mail: 'ana@example.org', name: 'Ana Orr' },
  ...{ about: 'Class trip', text: 'We are 24. Is March free?' },
};

describe('an inquiry', () => {
  it('makes somebody of whoever asks, with what they asked, and permits its answer', async () => {
    await bring(await source(), ASKED);
    await work();
    expect(await arrivals()).toMatchObject([{ state: 'taken' }]);
    expect(await inquiries()).toMatchObject([
      { kind: 'school visit', words: 'We are 24. Is March free?', twin_of: null, held: null },
    ]);
    expect(await people()).toMatchObject([
      {
        ...{ number: phone(0), email: 'ana@example.org', first_name: 'Ana', last_name: 'Orr' },
        source: 'inquiry, Night Sky Guide',
      },
    ]);
    expect(await consents()).toEqual([
      { channel: 'email', address: 'ana@example.org', state: 'in', method: 'inquiry' },
      { channel: 'sms', address: phone(0), state: 'in', method: 'inquiry' },
    ]);
  });

  it('is kept once, sent again by the same id or with the same content, whatever the hour', async () => {
    const one = await source();
    await bring(one, ASKED, { deliveryId: 'd1' });
    await bring(one, { ...ASKED, text: 'Sent again, with other words' }, { deliveryId: 'd1' });
    await bring(one, { ...ASKED, id: 'ld-2' });
    world.clock.at = NOON + 13 * HOUR;
    await bring(one, { ...ASKED, id: 'ld-2' });
    expect(await arrivals()).toHaveLength(2);
    // Worked on side by side, either of two with the same id may be the one that counts.
    await work();
    world.clock.at = NOON + 2 * DAY;
    await bring(one, { ...ASKED, id: 'ld-2' });
    await work();
    // After a day the same content may be meant anew; the sender's own id says that it is not.
    expect((await arrivals()).map(({ state }) => state)).toEqual(['taken', 'taken', 'known']);
  });

  it('fills in what is empty of somebody here, and tells what it says otherwise', async () => {
    await addPerson(world, phone(0), { first_name: 'Maria', last_name: 'Lopez' });
    await bring(await source(), ASKED);
    await work();
    expect(await people()).toMatchObject([
      { first_name: 'Maria', last_name: 'Lopez', email: 'ana@example.org' },
    ]);
    expect((await inquiries())[0]!.told).toEqual(['they called themselves “Ana Orr”']);
  });

  it('of one person over three portals in one evening is one person and one answer, all kept', async () => {
    const [first, second, third] = [
      await source(),
      await source({}, 'Star Tours'),
      await source({}, 'Website'),
    ];
    await bring(first, { ...ASKED, phone: '' });
    await work();
    world.clock.at += 10 * MINUTE;
    await bring(second, ASKED);
    await work();
    world.clock.at += 10 * MINUTE;
    await bring(third, { ...ASKED, mail: '', about: 'Birthday' });
    await work();
    expect(await people()).toMatchObject([{ number: phone(0), email: 'ana@example.org' }]);
    const kept = await inquiries();
    expect(kept.map(({ kind, twin_of: twin }) => [kind, twin])).toEqual([
      ['school visit', null],
      ['school visit', kept[0]!.id],
      ['private evening', null],
    ]);
  });

  it('of a family’s address with another name is somebody else', async () => {
    const one = await source();
    await bring(one, { ...ASKED, phone: '' });
    await work();
    await bring(one, { ...ASKED, id: 'ld-2', name: 'Tom Verhoeven', phone: '303 555 0101' });
    await work();
    expect((await people()).map(({ first_name: name, number }) => [name, number])).toEqual([
      ['Ana', null],
      ['Tom', phone(1)],
    ]);
  });

  it('that cannot be read is kept, and is read when the mapping was mended', async () => {
    const one = await source({ mapping: { ...MAPPING, rules: [{ to: 'number', from: ['/tel'] }] } });
    await bring(one, ASKED);
    await work();
    expect(await arrivals()).toMatchObject([
      { state: 'unread', because: expect.stringMatching(/missing|empty|number/i) as string },
    ]);
    const changed = must(
      await world.within((scope) =>
        changeSource(world.ctx, scope, one.id, { stamp: one.stamp, mapping: MAPPING }, ME),
      ),
    );
    await work();
    expect(await arrivals()).toMatchObject([{ state: 'taken' }]);
    expect(await world.within((scope) => playUnreadAgain(world.ctx, scope, changed.id))).toBe(0);
    expect(await inquiries()).toHaveLength(1);
  });

  it.each([
    'Is March free? Please e-mail, do not text me.',
    '¿Hay lugar en marzo? Prefiero correo, no me manden mensajes.',
    'Is March free? And take me off your list, please.',
  ])('that asks for no texts brings no consent to them, and is read by a human first: %s', async (text) => {
    await bring(await source(), { ...ASKED, text });
    await work();
    expect(await inquiries()).toMatchObject([{ held: 'no-texts' }]);
    expect(await consents()).toMatchObject([{ channel: 'email', state: 'in' }]);
  });

  it('of somebody who asked to be erased leaves nothing behind', async () => {
    const person = await addPerson(world, phone(0), { first_name: 'Ana' });
    must(await world.within((scope) => erasePerson(world.ctx, scope, person, 'test')));
    await bring(await source(), ASKED);
    await work();
    expect(await arrivals()).toMatchObject([{ state: 'dropped', because: 'they asked to be erased' }]);
    expect(await world.rows(`select content from arrival where workspace_id = :workspace`)).toEqual([
      { content: {} },
    ]);
    expect(await inquiries()).toEqual([]);
  });

  it('goes with whoever is erased, whether it could be read or not', async () => {
    const one = await source();
    await bring(one, ASKED);
    await bring(one, { ...ASKED, id: '2', phone: '303-555-0100 (old)', mail: '' });
    await work();
    expect((await arrivals()).map(({ state }) => state)).toEqual(['taken', 'unread']);
    const [person] = await people();
    must(await world.within((scope) => erasePerson(world.ctx, scope, person!.id, 'test')));
    expect([await arrivals(), await inquiries()]).toEqual([[], []]);
  });

  it('that poisons the worker backs off, and the others go on', async () => {
    const one = await source();
    await world.poison('inquiry', `new.words = 'poison'`);
    await bring(one, { ...ASKED, text: 'poison' });
    await bring(one, { ...ASKED, id: 'ld-2', phone: '303 555 0101' });
    await work();
    expect((await arrivals()).map(({ state }) => state)).toEqual(['received', 'taken']);
    await world.cure('inquiry');
    world.clock.at += HOUR;
    await work();
    expect((await arrivals()).map(({ state }) => state)).toEqual(['taken', 'taken']);
  });

  it('is nobody else’s: another workspace sees nothing of it', async () => {
    const other = await world.another();
    await bring(await source(), ASKED);
    await work();
    const seen = await world.within(
      (scope) =>
        scope.rows(
          `select 1 from inquiry where workspace_id = :workspace union all select 1 from arrival where workspace_id = :workspace`,
        ),
      other.id,
    );
    expect(seen).toEqual([]);
  });
});

describe('who had opted out', () => {
  it('is not written to by an inquiry alone: a teammate sees it', async () => {
    await world.texts(phone(0), 'sky');
    await world.texts(phone(0), 'stop');
    const id = await sequences.publish([line('a', { at: 'once' }, says('Thank you for asking!'))], {
      begins: [{ on: 'request' }],
    });
    await bring(await source({ begins: [{ sequence: id, kind: '' }] }), ASKED);
    await work();
    await sequences.settle();
    expect(await inquiries()).toMatchObject([{ held: 'opted-out' }]);
    expect(await sequences.sent()).toEqual([]);
    const waiting = await world.rows(
      `select 1 from person where workspace_id = :workspace and waiting_since is not null and stopped_at is not null`,
    );
    expect(waiting).toHaveLength(1);
  });
});

describe('the answer', () => {
  const answering = (body: string, more = {}) =>
    sequences.publish([line('a', { at: 'once' }, says(body))], { begins: [{ on: 'request' }], ...more });

  /** Sequences belong to the program for inquiries here. */
  const inProgram = async () => ({
    program: (
      await world.rows<{ id: string }>(
        `select id from program where workspace_id = :workspace and purpose = 'inquiry'`,
      )
    )[0]!.id,
  });

  it('goes at one in the morning, by kind, in the words of the inquiry and of who has it', async () => {
    world.clock.at = Date.UTC(2026, 10, 25, 8, 2);
    const tess = await addAccount(world.ctx, world.workspaceId, {
      ...{ email: 'tess@example.org', name: 'Tess Nightjar', password: 'x', role: 'teammate' },
    });
    const school = await answering(
      'Hi {$person.first_name :wren:field fallback=friend}, {$sender.first_name :wren:field fallback=|the team|} here about your {$inquiry.kind :wren:field fallback=visit}, asked at {$inquiry.source :wren:field fallback=|our website|}.',
      await inProgram(),
    );
    const other = await answering('Another kind', { ...(await inProgram()), name: 'Other' });
    await bring(
      await source({
        begins: [
          { sequence: school, kind: 'school visit' },
          { sequence: other, kind: 'private evening' },
        ],
        assignment: { among: [tess], by: 'turn', keepsOwner: true, onlyOnDuty: false, kinds: {} },
      }),
      ASKED,
    );
    await work();
    await sequences.settle();
    expect(await sequences.bodies()).toEqual([
      'Hi Ana, Tess here about your school visit, asked at Night Sky Guide.',
    ]);
    expect(await people()).toMatchObject([{ owner_id: tess }]);
    expect(await world.rows(`select kind, account_id from notice where workspace_id = :workspace`)).toEqual([
      { kind: 'inquiry.received', account_id: tess },
    ]);
    const [letter] = await world.rows<{ subject: string; body: string }>(
      `select subject, body from teammate_mail where workspace_id = :workspace`,
    );
    expect(letter!.subject).toBe('Ana Orr: school visit, by Night Sky Guide');
    expect(letter!.body).not.toMatch(/303|ana@/);
  });

  it('is told to who has it by text, to their own proved number and to no other', async () => {
    const accounts: string[] = [];
    for (const [i, name] of ['Tess Nightjar', 'June Oakhanger'].entries()) {
      const id = await addAccount(world.ctx, world.workspaceId, {
        ...{ email: `t${i}@example.org`, name, password: 'x', role: 'teammate' },
      });
      accounts.push(id);
      await addPerson(world, phone(50 + i));
      // June typed her number, and never proved it.
      await world.rows(
        `insert into own_number (workspace_id, account_id, number, proved_at) values (:workspace, :id, :number, :proved::timestamptz) returning account_id`,
        { id, number: phone(50 + i), proved: i === 0 ? new Date(NOON) : null },
      );
    }
    await world.rows(
      `update membership set text_inquiries = true where workspace_id = :workspace returning 1`,
    );
    const assignment = { among: accounts, by: 'turn', keepsOwner: true, onlyOnDuty: false, kinds: {} };
    const one = await source({ assignment });
    for (const i of [0, 1]) await bring(one, { ...ASKED, id: `${i}`, phone: `303 555 010${i}` });
    await work();
    const told = await world.rows<{ address: string; body: string }>(
      `select address, body from message where workspace_id = :workspace and kind = 'told'`,
    );
    expect(told.map(({ address }) => address)).toEqual([phone(50)]);
    expect(told[0]!.body).toMatch(/^Ana Orr: school visit, by Night Sky Guide\. http\S+\/inbox\/per_\w+$/);
    expect(told[0]!.body).not.toMatch(/555/);
  });

  it('goes once for one who asks twice in an evening', async () => {
    const id = await answering('Thank you!', { ...(await inProgram()), again: { rule: 'anew' } });
    const one = await source({ begins: [{ sequence: id, kind: '' }] });
    const two = await source({ begins: [{ sequence: id, kind: '' }] }, 'Star Tours');
    await bring(one, ASKED);
    await bring(two, ASKED);
    await work();
    await sequences.settle();
    expect(await sequences.bodies()).toEqual(['Thank you!']);
  });

  it.each([
    ['any source and kind', {}, ['Thank you!']],
    ['its kind', { kind: 'school visit' }, ['Thank you!']],
    ['another kind', { kind: 'private evening' }, []],
    ['another source', { source: 'Planetarium Club' }, []],
  ])('goes where the sequence itself begins with inquiries: %s', async (_, of, said) => {
    await answering('Thank you!', {
      ...{ ...(await inProgram()), again: { rule: 'anew' } },
      begins: [
        { on: 'inquiry', ...of, ...('source' in of ? { source: (await source({}, of.source)).id } : {}) },
      ],
    });
    await bring(await source(), ASKED);
    await bring(await source({}, 'Star Tours'), ASKED);
    await work();
    await sequences.settle();
    expect(await sequences.bodies()).toEqual(said);
  });

  it('may be followed up for a week, and for longer once they said YES to what it asked', async () => {
    const id = await sequences.publish(
      [
        line('a', { at: 'once' }, says('Thank you! {$program.ask :wren:field}')),
        line('b', { at: 'after', minutes: 2 * 1440, from: 'before' }, says('Is there anything else?')),
        line('c', { at: 'after', minutes: 10 * 1440, from: 'before' }, says('Spring evenings begin.')),
        line('d', { at: 'after', minutes: 1440, from: 'before' }, says('Summer too.')),
      ],
      { begins: [{ on: 'request' }], ...(await inProgram()) },
    );
    const one = await source({ begins: [{ sequence: id, kind: '' }] });
    await bring(one, ASKED);
    await bring(one, { ...ASKED, id: '2', phone: '303 555 0101', mail: '', name: 'Bo' });
    await work();
    await sequences.settle();
    expect(await sequences.bodies()).toEqual(
      Array(2).fill(
        'Thank you! Reply YES to get School & Group Visits texts from Juniper Gap Observatory as well. Up to 4 msgs/month. Msg & data rates may apply.',
      ),
    );
    await world.texts(phone(1), 'Yes please', NUMBER);
    expect((await consents()).filter(({ channel }) => channel === 'sms')).toMatchObject([
      { address: phone(0), method: 'inquiry' },
      { address: phone(1), method: 'reply', state: 'in' },
    ]);
    await sequences.pass(14 * DAY, 6 * HOUR);
    const bodies = await sequences.bodies();
    const times = (body: string) => bodies.filter((one) => one === body).length;
    expect([times('Is there anything else?'), times('Spring evenings begin.'), times('Summer too.')]).toEqual(
      [2, 1, 1],
    );
    const blocked = await world.rows<{ code: string }>(
      `select distinct because as code from enrolment_line where workspace_id = :workspace and because is not null`,
    );
    expect(blocked.map(({ code }) => code)).toEqual(['inquiry-over']);
  });

  it('takes a YES for nothing where none was asked for', async () => {
    const id = await answering('Thank you!', await inProgram());
    await bring(await source({ begins: [{ sequence: id, kind: '' }] }), ASKED);
    await work();
    await sequences.settle();
    await world.texts(phone(0), 'YES');
    expect((await consents()).filter(({ channel }) => channel === 'sms')).toMatchObject([
      { method: 'inquiry' },
    ]);
  });

  it('rests on the box they ticked where its words are known', async () => {
    await bring(await source({ wording: 'I agree to texts about visits' }), { ...ASKED, agree: 'on' });
    await work();
    expect(await consents()).toMatchObject([{ method: 'form' }, { method: 'form' }]);
    const [event] = await world.rows<{ evidence: { wording: string } }>(
      `select evidence from consent_event where workspace_id = :workspace limit 1`,
    );
    expect(event!.evidence.wording).toBe('I agree to texts about visits');
  });

  it('again is permitted as long again by asking again, and joins nobody anew', async () => {
    const one = await source();
    await bring(one, ASKED);
    await work();
    world.clock.at += 20 * DAY;
    await bring(one, { ...ASKED, id: '2' });
    await work();
    const since = await world.rows<{ since: Date }>(
      `select since from consent_state where workspace_id = :workspace and channel = 'sms'`,
    );
    expect(since[0]!.since.getTime()).toBe(NOON + 20 * DAY);
    const joined = await world.rows(
      `select 1 from happening where workspace_id = :workspace and kind = 'program.joined'`,
    );
    expect(joined).toHaveLength(2);
  });
});

describe('the address of a source', () => {
  it('is changed without a gap: the one before counts for some hours', async () => {
    const one = await source();
    const changed = must(
      await world.within((scope) => newKey(world.ctx, scope, one.id, { of: 'address', hours: 2 }, ME)),
    );
    expect(changed.key).not.toBe(one.key);
    expect([await doorOf(world.ctx, one.key), await doorOf(world.ctx, changed.key)]).toMatchObject([
      { id: one.id },
      { id: one.id },
    ]);
    world.clock.at += 3 * HOUR;
    expect([await doorOf(world.ctx, one.key), await doorOf(world.ctx, changed.key)]).toMatchObject([
      null,
      { id: one.id },
    ]);
  });

  it('keeps both secrets for some hours', async () => {
    const one = await source({ signs: 'standard' });
    const changed = must(
      await world.within((scope) => newKey(world.ctx, scope, one.id, { of: 'secret', hours: 1 }, ME)),
    );
    expect((await doorOf(world.ctx, one.key))!.secrets).toEqual([changed.secret, one.secret]);
    world.clock.at += 2 * HOUR;
    expect((await doorOf(world.ctx, one.key))!.secrets).toEqual([changed.secret]);
  });

  it('is nobody’s once it is closed, or its program is archived', async () => {
    const one = await source({ closed: true });
    expect(await doorOf(world.ctx, one.key)).toMatchObject({ closed: true });
    expect(await doorOf(world.ctx, 'nosuchkey00')).toBeNull();
  });
});
