import { describe, expect, it } from 'vitest';
import { checkSequence } from '@/core/sequence/check';
import { parseSequence } from '@/core/sequence/parse';
import { READY_MADE } from './ready-made';

describe.each(READY_MADE.map((one) => [one.name, one] as const))('%s', (_, { document }) => {
  it('is a document like any other', () =>
    expect(parseSequence(JSON.parse(JSON.stringify(document('prg_a'))))).toMatchObject({ ok: true }));

  it('has nothing to mend but what a workspace has to choose itself', () => {
    const known = {
      ...{ program: { purpose: 'recurring' as const, promise: null, archived: false }, business: 'Juniper' },
      ...{ ids: new Set(['prg_a']), fields: new Set<string>(), roles: new Set(['teammate']), others: [] },
    };
    const codes = checkSequence(document('prg_a'), known, null).map(({ code }) => code);
    expect(codes.filter((code) => code !== 'gone' && code !== 'no-fallback')).toEqual([]);
  });
});
