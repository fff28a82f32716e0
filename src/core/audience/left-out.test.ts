import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { EVERYBODY, type Condition } from './condition';
import { isEverybody, splitLeftOut, withLeftOut } from './left-out';

const segment: Condition = { ask: 'segment', id: 'seg_1', has: true };

describe('who is left out of an audience', () => {
  it('is one condition beside the base, and read back from it', () =>
    fc.assert(
      fc.property(
        fc.constantFrom<Condition>(EVERYBODY, segment, { any: [segment] }, { all: [segment, segment] }),
        fc.uniqueArray(fc.string({ minLength: 1 }), { maxLength: 4 }),
        (base, leftOut) => {
          expect(splitLeftOut(withLeftOut({ base, leftOut }))).toEqual({ base, leftOut });
        },
      ),
    ));

  it.each<[string, Condition]>([
    [
      'somebody who got it within days',
      {
        all: [
          segment,
          { none: [{ ask: 'sent', has: true, outcome: 'got', of: { broadcast: 'b' }, days: 7 }] },
        ],
      },
    ],
    [
      'who did not get it',
      { all: [segment, { none: [{ ask: 'sent', has: false, outcome: 'got', of: { broadcast: 'b' } }] }] },
    ],
    [
      'who got anything of a program',
      { all: [segment, { none: [{ ask: 'sent', has: true, outcome: 'got', of: { program: 'p' } }] }] },
    ],
    [
      'three conditions',
      {
        all: [
          segment,
          segment,
          { none: [{ ask: 'sent', has: true, outcome: 'got', of: { broadcast: 'b' } }] },
        ],
      },
    ],
    ['nobody', { all: [segment, { none: [] }] }],
  ])('another condition stays whole: %s', (_, condition) =>
    expect(splitLeftOut(condition)).toEqual({ base: condition, leftOut: [] }),
  );

  it('everybody is everybody', () =>
    expect([isEverybody(EVERYBODY), isEverybody(segment)]).toEqual([true, false]));
});
