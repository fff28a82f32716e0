import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type KnownThings } from './check';
import { leaves, type Condition } from './condition';
import type { AskableField } from './fields';
import { phraseOf, sentenceOf } from './sentence';
import { condition, FIELDS } from './testing/random';

const ALL_FIELDS: ReadonlyMap<string, AskableField> = new Map([
  ...FIELDS,
  ['place', { name: 'place', label: 'state', kind: 'choice', options: [{ value: 'CO', label: 'Colorado' }] }],
]);
const known: KnownThings = {
  fields: ALL_FIELDS,
  names: new Map([
    ['prg_a', 'Clear Sky Alerts'],
    ['brc_a', 'Saturn week'],
    ['lab_a', 'walks'],
    ['lab_b', 'members'],
    ['seg_a', 'Regulars'],
    ['off_a', 'Free hour'],
  ]),
};

describe('reading back', () => {
  it('is a sentence a person can read', () => {
    expect(
      sentenceOf(
        {
          all: [
            { ask: 'consent', program: 'prg_a', state: 'in', has: true },
            { ask: 'field', field: 'place', test: 'is', value: 'CO' },
            { ask: 'sent', has: false, outcome: 'got', of: { broadcast: 'brc_a' } },
            { ask: 'did', has: true, act: 'replied', of: {}, days: 90 },
          ],
        },
        known,
      ),
    ).toBe(
      'People in Clear Sky Alerts, in Colorado, who did not get “Saturn week” and who replied in the last 90 days',
    );
  });

  it.each<[Condition, string]>([
    [{ all: [] }, 'Everybody'],
    [
      { ask: 'voucher', id: 'off_a', state: 'ending', has: true, days: 2 },
      'People with a voucher that ends within 2 days of “Free hour”',
    ],
    [
      { ask: 'voucher', id: 'off_a', state: 'used', has: false },
      'People who did not use a voucher of “Free hour”',
    ],
    [{ any: [] }, 'Nobody'],
    [{ none: [{ ask: 'tag', id: 'lab_a', has: true }] }, 'Everybody but people with the tag walks'],
    [
      {
        all: [
          { ask: 'tag', id: 'lab_a', has: true },
          {
            any: [
              { ask: 'tag', id: 'lab_b', has: true },
              { ask: 'segment', id: 'seg_a', has: false },
            ],
          },
        ],
      },
      'People with the tag walks and (with the tag members or not in the segment Regulars)',
    ],
    [
      { all: [{ none: [{ ask: 'tag', id: 'lab_x', has: true }] }] },
      'People not (with the tag something gone)',
    ],
    [
      { ask: 'texts', test: 'at-most', count: 1, days: 7, program: 'prg_a' },
      'People who got at most 1 text of Clear Sky Alerts in the last 7 days',
    ],
    [
      { ask: 'sent', has: true, outcome: 'failed', failure: 'landline', of: {} },
      'People who missed (landline, cannot get texts) any text',
    ],
    [
      { ask: 'field', field: 'first_name', test: 'any-of', values: ['Ana', 'Bo', 'Cy'] },
      'People whose first_name is any of Ana, Bo or Cy',
    ],
    [
      { ask: 'field', field: 'own.born', test: 'anniversary', days: 1 },
      'People whose own.born comes round within 1 day',
    ],
  ])('%j', (tree, sentence) => expect(sentenceOf(tree, known)).toBe(sentence));

  it('names every condition of any tree', () => {
    fc.assert(
      fc.property(condition, (tree) => {
        const sentence = sentenceOf(tree, known);
        expect(sentence).not.toMatch(/undefined|\[object/);
        for (const leaf of leaves(tree)) expect(sentence).toContain(phraseOf(leaf, known));
      }),
    );
  });
});
