import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { suggest, wordsOf, type Prepared } from './suggest';

const PREPARED: Prepared[] = [
  {
    id: 'price',
    question: 'What does it cost?',
    said: ['how much is a ticket', 'price for two adults?', 'cost for kids'],
  },
  { id: 'parking', question: 'Where can we park?', said: ['is there parking', 'where do we leave the car'] },
  { id: 'weather', question: null, said: ['is it on if it rains', 'cloudy tonight, still open?'] },
  { id: 'fresh', question: 'Are dogs allowed?', said: [] },
];

describe('a prepared answer is proposed', () => {
  it.each<[string, string]>([
    ['Hi, how much are tickets for my kids?', 'price'],
    ['cost?', 'price'],
    ['Can we PARK near the dome', 'parking'],
    ['will it be open when it rains', 'weather'],
    ['can I bring my dogs?', 'fresh'],
  ])('%s', (words, id) => expect(suggest(words, PREPARED)[0]?.id).toBe(id));

  it.each(['', 'Thank you!', 'ok', '👍👍', 'Zebras', 'is it you'])('not for %j', (words) =>
    expect(suggest(words, PREPARED)).toEqual([]),
  );

  it('with the words that speak for it', () => {
    expect(suggest('is there parking for a bus', PREPARED)[0]).toMatchObject({
      id: 'parking',
      because: expect.arrayContaining(['parking']),
    });
    const chairs = [{ id: 'chairs', question: null, said: ['can we bring a chair'] }, ...PREPARED];
    expect(suggest('May I bring chairs', chairs)[0]!.because.sort()).toEqual(['bring', 'chairs']);
  });

  it('at most three, the likeliest first, each once, with a score between none and sure', () => {
    const text = fc.array(fc.constantFrom('ticket', 'park', 'rain', 'dog', 'the', 'moon'), { maxLength: 6 });
    const one = fc.record({
      said: fc.array(
        text.map((words) => words.join(' ')),
        { maxLength: 5 },
      ),
    });
    fc.assert(
      fc.property(text, fc.array(one, { maxLength: 8 }), (words, all) => {
        const found = suggest(
          words.join(' '),
          all.map(({ said }, i) => ({ id: `t${i}`, question: null, said })),
        );
        expect(found.length).toBeLessThanOrEqual(3);
        expect(new Set(found.map(({ id }) => id)).size).toBe(found.length);
        for (const { score, because } of found) {
          expect(score).toBeGreaterThanOrEqual(0.3);
          expect(score).toBeLessThanOrEqual(1 + 1e-9);
          expect(because.every((word) => words.join(' ').includes(word))).toBe(true);
        }
        expect(found.map(({ score }) => score)).toEqual(
          found.map(({ score }) => score).sort((a, b) => b - a),
        );
      }),
    );
  });

  it('from words of any script, marks and endings aside', () => {
    expect(wordsOf('Où sont les ÉTOILES? https://a.example/x парковка')).toEqual([
      ...['ou', 'sont', 'les', 'etoil', 'парковка'],
    ]);
  });
});
