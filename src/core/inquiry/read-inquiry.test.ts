import { describe, expect, it } from 'vitest';
import { NO_MAPPING, type Mapping } from './mapping';
import { parseMapping } from './parse';
import { proposeMapping, rulesOf } from './propose';
import { kindOf, readInquiry } from './read-inquiry';
import { treeOfLetter } from './read-mail';
import { LETTER, PORTAL, WEBSITE } from './testing/samples';
import type { Tree } from './tree';

const context = { own: new Map(), country: 'US' };
const KINDS = [
  { kind: 'school visit', words: ['class trip', 'school'] },
  { kind: 'private evening', words: ['birthday'] },
];
const proposed = (tree: Tree): Mapping => ({
  rules: rulesOf(proposeMapping([tree], [])),
  kinds: KINDS,
  otherKind: 'something else',
});

describe('what is proposed', () => {
  it('reads a portal whole without a click', () => {
    const read = readInquiry(PORTAL, proposed(PORTAL), context);
    expect(read).toMatchObject({
      ok: true,
      value: {
        person: {
          number: '+13035550141',
          email: 'odalys@example.org',
          first_name: 'Odalys',
          last_name: 'Brightwater',
          postal_code: '80202',
        },
        kind: 'school visit',
        words: 'We are 24 children and three teachers. Is the dome free in March?',
        agreed: false,
        noTexts: false,
        senderId: 'ld_88213',
      },
    });
  });

  it('reads a website that sends a list of named values', () => {
    expect(readInquiry(WEBSITE, proposed(WEBSITE), context)).toMatchObject({
      ok: true,
      value: {
        person: { number: '+17205550107', first_name: 'Bo', last_name: 'Marlowe' },
        ...{ kind: 'private evening', words: 'A birthday for twelve.', agreed: true, senderId: 'f-19' },
      },
    });
  });

  it('reads a letter by its labels, and takes the portal’s own address for nobody’s', () => {
    const tree = treeOfLetter(LETTER);
    expect(readInquiry(tree, proposed(tree), context)).toMatchObject({
      ok: true,
      value: {
        person: { number: '+14805550133', email: 'ravi@example.org', first_name: 'Ravi' },
        ...{ kind: 'school visit', words: 'Do you have an hour on a Tuesday?' },
      },
    });
  });

  it('reads a source that sends in two shapes, and takes a second number for a further one', () => {
    const samples: Tree[] = [PORTAL, { name: 'Bo Dale', tel: '303 555 0150', message: 'Hello' }];
    const mapping: Mapping = { ...proposed(PORTAL), rules: rulesOf(proposeMapping(samples, [])) };
    for (const [sample, number] of [
      [samples[0]!, '+13035550141'],
      [samples[1]!, '+13035550150'],
    ] as const)
      expect(readInquiry(sample, mapping, context)).toMatchObject({
        ok: true,
        value: { person: { number } },
      });
    const two = proposeMapping([{ phone: '303 555 0101', mobile: '303 555 0102' }], []);
    expect(two.map(({ to }) => to)).toEqual(['number', 'further']);
  });

  it.each<[what: string, tree: Tree, person: object, more: object]>([
    [
      'a list of fields that are described by themselves',
      {
        event_id: 'e1',
        form_response: {
          answers: [
            { type: 'text', text: 'Ana', field: { id: 'a', ref: 'first_name' } },
            { type: 'phone_number', phone_number: '+13035550103', field: { id: 'b', ref: 'phone' } },
            { type: 'boolean', boolean: true, field: { id: 'c', ref: 'sms_consent' } },
            { type: 'choice', choice: { label: 'Birthday' }, field: { id: 'd', ref: 'kind' } },
          ],
        },
      },
      { first_name: 'Ana', number: '+13035550103' },
      { agreed: true, kind: 'private evening', senderId: 'e1' },
    ],
    [
      'fields with lists of values',
      {
        field_data: [
          { name: 'full name', values: ['Ana Ruiz'] },
          { name: 'phone', values: ['303 555 0104'] },
        ],
      },
      { first_name: 'Ana', last_name: 'Ruiz', number: '+13035550104' },
      {},
    ],
    [
      'a box that sends its sentence, under a name that says nothing',
      { input_2: '303 555 0105', 'input_5.1': 'I agree to get texts' },
      { number: '+13035550105' },
      { agreed: true },
    ],
    [
      'what an element and its attributes say',
      {
        Lead: {
          Contact: {
            Name: { value: 'Ana Ruiz', part: 'full' },
            Phone: { value: '303 555 0106', type: 'voice' },
          },
          Agent: { Phone: '303 555 0199' },
        },
      },
      { first_name: 'Ana', last_name: 'Ruiz', number: '+13035550106', further: [] },
      { kind: 'something else' },
    ],
    [
      'whoever asks, and not the agent of what is asked about',
      { phones: [{ type: 'mobile', number: '303 555 0107' }], listing: { agent_phone: '303 555 0199' } },
      { number: '+13035550107', further: [] },
      { kind: 'something else' },
    ],
  ])('reads %s', (_, tree, person, more) =>
    expect(readInquiry(tree, proposed(tree), context)).toMatchObject({
      ok: true,
      value: { person, ...more },
    }),
  );

  it('takes the number under an owner for theirs where there is no other', () => {
    expect(proposeMapping([{ owner: { phone: '303 555 0101' } }], [])[0]!.to).toBe('number');
    const both = proposeMapping([{ office: { phone: '303 555 0199' }, phone: '303 555 0101' }], []);
    expect(both.map(({ to }) => to)).toEqual([null, 'number']);
  });

  it('takes the address of a machine for nobody’s, and somebody’s own letter for theirs', () => {
    const letter = { fromName: 'Lead desk', subject: 'New', text: 'Please see the portal.', rows: [] };
    const machine = treeOfLetter({ ...letter, from: 'leads@night-sky-guide.example.org' });
    expect(proposeMapping([machine], []).filter(({ to }) => to === 'email')).toEqual([]);
    const own = treeOfLetter({
      from: 'ana@example.org',
      fromName: 'Ana Ruiz',
      subject: 'A visit',
      text: 'Call 303-555-0101',
      rows: [],
    });
    expect(readInquiry(own, proposed(own), context)).toMatchObject({
      ok: true,
      value: {
        person: { email: 'ana@example.org', first_name: 'Ana', number: '+13035550101' },
        words: 'Call 303-555-0101',
      },
    });
  });

  it('says why, and gives each target once', () => {
    const proposals = proposeMapping([PORTAL], []);
    const by = (pointer: string) => proposals.find((one) => one.pointer === pointer)!;
    expect(by('/contact/phoneNumber')).toMatchObject({ to: 'number', because: 'its values look so' });
    expect(by('/request/visitType')).toMatchObject({ to: 'kind', because: 'it is called “visitType”' });
    expect(by('/listing/name')).toMatchObject({ to: null, because: '' });
    const targets = proposals.flatMap(({ to }) => to ?? []);
    expect(new Set(targets).size).toBe(targets.length);
  });
});

describe('a mapping', () => {
  const rules = (...rules: Mapping['rules']): Mapping => ({ ...NO_MAPPING, rules });

  it('makes one field of several, and several of one', () => {
    const tree = { first: 'Ana', last: 'Orr', tel: '303 555 0101', who: 'Bo Dale' };
    const joined = rules({ to: 'full_name', from: ['/first', '/last'] }, { to: 'number', from: ['/tel'] });
    expect(readInquiry(tree, joined, context)).toMatchObject({
      value: { person: { first_name: 'Ana', last_name: 'Orr' } },
    });
    const split = rules({ to: 'full_name', from: ['/who'] }, { to: 'number', from: ['/tel'] });
    expect(readInquiry(tree, split, context)).toMatchObject({
      value: { person: { first_name: 'Bo', last_name: 'Dale' } },
    });
  });

  it('says a value where none came', () => {
    const mapping = rules(
      { to: 'number', from: ['/tel'] },
      { to: 'words', from: ['/text'], otherwise: 'Asked for a call.' },
    );
    expect(readInquiry({ tel: '303 555 0101' }, mapping, context)).toMatchObject({
      value: { words: 'Asked for a call.' },
    });
  });

  it('leaves out what is no value of its field, and says so', () => {
    const mapping = rules({ to: 'number', from: ['/tel'] }, { to: 'email', from: ['/mail'] });
    const read = readInquiry({ tel: '303 555 0101', mail: 'none' }, mapping, context);
    expect(read.ok && read.value.person.told).toEqual(['“none” is no e-mail address and was left out']);
  });

  it.each<[string, Tree, Mapping]>([
    ['nothing is mapped', { a: 'x' }, NO_MAPPING],
    ['no number and no e-mail came', { tel: '' }, rules({ to: 'number', from: ['/tel'] })],
    ['the number is none', { tel: '12' }, rules({ to: 'number', from: ['/tel'] })],
  ])('cannot read it where %s', (_, tree, mapping) => {
    const read = readInquiry(tree, mapping, context);
    expect(read.ok).toBe(false);
    expect(!read.ok && read.reason.length).toBeGreaterThan(10);
  });

  it.each([
    ['Class trip', '', 'school visit'],
    ['class_trip', '', 'school visit'],
    ['', 'My daughter has her Birthday in May', 'private evening'],
    ['PRIVATE EVENING for a school', '', 'private evening'],
    ['preschooler', '', 'other'],
    ['', '', 'other'],
  ])('takes “%s” / “%s” for %s', (chosen, words, kind) => {
    expect(kindOf(chosen, words, { rules: [], kinds: KINDS, otherKind: 'other' })).toBe(kind);
  });

  it('is read from a page or the API, or says what is wrong with it', () => {
    const good = { rules: [{ to: 'number', from: ['/a'] }], kinds: KINDS, otherKind: 'inquiry' };
    expect(parseMapping(good, [])).toEqual({ ok: true, value: good });
    const wrong = (change: object) => {
      const read = parseMapping({ ...good, ...change }, ['visits']);
      return read.ok ? null : read.reason;
    };
    expect(wrong({ rules: [{ to: 'own.visits', from: ['/n'] }] })).toBeNull();
    expect(wrong({ rules: [{ to: 'own.other', from: ['/n'] }] })).toMatch(/^rules\.0:/);
    expect(wrong({ rules: [{ to: 'number', from: ['a'] }] })).toMatch(/JSON Pointers/);
    expect(wrong({ rules: [{ to: 'number', from: [] }] })).toMatch(/needs a place/);
    expect(
      wrong({
        rules: [
          { to: 'email', from: ['/a'] },
          { to: 'email', from: ['/b'] },
        ],
      }),
    ).toMatch(/twice/);
    expect(wrong({ kinds: [{ kind: '', words: [] }] })).toMatch(/^kinds\.0:/);
    expect(wrong({ otherKind: '' })).toMatch(/^otherKind/);
    expect(parseMapping(null, []).ok).toBe(false);
  });
});
