import { describe, expect, it } from 'vitest';
import { keepFirst, proposeChoices, type MergeSide } from './merge';

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
