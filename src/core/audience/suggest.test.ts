import { describe, expect, it } from 'vitest';
import type { AskableField } from './fields';
import { parseCondition } from './parse';
import { suggest } from './suggest';
import { FIELDS } from './testing/random';

const ALL_FIELDS: ReadonlyMap<string, AskableField> = new Map([
  ...FIELDS,
  ['place', { name: 'place', label: 'state', kind: 'choice', options: [{ value: 'CO', label: 'Colorado' }] }],
]);

describe('typing a condition', () => {
  const things = [
    { kind: 'segment' as const, id: 'seg_a', name: 'Colorado regulars' },
    { kind: 'broadcast' as const, id: 'brc_a', name: 'Saturn week' },
    { kind: 'segment' as const, id: 'seg_b', name: 'Texted too often' },
    { kind: 'tag' as const, id: 'lab_a', name: 'walks' },
    { kind: 'program' as const, id: 'prg_a', name: 'Clear Sky Alerts' },
    { kind: 'sequence' as const, id: 'seq_a', name: 'Welcome' },
    { kind: 'step' as const, id: 'seq_a.l2', name: 'Welcome: come on Friday' },
  ];
  const words = (typed: string) => suggest(typed, things, ALL_FIELDS).map((one) => one.words);

  it.each([
    ['in colorado', 'in Colorado'],
    ['saturn', 'who did not get “Saturn week”'],
    ['WALKS', 'with the tag walks'],
    ['without walks', 'without the tag walks'],
    ['clear sky', 'in Clear Sky Alerts'],
    ['replied', 'who replied to “Saturn week”'],
    ['welcome', 'who replied to the sequence “Welcome”'],
    ['come on friday', 'who replied to the line “Welcome: come on Friday”'],
    ['colorado', 'in Colorado'],
    ['not tagged walks', 'without the tag walks'],
    ['not tagged', 'without the tag walks'],
    ['no walks', 'without the tag walks'],
    ['replied 60', 'who replied in the last 60 days'],
    ['not replied 60', 'who did not reply in the last 60 days'],
    ['first_name empty', 'whose first_name is empty'],
    ['first_name not empty', 'whose first_name is not empty'],
    ['not colorado', 'whose state is not Colorado'],
    ['no e-mail', 'whose email is empty'],
    ['has e-mail', 'whose email is not empty'],
    ['never texted', 'whose last_text is empty'],
    ['never replied', 'whose last_reply is empty'],
    ['joined', 'in Clear Sky Alerts'],
    ['opted out', 'who left Clear Sky Alerts'],
    ['joined in the last 2 weeks', 'who joined Clear Sky Alerts in the last 14 days'],
    ['joined clear sky last month', 'who joined Clear Sky Alerts in the last 30 days'],
    ['opted out this year', 'who left Clear Sky Alerts in the last 365 days'],
    ['unsubscribed from clear', 'who left Clear Sky Alerts'],
    ['no consent', 'who never joined Clear Sky Alerts'],
    ['birthday', 'whose own.born comes round within 7 days'],
    ['area_code 720', 'whose area_code is 720'],
    ['area_code is 720', 'whose area_code is 720'],
    ['own.planet Saturn', 'whose own.planet is Saturn'],
    ['people in Colorado', 'in Colorado'],
    ['lives in colorado', 'in Colorado'],
    ['replied in the last 2 weeks', 'who replied in the last 14 days'],
    ['not replied in 6 months', 'who did not reply in the last 180 days'],
    ['silent for a year', 'who did not reply in the last 365 days'],
    ['clicked in the past month', 'who clicked in the last 30 days'],
    ['did not click', 'who did not click in the last 90 days'],
    ['created this week', 'whose created is in the last 7 days'],
    ['created after 2026-05-01', 'whose created is after 2026-05-01'],
    ['texted more than 5 times', 'who got at least 6 texts in the last 7 days'],
    ['texts 3 weeks', 'who got at least 3 texts in the last 21 days'],
    ['failed in the last 10 days', 'who missed any text in the last 10 days'],
    ['missing first_name', 'whose first_name is empty'],
    ['first_name starts with Zo', 'whose first_name starts with Zo'],
    ['own.visits at least 3', 'whose own.visits is at least 3'],
    ['720', 'whose area_code is 720'],
    ['has an e-mail', 'whose email is not empty'],
  ])('%s offers first: %s', (typed, first) => {
    expect(words(typed)[0]).toBe(first);
  });

  it('keeps a value as it was typed, and takes no word of a question for one', () => {
    expect(suggest('own.planet  Saturn V', things, ALL_FIELDS)[0]!.leaf).toMatchObject({ value: 'Saturn V' });
    for (const typed of ['own.planet is', 'own.planet e', 'own.planet not empty', 'own.planet is empty'])
      expect(words(typed).join()).not.toMatch(/own\.planet (?:is|contains) (?!empty|not empty)/);
  });

  it('offers one of each kind when nothing is typed, nothing when nothing fits, and only what can be read', () => {
    expect(words('').length).toBeGreaterThan(5);
    expect(words('zzzz')).toEqual([]);
    for (const { leaf } of suggest('', things, ALL_FIELDS, 100)) expect(parseCondition(leaf).ok).toBe(true);
    for (const { leaf } of suggest('e', things, ALL_FIELDS, 500)) expect(parseCondition(leaf).ok).toBe(true);
  });
});
