import { describe, expect, it } from 'vitest';
import { gather, type NearMiss } from './near-misses';

const miss = (personId: string, body: string, at: number, open = true): NearMiss => ({
  ...{ personId, body, keyword: 'meteor', at, open },
});

describe('near misses', () => {
  it('are gathered by how they are spelled, in any dress, those of most people first', () =>
    expect(
      gather([
        miss('ana', 'Metoer!', 3),
        miss('ana', 'METOER', 5),
        miss('ben', '“metoer”', 4, false),
        miss('cleo', 'meteror', 9),
      ]),
    ).toEqual([
      {
        ...{ spelling: 'metoer', keyword: 'meteor', texts: 3, people: 2, last: 5 },
        open: [
          { personId: 'ana', at: 3 },
          { personId: 'ana', at: 5 },
        ],
      },
      {
        ...{ spelling: 'meteror', keyword: 'meteor', texts: 1, people: 1, last: 9 },
        open: [{ personId: 'cleo', at: 9 }],
      },
    ]));

  it('of different keywords stay apart', () =>
    expect(gather([miss('ana', 'skyy', 1), { ...miss('ana', 'skyy', 2), keyword: 'sky' }])).toHaveLength(2));
});
