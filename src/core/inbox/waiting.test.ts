import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { HOUR, MINUTE } from '../shared/instant';
import {
  answerBy,
  asksSomething,
  moreUrgent,
  nearness,
  WAITS_WHY,
  WHY,
  whyWaits,
  type Came,
  type WaitsWhy,
} from './waiting';

describe('words are a question', () => {
  it.each([
    'What does it cost?',
    'how much for two',
    'Hi, is the tour on tonight',
    'Thanks! Can my son come too',
    'We would love to. Are dogs allowed',
    'let me know if seats are left',
    'quanto custa?',
    'いつですか？',
    'هل هناك مكان؟',
    'Is it "late"?',
    'really?? 😀',
  ])('%s', (words) => expect(asksSomething(words)).toBe(true));

  it.each([
    'Thank you so much',
    'See you there!',
    'ok',
    'We will be four',
    'https://juniper-gap.example/?a=1',
    'I did that already.',
    '👍',
    '',
    'Saturday; we come',
  ])('not: %s', (words) => expect(asksSomething(words)).toBe(false));
});

describe('somebody waits', () => {
  const came = (more: Partial<Came> = {}): Came => ({
    ...{ meaning: 'reply', words: 'thanks', files: 0, nearKeyword: null, after: null },
    ...more,
  });

  it.each<[string, Partial<Came>, WaitsWhy | null]>([
    ['since it may be an opt-out, whatever else it says', { meaning: 'unclear', words: 'why?' }, 'opt-out'],
    ['for nobody after a keyword', { meaning: 'keyword' }, null],
    ['for nobody after a STOP', { meaning: 'opt-out' }, null],
    ['with a word that is nearly a keyword', { nearKeyword: 'sky' }, 'near-miss'],
    ['with a question', { words: 'when?' }, 'asks'],
    ['with an answer to what was asked', { after: { channel: 'sms', asked: true } }, 'answers'],
    ['after a voicemail', { after: { channel: 'voicemail', asked: false } }, 'voicemail'],
    ['with a file', { files: 2 }, 'picture'],
    ['with words', {}, 'reply'],
  ])('%s', (_, more, why) => expect(whyWaits(came(more))).toBe(why));

  it('until a time that never comes before they began to, the more urgent the sooner', () => {
    const why = fc.constantFrom(...WAITS_WHY);
    fc.assert(
      fc.property(why, why, fc.nat(1e6), (a, b, since) => {
        const first = moreUrgent(a, b);
        expect([a, b]).toContain(first);
        expect(moreUrgent(b, a)).toBe(first);
        expect(answerBy(since, first, HOUR)).toBeGreaterThanOrEqual(since);
        expect(WHY[first].share).toBeLessThanOrEqual(WHY[first === a ? b : a].share);
      }),
    );
  });

  it('in time, near it and over it', () => {
    expect([0, 50, 60, 61].map((minutes) => nearness(HOUR, minutes * MINUTE))).toEqual([
      ...['in time', 'near', 'over', 'over'],
    ]);
  });
});
