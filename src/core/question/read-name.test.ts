import { describe, expect, it } from 'vitest';
import { readName, splitName } from './read-name';

const named = (text: string): string | null => {
  const name = readName(text);
  return name && [name.first_name, name.last_name].filter(Boolean).join(' | ');
};

describe('a name in an answer', () => {
  it.each([
    ['Ana', 'Ana'],
    ['ana', 'Ana'],
    ['ANA MARIA LUNA', 'Ana | Maria Luna'],
    ["hi, i'm ana luna!", 'Ana | Luna'],
    ['My name is Jean-Luc de la Tour', 'Jean-Luc | de la Tour'],
    ["It's O'Neill, Pat", 'Pat | O’Neill'.replace('’', "'")],
    ['Luna, Ana', 'Ana | Luna'],
    ['Call me Sam please', 'Sam'],
    ['you can call me Ish', 'Ish'],
    ['je m’appelle Zoé', 'Zoé'],
    ['me llamo Íñigo', 'Íñigo'],
    ['Ich heiße Jörg', 'Jörg'],
    ['Nguyễn Văn An', 'Nguyễn | Văn An'],
    ['Björk 🎉', 'Björk'],
    ['this is Mo, nice to meet you', 'Mo'],
    ['St. John', 'St. | John'],
  ])('%s: %s', (text, name) => expect(named(text)).toBe(name));

  it.each([
    'yes',
    'no thanks',
    'who is this?',
    'I’m busy',
    'wrong number',
    'ana@example.org',
    '719 555 0110',
    'we are looking for four tickets on friday',
    'STOP',
    '🎉',
    '',
    'x'.repeat(200),
  ])('is none in “%s”', (text) => expect(named(text)).toBeNull());
});

describe('a name in a field for names', () => {
  it.each([
    ['ana luna', { first_name: 'Ana', last_name: 'Luna' }],
    ['Luna, Ana', { first_name: 'Ana', last_name: 'Luna' }],
    ['VAN DER BERG, JAN', { first_name: 'Jan', last_name: 'van der Berg' }],
    ['Good', { first_name: 'Good' }],
    ['McKenna O', { first_name: 'McKenna', last_name: 'O' }],
  ])('%s', (text, name) => expect(splitName(text)).toEqual(name));

  it.each(['', '  ', '12', 'a@b', '<b>Ana</b>', 'Ana; drop table'])('is none in “%s”', (text) =>
    expect(splitName(text)).toBeNull(),
  );
});
