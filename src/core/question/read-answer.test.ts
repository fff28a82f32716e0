import { describe, expect, it } from 'vitest';
import type { OwnFieldKind } from '../audience/fields';
import type { Asked } from './fields';
import { readAnswer, type Answer } from './read-answer';

const CONTEXT = { today: '2026-11-24', order: 'month-day', partial: null } as const;
const of = (kind: 'name' | 'email' | 'postal_code'): Asked => ({ kind, label: kind });
const own = (kind: OwnFieldKind, options: string[] = []): Asked => ({
  kind: 'own',
  label: 'field',
  own: { kind, options },
});
const said = (asked: Asked, body: string, more = {}): unknown => {
  const answer: Answer = readAnswer(asked, body, { ...CONTEXT, ...more });
  return answer.is === 'value'
    ? answer.values
    : answer.is === 'own'
      ? answer.value
      : answer.is === 'partial'
        ? answer.partial
        : answer.is;
};

describe('a name', () => {
  it.each([
    ["I'm Ana", { first_name: 'Ana' }],
    ['ana ruiz', { first_name: 'Ana', last_name: 'Ruiz' }],
    ['ANA RUIZ!!', { first_name: 'Ana', last_name: 'Ruiz' }],
    ['My name is Jean-Luc de la Cruz.', { first_name: 'Jean-Luc', last_name: 'de la Cruz' }],
    ['hi, this is McKenna O’Neill 😊', { first_name: 'McKenna', last_name: 'O’Neill' }],
    ['Ruiz, Ana', { first_name: 'Ana', last_name: 'Ruiz' }],
    ['its bo', { first_name: 'Bo' }],
    ['me llamo Íñigo', { first_name: 'Íñigo' }],
    ['Name: Tomasz Żak, thanks', { first_name: 'Tomasz', last_name: 'Żak' }],
    ['李娜', { first_name: '李娜' }],
    ['Nguyễn Văn An', { first_name: 'Nguyễn', last_name: 'Văn An' }],
    ['Will Turner', { first_name: 'Will', last_name: 'Turner' }],
    ['Call me Pip', { first_name: 'Pip' }],
    ['ludwig van der berg', { first_name: 'Ludwig', last_name: 'van der Berg' }],
    ['Yes, I am Noor', { first_name: 'Noor' }],
  ])('%j', (body, values) => expect(said(of('name'), body)).toEqual(values));

  it.each([
    ['thanks!', 'other'],
    ['what do you need it for?', 'other'],
    ['who is this', 'other'],
    ['👍', 'other'],
    ['ana@example.org', 'unreadable'],
    ['Ana 7', 'unreadable'],
    ['im busy', 'unreadable'],
    ['skip', 'skip'],
    ['Skip please.', 'skip'],
    ['no thanks', 'skip'],
    ["I'd rather not say", 'skip'],
    ['', 'unreadable'],
    ['a'.repeat(2_000), 'unreadable'],
    ['Is the cafe open that late', 'other'],
    ['Saturday works better for us', 'other'],
    ['we will bring the kids and two dogs', 'other'],
    ['Will it be cancelled if cloudy', 'other'],
    ['I do not give that out to strangers', 'other'],
    ['best text of my week', 'other'],
    ['running late', 'unreadable'],
    ['omw', 'unreadable'],
    ['maybe next week', 'unreadable'],
    ['my daughter signed up for me', 'other'],
  ])('%j is none: %s', (body, is) => expect(said(of('name'), body)).toBe(is));
});

describe('an e-mail address', () => {
  it.each([
    ['ana at mail dot com', 'ana@mail.com'],
    ['Ana.Ruiz@Example.ORG.', 'ana.ruiz@example.org'],
    ["it's ana@example.org, thanks", 'ana@example.org'],
    ['ana @ example . org', 'ana@example.org'],
    ['ana(at)example(dot)org', 'ana@example.org'],
    ['ana underscore r at example dot org', 'ana_r@example.org'],
    ['ana@example,org', 'ana@example.org'],
    ['<ana@example.org>', 'ana@example.org'],
    ['You can reach me at ana@example.org', 'ana@example.org'],
  ])('%j', (body, email) => expect(said(of('email'), body)).toEqual({ email }));

  it.each([
    ['ana@', 'unreadable'],
    ['ana', 'unreadable'],
    ['ana@example.org or ruiz@example.org', 'unreadable'],
    ['none', 'skip'],
    ['why?', 'other'],
  ])('%j is none: %s', (body, is) => expect(said(of('email'), body)).toBe(is));
});

describe('a postal code', () => {
  it.each([
    ['80203-1234', '80203-1234'],
    ['80203 1234', '80203-1234'],
    ['zip 81201', '81201'],
    ['8O2O3', '80203'],
    ['Salida CO 81201.', '81201'],
    ['eight one two oh one', '81201'],
    ['12 Cedar St, Salida, CO 81201', '81201'],
  ])('%j', (body, code) => expect(said(of('postal_code'), body)).toEqual({ postal_code: code }));

  it.each([
    ['8020', 'unreadable'],
    ['802031', 'unreadable'],
    ['00000', 'unreadable'],
    ['81201 or 81211', 'unreadable'],
    ['719-555-0110', 'unreadable'],
    ['we live just across the border in Ontario', 'other'],
  ])('%j is none: %s', (body, is) => expect(said(of('postal_code'), body)).toBe(is));
});

describe('a date', () => {
  it.each([
    ['5th of May 1990', '1990-05-05'],
    ['May 5, 1990', '1990-05-05'],
    ['5/6/1990', '1990-05-06'],
    ['25/6/90', '1990-06-25'],
    ['1990-05-05', '1990-05-05'],
    ['05051990', '1990-05-05'],
    ['I was born on the 2nd of march 71', '1971-03-02'],
    ['5 mai 2004', '2004-05-05'],
    ['february 29 2000', '2000-02-29'],
    ['5th of May', '05-05'],
    ['may fifth', '05-05'],
    ['29 Feb', '02-29'],
    ['yesterday', '2026-11-23'],
  ])('%j', (body, day) => expect(said(own('date'), body)).toBe(day));

  it('is whole once the year is said', () => {
    expect(said(own('date'), '1990', { partial: '05-05' })).toBe('1990-05-05');
    expect(said(own('date'), 'in 84', { partial: '02-29' })).toBe('1984-02-29');
    expect(said(own('date'), '1990', { partial: '02-29' })).toBe('unreadable');
    expect(said(own('date'), 'June 1 1991', { partial: '05-05' })).toBe('1991-06-01');
  });

  it('is read the other way round where the day stands first', () => {
    expect(said(own('date'), '5/6/1990', { order: 'day-month' })).toBe('1990-06-05');
  });

  it.each(['31 April 1990', '2/30', 'in spring', '13/13/1990', 'May 1990'])('%j is none', (body) =>
    expect(said(own('date'), body)).toBe('unreadable'),
  );
});

describe('own fields', () => {
  const planets = ['Mercury', 'Venus', 'Saturn'];
  it.each([
    [own('number'), 'about 12 people', '12'],
    [own('number'), 'four of us', '4'],
    [own('number'), '1,250', '1250'],
    [own('number'), '2 or 3', 'unreadable'],
    [own('yes-no'), 'Yep!', 'yes'],
    [own('yes-no'), 'no', 'no'],
    [own('yes-no'), '👍', 'yes'],
    [own('yes-no'), 'not really', 'no'],
    [own('yes-no'), 'hmm', 'unreadable'],
    [own('one-of', planets), 'saturn', 'Saturn'],
    [own('one-of', planets), '2', 'Venus'],
    [own('one-of', planets), 'Satrun', 'Saturn'],
    [own('one-of', planets), 'definitely venus for me', 'Venus'],
    [own('one-of', ['Saturday', 'Sunday', 'No preference']), 'no preference', 'No preference'],
    [own('one-of', ['Saturday', 'Sunday', 'No preference']), 'no pref', 'No preference'],
    [own('one-of', ['Saturday', 'Sunday', 'No preference']), 'sun.', 'Sunday'],
    [own('one-of', ['Saturday', 'Sunday', 'No preference']), 'not sunday', 'unreadable'],
    [own('one-of', ['Saturday', 'Sunday', 'No preference']), 'anything but sunday', 'unreadable'],
    [own('one-of', planets), 'venus or saturn', 'unreadable'],
    [own('one-of', planets), '9', 'unreadable'],
    [own('several-of', planets), 'venus and 3', ['Venus', 'Saturn']],
    [own('several-of', planets), 'Mercury, pluto', 'unreadable'],
    [own('text'), 'A friend told me.', 'A friend told me.'],
    [own('text'), 'what for?', 'other'],
    [own('text'), 'Thank you so much!', 'other'],
    [own('number'), 'we do not know yet how many of us will come', 'other'],
    [own('one-of', planets), 'I would have to think about that for a while', 'other'],
    [own('yes-no'), 'depends on the weather and my back', 'other'],
  ])('%j %j', (asked, body, value) => expect(said(asked, body)).toEqual(value));
});
