import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { afterAnswer, afterSilence } from './next';
import type { Answer } from './read-answer';

const ANSWERS: Answer[] = [
  { is: 'value', values: { first_name: 'Ana' } },
  { is: 'own', value: 'yes' },
  { is: 'partial', partial: '05-05' },
  { is: 'skip' },
  { is: 'unreadable' },
  { is: 'other' },
];

describe('what follows on an answer', () => {
  it('asks once more in other words, and only for the year where that is all that is missing', () => {
    expect(afterAnswer({ times: 1 }, { is: 'unreadable' })).toEqual({ do: 'again', missing: null });
    expect(afterAnswer({ times: 1 }, { is: 'partial', partial: '05-05' })).toEqual({
      do: 'again',
      missing: 'year',
    });
    expect(afterAnswer({ times: 2 }, { is: 'unreadable' })).toMatchObject({
      outcome: 'unreadable',
      waiting: true,
    });
    expect(afterSilence({ times: 1 })).toEqual({ do: 'again', missing: null });
    expect(afterSilence({ times: 2 })).toEqual({ do: 'stop' });
  });

  it('asks nobody a third time, whatever they write', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom<Answer | null>(...ANSWERS, null), { maxLength: 12 }),
        (replies) => {
          let times: 1 | 2 = 1;
          let again = 0;
          for (const reply of replies) {
            const next = reply ? afterAnswer({ times }, reply) : afterSilence({ times });
            if (next.do === 'settle' || next.do === 'stop') break;
            if (next.do === 'again') {
              again += 1;
              times = 2;
            }
          }
          expect(again).toBeLessThanOrEqual(1);
        },
      ),
    );
  });
});
