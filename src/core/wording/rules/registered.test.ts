import { describe, expect, it } from 'vitest';
import { checkWording } from '../check';
import type { WordingContext } from '../context';
import { contextOf } from '../testing/world';

const PLAIN = { links: false, calls: false, content: ['events' as const] };
const said = (
  text: string,
  registered: WordingContext['registered'] = PLAIN,
  more: Partial<WordingContext> = {},
) =>
  checkWording(text, { ...contextOf('o'), registered, ...more })
    .filter(({ code }) => code === 'not-registered')
    .map(({ message, place }) => [
      /was (.*)\. Hand/.exec(message)![1],
      place && text.slice(place.from, place.to),
    ]);

describe('what was told to the reviewer of its numbers', () => {
  it.each([
    [
      'Juniper Gap: tonight, https://juniper-gap.example.org/tonight',
      'told that texts hold no links',
      'https://juniper-gap.example.org/tonight',
    ],
    [
      'Juniper Gap: call (719) 555-0110 for a seat.',
      'told that texts hold no numbers to call',
      '(719) 555-0110',
    ],
    ['Juniper Gap: members get 20% off in the shop.', 'not told of offers and discounts', '20% off'],
    ['Juniper Gap: the roof leaks. Donate on Friday.', 'not told of asking for donations', 'Donate'],
    ['Juniper Gap: vote for the dark-sky rule.', 'not told of politics and voting', 'vote for'],
  ])('speaks of %s', (text, what, place) => expect(said(text)).toEqual([[what, place]]));

  it.each([
    'Juniper Gap: clear tonight, doors at eight.',
    'Juniper Gap: the offered seats are gone, 20 people came.',
    'Juniper Gap: thank you for your vote of thanks.',
  ])('says nothing of %s', (text) => expect(said(text)).toEqual([]));

  it('says nothing of what was told, where nothing was, or of an e-mail', () => {
    const text = 'Juniper Gap: 20% off, https://juniper-gap.example.org or (719) 555-0110';
    expect(said(text)).toHaveLength(3);
    expect(said(text, { links: true, calls: true, content: ['offers'] })).toEqual([]);
    expect(said(text, null)).toEqual([]);
    expect(said(text, PLAIN, { channel: 'email' })).toEqual([]);
  });
});
