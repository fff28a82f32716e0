import { describe, expect, it } from 'vitest';
import { offerSwaps } from './swaps';

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
