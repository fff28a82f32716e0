import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { changesOf, decideRow, findingOf, type KnownPerson, type OtherName } from './decide';
import { type RowPerson } from './row';

const SAYS_NOTHING = {
  ...{ lineType: 'mobile', attested: false, agreed: false, permission: undefined },
  ...{ number: '+13035550101' as string | null, email: null as string | null },
} as const;

describe('what becomes of a row', () => {
  const row = (more: Partial<RowPerson> = {}): RowPerson => ({
    number: '+13035550123' as RowPerson['number'],
    further: [],
    fields: {},
    tags: [],
    told: [],
    ...more,
  });
  const known = (more: Partial<KnownPerson> = {}): KnownPerson => ({
    id: 'p',
    firstName: 'Ana',
    lastName: null,
    email: null,
    region: null,
    postalCode: null,
    ...{ zone: null, language: null, stageId: null, ownerId: null },
    fields: { planet: 'Mars' },
    stopped: false,
    consent: 'none',
    erased: false,
    shared: false,
    further: [],
    ...more,
  });

  const wanted = (update: boolean, otherName: OtherName = 'ask') => ({
    onKnown: update ? ('change' as const) : ('leave' as const),
    otherName,
  });

  it.each<[string, Partial<RowPerson>, KnownPerson | null, boolean, string]>([
    ['somebody new', {}, null, true, 'add'],
    ['a value that is new', { last_name: 'Ortiz' }, known(), true, 'update'],
    ['nothing new', { first_name: 'Ana' }, known(), true, 'same'],
    ['somebody here, who is to be left', { last_name: 'Ortiz' }, known(), false, 'left-alone'],
    ['who opted out of the program', { last_name: 'Ortiz' }, known({ consent: 'out' }), true, 'opted-out'],
    ['a further address', { further: [{ kind: 'number', value: '+13035550188' }] }, known(), true, 'update'],
    [
      'a further address that is there',
      { further: [{ kind: 'number', value: '+13035550188' }] },
      known({ further: ['+13035550188'] }),
      true,
      'same',
    ],
    [
      'one of several with an e-mail address',
      { last_name: 'Ortiz' },
      known({ shared: true }),
      true,
      'left-alone',
    ],
    ['somebody new of whom the file says they left', { permission: 'left' }, null, true, 'add'],
    ['of whom the file says they left', { permission: 'left', last_name: 'Ortiz' }, known(), true, 'left'],
    ['the same of who is to be left as they are', { permission: 'left' }, known(), false, 'left'],
    ['the same under another name', { permission: 'left', first_name: 'Benjamin' }, known(), true, 'left'],
    ['who left one program, and now all', { permission: 'left' }, known({ consent: 'out' }), true, 'left'],
    ['who left altogether, once more', { permission: 'left' }, known({ stopped: true }), true, 'opted-out'],
    ['nobody knows of whom', { permission: 'left' }, known({ shared: true }), true, 'left-alone'],
    ['who only did not agree', { permission: 'declined' }, known(), true, 'same'],
    ['who left altogether', {}, known({ stopped: true }), true, 'opted-out'],
    ['who asked to be erased', {}, known({ erased: true }), true, 'opted-out'],
  ])('%s', (_, more, person, update, verdict) =>
    expect(decideRow(row(more), person, wanted(update)).verdict).toBe(verdict),
  );

  it.each<[OtherName, string]>([
    ['ask', 'another-name'],
    ['take', 'update'],
    ['leave', 'left-alone'],
  ])('of a number whose owner goes by another name: %s, %s', (otherName, verdict) =>
    expect(decideRow(row({ first_name: 'Benjamin' }), known(), wanted(true, otherName)).verdict).toBe(
      verdict,
    ),
  );

  it('fills only what is empty where that is wanted', () =>
    expect(
      decideRow(
        row({
          first_name: 'Anna',
          last_name: 'Ortiz',
          zone: 'America/Denver',
          fields: { planet: 'Venus', visits: '3' },
        }),
        known(),
        {
          ...{ onKnown: 'fill', otherName: 'ask' },
        },
      ),
    ).toEqual({
      verdict: 'update',
      changes: { last_name: [null, 'Ortiz'], zone: [null, 'America/Denver'], 'own.visits': [null, '3'] },
    }));

  it('says each change before and after, and never empties a field', () => {
    expect(changesOf(row({ first_name: 'Anna', fields: { planet: 'Venus', visits: '3' } }), known())).toEqual(
      {
        first_name: ['Ana', 'Anna'],
        'own.planet': ['Mars', 'Venus'],
        'own.visits': [null, '3'],
      },
    );
  });

  it('never turns on who is off, whatever the file says', () => {
    fc.assert(
      fc.property(
        fc.record({ first_name: fc.string(), postal_code: fc.string() }),
        fc.boolean(),
        fc.constantFrom({ consent: 'out' as const }, { stopped: true }, { erased: true }),
        (more, update, off) => {
          expect(decideRow(row(more), known(off), wanted(update))).toEqual({
            verdict: 'opted-out',
            changes: {},
          });
        },
      ),
    );
  });

  it.each([
    ['add', 'mobile', true, 'textable'],
    ['add', 'mobile', false, 'no consent'],
    ['add', 'landline', true, 'landline'],
    ['same', null, false, 'already there'],
    ['update', 'mobile', true, 'textable'],
    ['invalid', null, true, 'invalid'],
    ['duplicate', null, true, 'duplicate in file'],
    ['left-alone', null, true, 'already there'],
    ['opted-out', 'mobile', true, 'opted out'],
  ] as const)('%s, %s, consent %s: %s', (verdict, type, consent, finding) =>
    expect(findingOf(verdict, { ...SAYS_NOTHING, lineType: type, attested: consent })).toBe(finding),
  );

  it.each([
    ['add', 'agreed', 'textable'],
    ['add', 'declined', 'no consent'],
    ['add', 'unclear', 'no consent'],
    ['add', 'left', 'opted out'],
    ['left', 'left', 'opted out'],
  ] as const)('%s, where the row says %s: %s', (verdict, permission, finding) =>
    expect(findingOf(verdict, { ...SAYS_NOTHING, attested: true, permission })).toBe(finding),
  );

  it('attested or not, who agreed before is textable', () =>
    expect(findingOf('same', { ...SAYS_NOTHING, agreed: true, permission: 'declined' })).toBe('textable'));

  it.each([
    ['ana@example.org', 'e-mail only'],
    [null, 'chat only'],
  ])('without a number, e-mail %s: %s', (email, finding) =>
    expect(findingOf('add', { ...SAYS_NOTHING, lineType: null, attested: true, number: null, email })).toBe(
      finding,
    ),
  );
});
