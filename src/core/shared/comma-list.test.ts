import { expect, it } from 'vitest';
import { commaList } from './comma-list';

it('what is written between commas stands alone, and gaps are nothing', () => {
  expect(commaList(' one, two words ,,three,')).toEqual(['one', 'two words', 'three']);
  expect(commaList(' , ')).toEqual([]);
  expect(commaList('')).toEqual([]);
});
