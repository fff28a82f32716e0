import { expect, it } from 'vitest';
import { sizeWords } from './numbers';

it.each([
  [0, '1 kB'],
  [26_070, '26 kB'],
  [999_400, '999 kB'],
  [1_000_000, '1.0 MB'],
  [649_127_000, '649.1 MB'],
  [1_200_000_000, '1.2 GB'],
])('a file of %i bytes is told as %s', (bytes, words) => expect(sizeWords(bytes)).toBe(words));
