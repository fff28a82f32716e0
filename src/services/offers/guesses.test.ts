import { expect, it } from 'vitest';
import { unlessGuessed } from './guesses';

it('looks nothing up any more for whoever guesses, and for everybody else as ever', async () => {
  let looked = 0;
  const none = async () => ((looked += 1), null);
  for (let i = 0; i < 40; i++) await unlessGuessed('198.51.100.1', none);
  expect(looked).toBe(30);
  expect(await unlessGuessed('198.51.100.1', async () => 'there')).toBe('too-many');
  expect(await unlessGuessed('198.51.100.2', async () => 'there')).toBe('there');
});

it('counts nothing for codes that are there', async () => {
  for (let i = 0; i < 100; i++) expect(await unlessGuessed('198.51.100.3', async () => i)).toBe(i);
});
