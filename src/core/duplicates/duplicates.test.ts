import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { NO_CONSENT, type Consent, type ConsentState } from '../consent/ledger';
import { likeNames } from './like';
import { keepFirst, mergeConsent, proposeChoices, type MergeSide } from './merge';

const name = (text: string) => {
  const [first = null, last = null] = text.split('|');
  return { first: first || null, last: last || null };
};

describe('names', () => {
  it.each([
    ['Ana|Ortiz', 'ana|ORTIZ', true],
    ['Ana|Ortiz', 'Ortiz|Ana', true],
    ['Łucja|Nowak', 'Łucja|Nowák', true],
    ['Ana|Ortiz', 'A.|Ortiz', true],
    ['Katherine|Holloway', 'Katharine|Holloway', true],
    ['Katherine|Holloway', 'Kathrine|Holloway', true],
    ["D'Arcy|Lee", 'DArcy|Lee', true],
    ['Ana|Ortiz', 'Eva|Ortiz', false],
    ['Ana|Ortiz', 'Ana|Farrow', false],
    ['Ana|', 'Ana|', false],
    ['Ana Maria|Ortiz', 'Ana|Ortiz', false],
    ['|', '|', false],
    ['Mark|Hill', 'Marc|Hall', false],
  ])('%s and %s: %s', (a, b, like) => expect(likeNames(name(a), name(b))).toBe(like));

  it('are alike both ways, and each is like itself', () => {
    const word = fc.string({ unit: fc.constantFrom('a', 'b', 'é', 'Z'), minLength: 1, maxLength: 6 });
    fc.assert(
      fc.property(word, word, word, word, (a, b, c, d) => {
        const [one, other] = [
          { first: a, last: b },
          { first: c, last: d },
        ];
        expect(likeNames(one, other)).toBe(likeNames(other, one));
        expect(likeNames(one, one)).toBe(true);
      }),
    );
  });
});

const side = (more: Partial<MergeSide> = {}): MergeSide => ({
  id: 'a',
  number: '+13035550101',
  firstName: 'Ana',
  lastName: null,
  email: null,
  region: null,
  postalCode: null,
  zone: null,
  stageId: null,
  ownerId: null,
  fields: {},
  createdAt: 1,
  lastWroteAt: null,
  texts: 0,
  ...more,
});

describe('a merge', () => {
  it('keeps the record that more was written with, else the older', () => {
    expect(keepFirst(side({ texts: 3 }), side({ texts: 9 }))).toBe(false);
    expect(keepFirst(side({ createdAt: 5 }), side({ createdAt: 4 }))).toBe(false);
    expect(keepFirst(side(), side())).toBe(true);
  });

  it('proposes what is there, the longer name, and the number that agreed', () => {
    const one = side({ email: 'ana@example.org', fields: { planet: 'Mars' } });
    const other = side({
      id: 'b',
      number: '+13035550102',
      firstName: 'Anastasia',
      lastName: 'Ortiz',
      email: 'a@example.org',
      fields: { visits: '3' },
    });
    expect(proposeChoices(one, other, false, true)).toEqual({
      number: 'other',
      firstName: 'other',
      lastName: 'other',
      email: 'one',
      'own.planet': 'one',
      'own.visits': 'other',
    });
    expect(proposeChoices(one, other, true, true).number).toBe('one');
    expect(proposeChoices(one, one, true, true)).toEqual({});
  });
});

const consent = (state: ConsentState): Consent => ({ ...NO_CONSENT, state });
const STATES: ConsentState[] = ['none', 'asked', 'in', 'out', 'lapsed'];

describe('merged consent', () => {
  it.each<[ConsentState, ConsentState, ConsentState]>([
    ['in', 'out', 'out'],
    ['out', 'in', 'out'],
    ['in', 'lapsed', 'lapsed'],
    ['in', 'asked', 'asked'],
    ['in', 'none', 'in'],
    ['none', 'in', 'none'],
    ['none', 'asked', 'none'],
    ['none', 'out', 'out'],
    ['none', 'none', 'none'],
  ])('%s with %s is %s', (survivor, other, merged) =>
    expect(mergeConsent(consent(survivor), consent(other))).toBe(merged),
  );

  it('never lets in who was not in before, and never loses an opt-out', () => {
    for (const survivor of STATES)
      for (const other of STATES) {
        const merged = mergeConsent(consent(survivor), consent(other));
        if (merged === 'in') expect(survivor).toBe('in');
        if (survivor === 'out' || other === 'out') expect(merged).toBe('out');
      }
  });
});
