import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { joinSpelled, plain, plainLatin, squeeze } from './normalise';
import { withoutFillers } from './words';

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
    expect(['ѕтор', 'ꜱᴛᴏᴘ', 'ʜᴇʟᴘ'].map(plainLatin)).toEqual(['stop', 'stop', 'help']);
    // Latin letters beside them stay what they are.
    expect(plainLatin('tеxt me no more, ЅТОР 10')).toBe('text me no more stop 10');
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
