import { describe, expect, it } from 'vitest';
import { fieldSource, parseTemplate, templateFromPlain } from './template';

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
