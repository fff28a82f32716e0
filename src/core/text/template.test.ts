import { describe, expect, it } from 'vitest';
import { tokensOf } from '../wording/reading';
import { countedAs, type FieldForm } from './field-forms';
import fc from 'fast-check';
import { parseMessage } from 'messageformat';
import { fieldSource, formatted, parseTemplate, plainWords, templateFromPlain } from './template';

const render = (source: string, values: Record<string, string | null>) => {
  const parsed = parseTemplate(source);
  if (!parsed.ok) throw new Error(parsed.reason[0]!.message);
  return parsed.value.render(values);
};
const problem = (source: string) => {
  const parsed = parseTemplate(source);
  return parsed.ok ? null : parsed.reason[0]!.message;
};

describe('templates', () => {
  it('reads words and plain fields as MessageFormat does', () => {
    const name = fc.constantFrom('person.first_name', 'person.fields.a_b', 'program.name');
    const words = fc.string({ unit: 'grapheme', maxLength: 12 });
    const piece = fc.oneof(
      words.map(templateFromPlain).filter((source) => !source.startsWith('{{')),
      fc.tuple(name, fc.option(words)).map(([field, fallback]) => fieldSource(field, fallback)),
    );
    const values = fc.dictionary(name, fc.option(fc.oneof(words, fc.integer(), fc.constant(' '))));
    fc.assert(
      fc.property(fc.array(piece), values, (pieces, given) => {
        const source = `Hi ${pieces.join('')}`;
        const message = parseMessage(source);
        expect(plainWords(message)!(given)).toBe(formatted(message)(given));
      }),
      { numRuns: 500 },
    );
  });

  it.each(['{$a :wren:field fallback=$b}', '{$a}', '{|x| :wren:field}', '.local $a = {$b} {{{$a}}}'])(
    'leaves %j to MessageFormat',
    (source) => expect(plainWords(parseMessage(source))).toBeNull(),
  );

  const hi = 'Hi {$person.first_name :wren:field fallback=|sky friend|}!';
  it.each([
    ['Ana', 'Hi Ana!'],
    ['', 'Hi sky friend!'],
    ['   ', 'Hi sky friend!'],
    [null, 'Hi sky friend!'],
    ['{$x}', 'Hi {$x}!'],
    ['李', 'Hi 李!'],
  ])('renders %j', (name, text) =>
    expect(render(hi, { 'person.first_name': name })).toMatchObject({ text, empty: [] }),
  );

  it('reports a field that is empty and has no fallback', () => {
    expect(render('Hi {$person.first_name}', {}).empty).toEqual(['person.first_name']);
    expect(render('Hi {$person.first_name :wren:field}', { 'person.first_name': '' }).empty).toEqual([
      'person.first_name',
    ]);
  });

  it('reads fields of the workspace’s own', () => {
    expect(
      render('Your {$person.fields.visit :wren:field fallback=visit}', { 'person.fields.visit': 'walk' })
        .text,
    ).toBe('Your walk');
  });

  it.each<[string, FieldForm, string | null, string]>([
    ['fields.seats', { count: { one: 'seat', other: 'seats' } }, '1', '1 seat'],
    ['fields.seats', { count: { one: 'seat', other: 'seats' } }, '0', '0 seats'],
    ['fields.seats', { count: { one: 'place | seat', other: 'seats' } }, '1', '1 place | seat'],
    ['fields.seats', { count: { one: 'seat', other: 'seats' } }, 'many', 'many'],
    ['fields.seats', { count: { one: 'seat', other: 'seats' } }, null, 'a few'],
    ['fields.day', { date: 'short' }, '2026-12-04', 'Fri, Dec 4'],
    ['fields.day', { date: 'long' }, '2026-12-04', 'December 4'],
    ['fields.day', { date: 'weekday' }, '2026-12-04', 'Friday'],
    ['fields.day', { date: 'weekday' }, '2026-02-30', '2026-02-30'],
    ['fields.day', { date: 'weekday' }, '', 'a few'],
  ])('%s as %j of %j reads %s', (name, form, value, words) => {
    const source = fieldSource(`person.${name}`, 'a few', form);
    expect(render(source, { [`person.${name}`]: value }).text).toBe(words);
    const [token] = tokensOf(source);
    expect(token).toMatchObject({ from: 0, to: source.length, is: { fallback: 'a few', form } });
  });

  it.each([
    ['Visits', { one: 'visit', other: 'visits' }],
    ['Number of evenings', { one: 'evening', other: 'evenings' }],
    ['Parties', { one: 'party', other: 'parties' }],
    ['Passes', { one: 'pass', other: 'passes' }],
    ['Year', { one: 'year', other: 'years' }],
  ])('%s are counted', (label, words) => expect(countedAs(label)).toEqual(words));

  it('chooses by plural, as MessageFormat does', () => {
    const source =
      '.input {$person.fields.seats :number}\n.match $person.fields.seats\none {{one seat}}\n* {{{$person.fields.seats} seats}}';
    expect(render(source, { 'person.fields.seats': '1' }).text).toBe('one seat');
    expect(render(source, { 'person.fields.seats': '4' }).text).toBe('4 seats');
  });

  it.each([
    ['Hi {first_name}', /not a merge field/],
    ['Hi {$person.shoe_size}', /not a merge field/],
    ['Hi {$person.first_name', /cannot be read/],
    ['a } b', /put \\ before a brace/],
    ['Hi {$person.first_name :magic}', /function :magic/],
  ])('refuses %s with the remedy', (source, message) => expect(problem(source)).toMatch(message));

  it.each(['plain', 'with {braces}', 'back\\slash', '.starts with a stop', '}{'])(
    'keeps %j as characters',
    (words) => expect(render(templateFromPlain(words), {}).text).toBe(words),
  );

  it.each([null, 'friend', 'sky friend', 'a|b\\c', 'José'])(
    'writes the fallback %j so that it can be read',
    (fallback) => {
      const parsed = parseTemplate(fieldSource('person.first_name', fallback));
      expect(parsed.ok && parsed.value.fields).toEqual([{ name: 'person.first_name', fallback }]);
    },
  );
});
