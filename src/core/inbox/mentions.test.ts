import { describe, expect, it } from 'vitest';
import { mentioned } from './mentions';

const TEAM = [
  { id: 'a', name: 'Tess Nightjar' },
  { id: 'b', name: 'Ann Lark' },
  { id: 'c', name: 'Annabel Swift' },
  { id: 'd', name: 'Tess Heron' },
  { id: 'e', name: 'Łucja Sparrow' },
];

describe('a note calls', () => {
  it.each<[string, string[]]>([
    ['@Ann can you take this', ['b']],
    ['ask @annabel, please', ['c']],
    ['@Tess will know', []],
    ['@Tess Heron will know', ['d']],
    ['@ŁUCJA and @ann!', ['b', 'e']],
    ['write to desk@ann.example', []],
    ['@Annabelle', []],
    ['nobody', []],
    ['@', []],
  ])('%s', (note, ids) => expect(mentioned(note, TEAM).map(({ id }) => id)).toEqual(ids));
});
