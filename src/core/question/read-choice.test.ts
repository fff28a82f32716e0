import { describe, expect, it } from 'vitest';
import { choiceIn } from './read-choice';

const SKY = ['Moon', 'Planets', 'Galaxies', 'Comets'];
const several = (said: string) => choiceIn({ kind: 'several-of', options: SKY }, said);

describe('several of a list', () => {
  it.each([
    ['all of them', SKY],
    ['everything except comets', ['Moon', 'Planets', 'Galaxies']],
    ['all but the moon', ['Planets', 'Galaxies', 'Comets']],
    ['todo menos comets', ['Moon', 'Planets', 'Galaxies']],
    ['everything but moon and comets', ['Planets', 'Galaxies']],
    ['moon planets comets', ['Moon', 'Planets', 'Comets']],
    ['moon/planets', ['Moon', 'Planets']],
    ['1 3', ['Moon', 'Galaxies']],
    ['love comets & the moon', ['Comets', 'Moon']],
    ['com', ['Comets']],
  ])('%j', (said, meant) => expect([...several(said)!].sort()).toEqual([...meant].sort()));

  it.each([
    ...[
      'not comets',
      'moon, no comets',
      'no moon',
      'moon, not comets',
      'planets but no galaxies',
      'all except',
      'everything but moon planets galaxies comets',
    ],
    ...['1-3', 'moon & stars', 'the first two', '5', ''],
  ])('%j is not surely understood', (said) => expect(several(said)).toBeNull());
});

describe('one of a list', () => {
  const days = (said: string) =>
    choiceIn({ kind: 'one-of', options: ['Saturday', 'Sunday', 'No preference'] }, said);

  it('is known by how it begins, where one begins so', () => {
    expect(
      [days('sat'), days('SUN.'), days('no pref'), days('s'), days('su')].map((found) => found?.[0]),
    ).toEqual([...['Saturday', 'Sunday', 'No preference', undefined, undefined]]);
  });

  it('is none where it names what is not meant, or two', () => {
    for (const said of ['not sunday', 'anything but sunday', 'Saturday not Sunday', 'sun or sat', 'either'])
      expect(`${said}: ${days(said)}`).toBe(`${said}: null`);
  });
});
