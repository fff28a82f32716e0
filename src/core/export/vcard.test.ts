import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { readCard } from '../import/vcard';
import { writeCard, type Card } from './vcard';

describe('cards', () => {
  const card: Card = {
    numbers: ['+13035550123', '+13035550124'],
    firstName: 'Łucja; "the" one',
    lastName: 'Ortiz, Nowak',
    emails: ['ana@example.org', 'lucja@example.org'],
    region: 'CO',
    postalCode: '81201',
    tags: ['walks', 'a, b'],
  };

  it('are read back by our own reader', () => {
    expect(readCard(writeCard(card))).toEqual([
      'Łucja; "the" one',
      'Ortiz, Nowak',
      '+13035550123',
      'ana@example.org',
      'CO',
      '81201',
      'walks, a, b',
      '',
      '+13035550124; lucja@example.org',
      '',
      '',
    ]);
  });

  it('of a number alone are whole', () => {
    const text = writeCard({
      numbers: ['+13035550123'],
      firstName: null,
      lastName: null,
      emails: [],
      region: null,
      postalCode: null,
      tags: [],
    });
    expect(text).toContain('FN:+13035550123');
    expect(readCard(text)![2]).toBe('+13035550123');
  });

  it('have no line longer than 75 octets, and no letter cut', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', minLength: 60, maxLength: 200 }), (name) => {
        const text = writeCard({ ...card, firstName: name.replaceAll(/[\r\n\uFFFD]/g, ' ') });
        for (const line of text.split('\r\n')) expect(Buffer.byteLength(line)).toBeLessThanOrEqual(75);
        expect(text).not.toContain('\uFFFD');
      }),
    );
  });
});
