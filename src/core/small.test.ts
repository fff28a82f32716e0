import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { may, ROLE_WORDS, type Permission, type Role } from './access/roles';
import { KEYWORD_WORDS, parseKeyword } from './keyword/keyword';
import { closestKeyword } from './keyword/near-miss';
import { joinSpelled, plain, plainLatin, squeeze } from './reply/normalise';
import { OPT_OUT_WORDS, withoutFillers } from './reply/words';
import { broadcastResult, type BroadcastCounts } from './results/broadcast-result';
import { differ, wilson } from './results/rates';
import { makeId } from './shared/ids';
import { parseInstant, toIso } from './shared/instant';
import { isMergeField, labelOf, MERGE_FIELDS } from './text/fields';

describe('keywords', () => {
  it.each([
    ['SKY', 'sky'],
    [' "Sky!" ', 'sky'],
    ['Café', 'cafe'],
    ['night walk', 'night walk'],
    ['METEOR24', 'meteor24'],
  ])('%j is compared as %s', (input, word) => expect(parseKeyword(input)).toEqual({ ok: true, value: word }));

  it.each([
    ['', 'keyword-empty'],
    ['!?', 'keyword-empty'],
    ['a', 'keyword-too-short'],
    ['x'.repeat(31), 'keyword-too-long'],
    ['STOP', 'keyword-reserved'],
    ['Stop!', 'keyword-reserved'],
    ['opt-out', 'keyword-reserved'],
    ['help', 'keyword-reserved'],
    ['Info', 'keyword-reserved'],
    ['START', 'keyword-reserved'],
    ['yes', 'keyword-reserved'],
    ['n', 'keyword-reserved'],
    ['dome', 'keyword-taken'],
  ] as const)('%j is refused: %s', (input, reason) => {
    expect(parseKeyword(input, ['dome'])).toEqual({ ok: false, reason });
    expect(KEYWORD_WORDS[reason]).toMatch(/^keyword: /);
  });

  it('can never be a word that opts out', () => {
    for (const word of OPT_OUT_WORDS) expect(parseKeyword(word).ok).toBe(false);
  });

  it('are near only within one slip, two for long ones', () => {
    const keywords = ['sky', 'dome', 'meteor', 'constellation'];
    const near = (text: string) => closestKeyword(text, keywords);
    expect([
      near('dmoe'),
      near('dom'),
      near('domes'),
      near('doom'),
      near('metor'),
      near('metr'),
      near('constelation'),
      near('consttelation x'),
    ]).toEqual(['dome', 'dome', 'dome', null, 'meteor', null, 'constellation', 'constellation']);
  });
});

describe('the plainest dress', () => {
  it.each([
    ['  Stop!!  ', 'stop'],
    ['“DON’T stop”', 'dont stop'],
    ['arrêt', 'arret'],
    ['ｓｔｏｐ', 'stop'],
    ['s\u200bt\u00adop', 'stop'],
    ['a—b…c', 'a b c'],
    ['🛑', ''],
  ])('of %j is %j', (text, expected) => expect(plain(text)).toBe(expected));

  it('reads letters that look Latin as Latin, and is the same twice', () => {
    expect(plainLatin('ЅТОР')).toBe('stop');
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 40 }), (text) => {
        expect(plain(plain(text))).toBe(plain(text));
      }),
    );
  });

  it.each([
    ['s t o p', 'stop'],
    ['a b', null],
    ['stop it', null],
  ])('joins %j to %j', (text, joined) => expect(joinSpelled(text)).toBe(joined));

  it('squeezes runs and takes fillers off, but never everything', () => {
    expect(squeeze('stooopp')).toBe('stop');
    expect([
      withoutFillers('please stop now'),
      withoutFillers('please'),
      withoutFillers('ok thanks'),
    ]).toEqual(['stop', 'please', 'thanks']);
  });
});

describe('rates', () => {
  it.each([
    [3, 40, 0.0258, 0.1986],
    [0, 10, 0, 0.2775],
    [10, 10, 0.7225, 1],
    [500, 1000, 0.4691, 0.5309],
  ])('%d of %d lies between %d and %d', (count, of, low, high) => {
    const rate = wilson(count, of);
    expect(rate.low).toBeCloseTo(low, 3);
    expect(rate.high).toBeCloseTo(high, 3);
  });

  it('calls 3 of 40 against 5 of 41 no difference, and 30 of 1000 against 8 of 1000 one', () => {
    expect(differ(wilson(3, 40), wilson(5, 41))).toBe(false);
    expect(differ(wilson(30, 1000), wilson(8, 1000))).toBe(true);
    expect(differ(wilson(0, 0), wilson(8, 1000))).toBe(false);
  });

  it('keep the share inside its interval, and the interval inside nought to one', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 10_000 }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (of, part) => {
          const { share, low, high } = wilson(Math.round(of * part), of);
          expect(low).toBeGreaterThanOrEqual(0);
          expect(high).toBeLessThanOrEqual(1);
          expect(share! - low).toBeGreaterThanOrEqual(-1e-9);
          expect(high - share!).toBeGreaterThanOrEqual(-1e-9);
        },
      ),
    );
  });

  it('of a broadcast are over delivered people, with what has no receipt apart', () => {
    const counts: BroadcastCounts = {
      queued: 1,
      sending: 2,
      submitted: 3,
      clicks: 1,
      delivered: 80,
      failed: 20,
      unconfirmed: 4,
      blocked: 5,
      cancelled: 6,
      parts: 100,
      credits: 100,
      replies: 8,
      optOuts: 100,
      failures: [],
      blocks: [],
    };
    const result = broadcastResult(counts);
    expect(result).toMatchObject({
      people: 121,
      open: 3,
      deliveryRate: { count: 80, of: 100 },
      replyRate: { count: 8, of: 80 },
      optOutRate: { count: 80, of: 80 },
    });
  });
});

describe('roles', () => {
  const all: Permission[] = [
    'read',
    'answer',
    'send',
    'edit-programs',
    'edit-people',
    'manage-keys',
    'manage-team',
  ];
  it.each([
    ['owner', all],
    ['manager', all.filter((one) => one !== 'manage-team')],
    ['teammate', ['read', 'answer', 'edit-people']],
    ['counter', []],
  ] as [Role, Permission[]][])('%s may do just this', (role, allowed) => {
    expect(all.filter((permission) => may(role, permission))).toEqual(allowed);
    expect(ROLE_WORDS[role].word).toBe(role);
  });
});

describe('ids and instants', () => {
  it('sort by time and are never the same', () => {
    const bytes = fc.uint8Array({ minLength: 11, maxLength: 11 });
    fc.assert(
      fc.property(fc.nat({ max: 4e12 }), fc.nat({ max: 4e12 }), bytes, bytes, (a, b, one, two) => {
        if (a < b) expect(makeId('txt', a, one) < makeId('txt', b, two)).toBe(true);
        expect(makeId('txt', a, one)).toMatch(/^txt_[0-9a-z]{20}$/);
      }),
    );
  });

  it.each([
    '2026-11-24T10:10:00Z',
    '2026-11-24T10:10:00-07:00',
    '2026-11-24T10:10Z',
    '2026-11-24T10:10:00.250+0100',
  ])('reads %s', (text) => expect(parseInstant(text)).toBe(Date.parse(text)));
  it.each(['', 'now', '2026-11-24', '2026-11-24T10:10:00', '2026-13-24T10:10:00Z', '24.11.2026 10:10'])(
    'refuses %j',
    (text) => expect(parseInstant(text)).toBeNull(),
  );
  it('reads back what it writes', () =>
    expect(parseInstant(toIso(1_764_000_000_123))).toBe(1_764_000_000_123));
});

describe('merge fields', () => {
  it('are a closed list and the workspace’s own', () => {
    for (const { name, label } of MERGE_FIELDS)
      expect([isMergeField(name), labelOf(name)]).toEqual([true, label]);
    expect([
      isMergeField('person.fields.favourite_planet'),
      isMergeField('person.fields.Favourite'),
      isMergeField('person.shoe'),
    ]).toEqual([true, false, false]);
    expect(labelOf('person.fields.favourite_planet')).toBe('favourite planet');
  });
});
