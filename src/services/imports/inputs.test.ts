import { describe, expect, it } from 'vitest';
import { TARGET_WORDS } from '@/core/import/columns';
import { readInput } from '@/services/kit/validation';
import { ImportInput } from './inputs';

const taken = async (to: string): Promise<boolean> =>
  (await readInput(ImportInput, { name: 'Fair', columns: [{ to }] })).ok;

describe('a mapping', () => {
  it.each([...Object.keys(TARGET_WORDS), 'own.favourite_planet'])('takes what is proposed: %s', async (to) =>
    expect(await taken(to)).toBe(true),
  );

  it.each(['planet', 'own.', 'own.Planet', 'numbers', ''])('refuses “%s”', async (to) =>
    expect(await taken(to)).toBe(false),
  );
});
