import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { type Condition } from './condition';
import { evaluate, type PersonRecord } from './evaluate';
import { planOf, type PlanContext } from './plan';
import { condition, FIELDS, THINGS } from './testing/random';

const DENVER = 'America/Denver';
const NOW = Date.UTC(2026, 10, 24, 19, 0);
const context: PlanContext = {
  now: NOW,
  zone: DENVER,
  fields: FIELDS,
  segments: new Map([[THINGS.segment, { any: [] }]]),
};

const nobodySpecial: PersonRecord = {
  values: {},
  labels: new Set(),
  consents: { sms: new Map(), email: new Map(), chat: new Map(), voicemail: new Map() },
  texts: [],
  replies: [],
  engagements: [],
  leavings: [],
  vouchers: [],
  imports: new Set(),
  batches: new Set(),
};
const person = (more: Partial<PersonRecord>): PersonRecord => ({ ...nobodySpecial, ...more });
const meant = (tree: Condition, who: PersonRecord): boolean => {
  const plan = planOf(tree, context);
  if (!plan.ok) throw new Error(plan.reason.code);
  return evaluate(plan.value, who);
};

const voucherIs = (
  state: Extract<Condition, { ask: 'voucher' }>['state'],
  more: { id?: string; has?: boolean; days?: number } = {},
): Condition => ({ ask: 'voucher', id: 'off_a', state, has: true, ...more });
const theirs = (more: Partial<PersonRecord['vouchers'][number]> = {}) => ({
  ...{ offer: 'off_a', usesLeft: 1, expiresAt: NOW + 10 * 86_400_000, used: false },
  ...more,
});

describe('a condition', () => {
  const text = (state: string, more: object = {}) => ({
    broadcast: 'brc_a',
    step: null,
    about: ['itm_a'],
    program: 'prg_a',
    state,
    failure: null,
    at: NOW - 3_600_000,
    ...more,
  });

  it.each<[string, Condition, Partial<PersonRecord>, boolean]>([
    ['nothing asked is everybody', { all: [] }, {}, true],
    ['nothing offered is nobody', { any: [] }, {}, false],
    ['none of nothing is everybody', { none: [] }, {}, true],
    [
      'is, in any case',
      { ask: 'field', field: 'first_name', test: 'is', value: 'łUCJA' },
      { values: { first_name: 'Łucja' } },
      true,
    ],
    [
      'is not holds for the empty',
      { ask: 'field', field: 'first_name', test: 'is-not', value: 'Ana' },
      {},
      true,
    ],
    [
      'empty text is empty',
      { ask: 'field', field: 'first_name', test: 'empty' },
      { values: { first_name: '' } },
      true,
    ],
    [
      'a wildcard is a plain character',
      { ask: 'field', field: 'first_name', test: 'contains', value: '%' },
      { values: { first_name: 'Ana' } },
      false,
    ],
    [
      'starts',
      { ask: 'field', field: 'number', test: 'starts', value: '+1303' },
      { values: { number: '+13035550123' } },
      true,
    ],
    [
      'one of several',
      { ask: 'field', field: 'own.interests', test: 'is', value: 'SUN' },
      { values: { 'own.interests': ['moon', 'Sun'] } },
      true,
    ],
    [
      'none of several',
      { ask: 'field', field: 'own.interests', test: 'is-not', value: 'mars' },
      { values: { 'own.interests': ['moon'] } },
      true,
    ],
    [
      'numbers as numbers, not as text',
      { ask: 'field', field: 'own.visits', test: 'at-least', value: '9' },
      { values: { 'own.visits': '12' } },
      true,
    ],
    [
      'what is no number is empty',
      { ask: 'field', field: 'own.visits', test: 'empty' },
      { values: { 'own.visits': 'many' } },
      true,
    ],
    [
      'before leaves the day out',
      { ask: 'field', field: 'own.born', test: 'before', value: '1990-11-30' },
      { values: { 'own.born': '1990-11-30' } },
      false,
    ],
    [
      'between takes both ends',
      { ask: 'field', field: 'own.born', test: 'between', from: '1990-11-30', to: '1990-11-30' },
      { values: { 'own.born': '1990-11-30' } },
      true,
    ],
    [
      'a birthday within a week',
      { ask: 'field', field: 'own.born', test: 'anniversary', days: 7 },
      { values: { 'own.born': '1990-11-30' } },
      true,
    ],
    [
      'a birthday that was yesterday',
      { ask: 'field', field: 'own.born', test: 'anniversary', days: 7 },
      { values: { 'own.born': '1990-11-23' } },
      false,
    ],
    [
      'an instant late on the local day',
      { ask: 'field', field: 'created', test: 'on', value: '2026-11-23' },
      { values: { created: Date.UTC(2026, 10, 24, 6, 59) } },
      true,
    ],
    [
      'the last 0 days are today',
      { ask: 'field', field: 'created', test: 'in-last', days: 0 },
      { values: { created: Date.UTC(2026, 10, 24, 7, 0) } },
      true,
    ],
    [
      'the next days are not the past',
      { ask: 'field', field: 'created', test: 'in-next', days: 30 },
      { values: { created: Date.UTC(2026, 10, 24, 6, 59) } },
      false,
    ],
    ['never asked', { ask: 'consent', program: 'prg_a', state: 'never', has: true }, {}, true],
    [
      'did not get it',
      { ask: 'sent', has: false, outcome: 'got', of: { broadcast: 'brc_a' } },
      { texts: [text('failed')] },
      true,
    ],
    [
      'got it, though no receipt came',
      { ask: 'sent', has: true, outcome: 'got', of: { broadcast: 'brc_a' } },
      { texts: [text('unconfirmed')] },
      true,
    ],
    [
      'queued is not got',
      { ask: 'sent', has: true, outcome: 'got', of: {} },
      { texts: [text('queued', { at: null })] },
      false,
    ],
    [
      'failed by another reason',
      { ask: 'sent', has: true, outcome: 'failed', failure: 'landline', of: {} },
      { texts: [text('failed', { failure: 'unreachable' })] },
      false,
    ],
    [
      'got some text of the program lately',
      { ask: 'sent', has: true, outcome: 'got', of: { program: 'prg_a' }, days: 1 },
      { texts: [text('delivered')] },
      true,
    ],
    [
      'replied to another broadcast',
      { ask: 'did', has: true, act: 'replied', of: { broadcast: 'brc_b' } },
      { replies: [{ meaning: 'reply', after: text('delivered'), at: NOW }] },
      false,
    ],
    [
      'a reply after nothing counts for anything',
      { ask: 'did', has: true, act: 'replied', of: {} },
      { replies: [{ meaning: 'reply', after: null, at: NOW }] },
      true,
    ],
    [
      'HELP is no reply',
      { ask: 'did', has: true, act: 'replied', of: {} },
      { replies: [{ meaning: 'help', after: null, at: NOW }] },
      false,
    ],
    [
      'left by hand',
      { ask: 'did', has: true, act: 'opted-out', of: { program: 'prg_a' } },
      { leavings: [{ program: 'prg_a', at: NOW }] },
      true,
    ],
    [
      'left after this broadcast',
      { ask: 'did', has: true, act: 'opted-out', of: { broadcast: 'brc_a' } },
      { replies: [{ meaning: 'opt-out', after: text('delivered'), at: NOW }] },
      true,
    ],
    ['a voucher that was got', voucherIs('got'), { vouchers: [theirs()] }, true],
    ['a voucher of another offer', voucherIs('got', { id: 'off_b' }), { vouchers: [theirs()] }, false],
    [
      'one that was not received yet is valid',
      voucherIs('valid'),
      { vouchers: [theirs({ expiresAt: null })] },
      true,
    ],
    ['one that is used up is not', voucherIs('valid'), { vouchers: [theirs({ usesLeft: 0 })] }, false],
    ['one that is over is not', voucherIs('valid'), { vouchers: [theirs({ expiresAt: NOW })] }, false],
    [
      'one that ends in a day ends soon',
      voucherIs('ending'),
      { vouchers: [theirs({ expiresAt: NOW + 86_400_000 })] },
      true,
    ],
    [
      'one that ends in three days does not',
      voucherIs('ending'),
      { vouchers: [theirs({ expiresAt: NOW + 3 * 86_400_000 })] },
      false,
    ],
    [
      'within the days that are asked',
      voucherIs('ending', { days: 3 }),
      { vouchers: [theirs({ expiresAt: NOW + 3 * 86_400_000 })] },
      true,
    ],
    ['let end', voucherIs('ended'), { vouchers: [theirs({ expiresAt: NOW - 1 })] }, true],
    [
      'used in time is not let end',
      voucherIs('ended'),
      { vouchers: [theirs({ expiresAt: NOW - 1, used: true })] },
      false,
    ],
    ['nobody without one has used it', voucherIs('used', { has: false }), {}, true],
    ['exactly none', { ask: 'texts', test: 'exactly', count: 0, days: 7 }, {}, true],
    [
      'exactly one',
      { ask: 'texts', test: 'exactly', count: 1, days: 7 },
      { texts: [text('delivered'), text('failed')] },
      true,
    ],
    [
      'at most one',
      { ask: 'texts', test: 'at-most', count: 1, days: 7 },
      { texts: [text('delivered'), text('submitted')] },
      false,
    ],
    [
      'nested groups',
      {
        all: [
          { none: [{ ask: 'tag', id: 'lab_a', has: true }] },
          { any: [{ ask: 'tag', id: 'lab_b', has: true }, { any: [] }] },
        ],
      },
      { labels: new Set(['lab_b']) },
      true,
    ],
  ])('%s', (_, tree, who, expected) => expect(meant(tree, person(who))).toBe(expected));

  it.each<[string, Condition, string]>([
    ['a field that is gone', { ask: 'field', field: 'own.gone', test: 'empty' }, 'unknown-field'],
    ['a segment that is gone', { ask: 'segment', id: 'seg_x', has: true }, 'unknown-segment'],
    [
      'a number asked of text',
      { ask: 'field', field: 'first_name', test: 'at-least', value: '1' },
      'unfit-test',
    ],
    [
      'a word compared with a number',
      { ask: 'field', field: 'own.visits', test: 'is', value: 'many' },
      'unfit-test',
    ],
    [
      'a day that does not exist',
      { ask: 'field', field: 'created', test: 'between', from: '2026-02-31', to: '2026-03-01' },
      'unfit-test',
    ],
  ])('is refused for %s', (_, tree, code) =>
    expect(planOf(tree, context)).toMatchObject({ ok: false, reason: { code } }),
  );

  it('is refused when a segment holds itself, however far round', () => {
    const segments = new Map<string, Condition>([
      ['a', { all: [{ ask: 'segment', id: 'b', has: true }] }],
      ['b', { none: [{ ask: 'segment', id: 'a', has: true }] }],
    ]);
    expect(planOf({ ask: 'segment', id: 'a', has: true }, { ...context, segments })).toEqual({
      ok: false,
      reason: { code: 'segment-in-itself', segment: 'a' },
    });
  });

  it('obeys De Morgan, whoever is asked', () => {
    fc.assert(
      fc.property(condition, condition, fc.subarray(['lab_a', 'lab_b']), (one, other, labels) => {
        const who = person({ labels: new Set(labels) });
        expect(meant({ none: [one, other] }, who)).toBe(!meant({ any: [one, other] }, who));
        expect(meant({ all: [one, other] }, who)).toBe(
          !meant({ any: [{ none: [one] }, { none: [other] }] }, who),
        );
      }),
    );
  });
});
