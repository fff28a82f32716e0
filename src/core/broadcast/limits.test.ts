import { describe, expect, it } from 'vitest';
import { passedLimit, SHIPPED_LIMITS, type SoFar } from './limits';

const soFar = (part: Partial<SoFar>): SoFar => ({ delivered: 100, failed: 0, spam: 0, optOuts: 0, ...part });

describe('a broadcast is held by itself', () => {
  it.each<[string, Partial<SoFar>, string | null]>([
    ['nothing is wrong', {}, null],
    ['the first three who leave hold nothing', { delivered: 40, optOuts: 3 }, null],
    ['a tenth of a hundred does', { optOuts: 10 }, 'opt-outs'],
    ['three in a hundred may be chance', { optOuts: 4 }, null],
    ['of a thousand it is none', { delivered: 1_000, optOuts: 45 }, 'opt-outs'],
    ['refused as spam', { failed: 8, spam: 8 }, 'spam'],
    ['what is worst for the number comes first', { failed: 40, spam: 20, optOuts: 20 }, 'spam'],
    ['many fail', { failed: 40 }, 'failures'],
    ['fewer than thirty say nothing', { delivered: 4, failed: 20, spam: 20 }, null],
  ])('%s', (_, part, of) => expect(passedLimit(soFar(part), SHIPPED_LIMITS, [])?.of ?? null).toBe(of));

  it('not where there is no limit, nor again for what somebody let go on', () => {
    expect(passedLimit(soFar({ optOuts: 20 }), { ...SHIPPED_LIMITS, 'opt-outs': null }, [])).toBeNull();
    expect(passedLimit(soFar({ optOuts: 20 }), SHIPPED_LIMITS, ['opt-outs'])).toBeNull();
    expect(passedLimit(soFar({ optOuts: 20 }), SHIPPED_LIMITS, [])).toEqual({
      ...{ of: 'opt-outs', limit: 0.03, count: 20, people: 100 },
    });
  });
});
