import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { featuresOf, undisguised } from './features';

describe('a disguised word', () => {
  it.each([
    ['st0p', 'stop'],
    ['5top texting', 'stop texting'],
    ['stoppppp', 'stop'],
    ['unsubsribe me', 'unsubscribe me'],
    ['sotp', 'stop'],
    ['pl3as3', 'please'],
  ])('%s is read as %s', (text, clear) => expect(undisguised(text)).toBe(clear));

  it.each(['at 7pm', 'call 303 555 0142', '4th of july', '10x', 'in 15min', 'room 12'])(
    'numbers stay numbers: %s',
    (text) => expect(undisguised(text)).toBe(text),
  );
});

describe('features of a reply', () => {
  it('are its words, pairs of them, and those a little apart', () => {
    const found = featuresOf('take the kids off');
    expect(found).toEqual(
      expect.arrayContaining([
        'w:take',
        'b:^ take',
        'b:take the',
        's:take _ kids',
        's:take __ off',
        'b:off $',
      ]),
    );
  });

  it('tell what stands under a negation, as far as it reaches', () => {
    const found = featuresOf('dont you ever stop texting me');
    expect(found).toEqual(expect.arrayContaining(['n:you', 'n:ever', 'n:stop']));
    expect(found).not.toContain('n:texting');
  });

  it('tell who does what to what, and pieces only of words that are unknown', () => {
    const found = featuresOf('remove me from this liste');
    expect(found).toEqual(
      expect.arrayContaining(['h:remove', 'r:^ remove', 'r:remove me', 'r:remove me list']),
    );
    expect(featuresOf('zodiacs')).toEqual(expect.arrayContaining(['c:_zod', 'c:acs_']));
    expect(found.filter((one) => one.startsWith('c:_rem'))).toEqual([]);
  });

  it('say which rules apply', () => {
    expect(featuresOf('dont stop texting me')).toContain('x:goes on');
    expect(featuresOf('stop texting me')).toEqual(
      expect.arrayContaining(['x:leaves', expect.stringMatching(/^x:leaves \S/) as string]),
    );
  });

  it('are each there once, whatever is written, and of a long reply those of its beginning', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 400 }), (text) => {
        const found = featuresOf(text);
        expect(new Set(found).size).toBe(found.length);
        expect(found).toContain('all');
      }),
    );
    const long = `${'word '.repeat(60)}stop`;
    expect(featuresOf(long)).not.toContain('w:stop');
  });
});
