import { describe, expect, it } from 'vitest';
import { spreadCost } from './cost';
import { reviewWording } from './review';
import { offerSwaps } from './swaps';
import { fieldSource, parseTemplate, templateFromPlain } from './template';
import { confirmationText, frequencyPhrase, missingFromConfirmation } from './wording';

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
    expect(render(hi, { 'person.first_name': name })).toEqual({ text, empty: [] }),
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

describe('cost', () => {
  it('is summed copy by copy, with what makes a copy dear', () => {
    const copies = ['Hi Ana', 'Hi Łucja', `Hi Ana ${'x'.repeat(160)}`, 'Hi Łukasz'];
    expect(spreadCost(copies, 2)).toEqual({
      people: 4,
      parts: 5,
      credits: 10,
      groups: [
        { alphabet: 'UCS-2', parts: 1, people: 2, credits: 4, because: ['Ł'] },
        { alphabet: 'GSM-7', parts: 1, people: 1, credits: 2, because: [] },
        { alphabet: 'GSM-7', parts: 2, people: 1, credits: 4, because: [] },
      ],
    });
  });
});

describe('swaps', () => {
  it('offers plain characters and says what they save', () => {
    const text = `It’s “clear” tonight – come${'.'.repeat(60)}`;
    expect(offerSwaps(text)).toMatchObject({
      text: text.replace('’', "'").replace(/[“”]/g, '"').replace('–', '-'),
      partsBefore: 2,
      partsAfter: 1,
    });
  });
  it('offers nothing when another character keeps the text in UCS-2', () =>
    expect(offerSwaps('It’s 李')).toBeNull());
  it('offers nothing for a plain text', () => expect(offerSwaps("It's")).toBeNull());
  it('leaves the joiners of emoji alone', () => expect(offerSwaps('👨‍👩‍👧')).toBeNull());
});

describe('wording', () => {
  const wording = {
    business: 'Juniper Gap Observatory',
    program: 'Clear Sky Alerts',
    frequency: frequencyPhrase(6, 'month'),
    contact: '(719) 555-0110',
  };
  it('has everything a confirmation needs', () =>
    expect(missingFromConfirmation(confirmationText(wording, 'Welcome!'), wording)).toEqual([]));
  it('says what a text of one’s own lacks', () =>
    expect(missingFromConfirmation('Welcome to Clear Sky Alerts! STOP to stop', wording)).toEqual([
      'the name of the business',
      'how often',
      '"Msg & data rates may apply"',
      'HELP',
    ]));
  it.each([
    [null, 'month', 'Recurring msgs'],
    [1, 'week', 'Up to 1 msg/week'],
  ] as const)('promises %s a %s as %s', (count, period, words) =>
    expect(frequencyPhrase(count, period)).toBe(words),
  );
  it('remarks on what carriers filter', () => {
    const codes = reviewWording('FREE MONEY FOR EVERYBODY WHO ACTS NOW http://bit.ly/x', {
      business: 'Juniper',
      parts: 5,
    }).map(({ code }) => code);
    expect(codes.sort()).toEqual([
      'link-shortener',
      'long',
      'no-brand',
      'opt-out-missing',
      'risky-word',
      'shouting',
    ]);
  });
});
