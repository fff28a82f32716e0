import { describe, expect, it } from 'vitest';
import { DIMENSIONS, OUTCOMES_OF, partOf, rank, type Counted } from './works';

const row = (key: string, delivered: number, answered: number): Counted => ({
  ...{ key, name: key },
  counts: { delivered, answered, failed: 0 },
});

describe('what works', () => {
  it('puts the best first, and what is too few for a word last', () => {
    const { ranked } = rank([row('small', 5, 5), row('poor', 400, 4), row('good', 400, 40)], 'answered');
    expect(ranked.map(({ key, few }) => [key, few])).toEqual([
      ['good', false],
      ['poor', false],
      ['small', true],
    ]);
  });

  it('marks what differs from all the others together, and nothing that chance explains', () => {
    const others = Array.from({ length: 9 }, (_, i) => row(`b${i}`, 1_000, 30 + (i % 4)));
    const trends = (extra: Counted) =>
      rank([...others, extra], 'answered')
        .ranked.filter(({ trend }) => trend !== null)
        .map(({ key, trend }) => [key, trend]);
    expect(trends(row('bad hour', 1_000, 5))).toEqual([['bad hour', 'fewer']]);
    expect(trends(row('as always', 1_000, 36))).toEqual([]);
    expect(trends(row('tiny', 10, 9))).toEqual([]);
  });

  it('counts how many were compared before it calls a difference real', () => {
    // 45 of 1,000 against 30 of 1,000 is a difference between two, and none among forty.
    const one = [row('a', 1_000, 48), row('b', 1_000, 29)];
    expect(rank(one, 'answered').ranked[0]!.trend).toBe('more');
    const many = Array.from({ length: 60 }, (_, i) => row(`m${i}`, 1_000, 34 + ((i * 7) % 9)));
    const found = rank([...many, row('a', 1_000, 54)], 'answered');
    expect(found.compared).toBe(61);
    expect(found.ranked[0]).toMatchObject({ key: 'a', trend: null });
  });

  it('holds what is of a group against its group alone', () => {
    const wording = (key: string, group: string, answered: number) => ({ ...row(key, 600, answered), group });
    const { ranked } = rank(
      [
        wording('asks', 'a', 60),
        wording('tells', 'a', 12),
        wording('one', 'b', 200),
        wording('other', 'b', 205),
      ],
      'answered',
    );
    expect(ranked.map(({ key, trend }) => [key, trend])).toEqual([
      ['asks', 'more'],
      ['tells', 'fewer'],
      ['other', null],
      ['one', null],
    ]);
  });

  it('of one alone, and of none, compares nothing', () => {
    expect(rank([row('a', 100, 4)], 'answered')).toMatchObject({ compared: 0, ranked: [{ trend: null }] });
    expect(rank([], 'answered')).toEqual({
      ranked: [],
      all: expect.objectContaining({ share: null }),
      compared: 0,
    });
  });

  it.each([
    ['delivered', { count: 80, of: 100 }],
    ['lost', { count: 0, of: 80 }],
    ['answered', { count: 80, of: 80 }],
    ['stayed', { count: 3, of: 4 }],
    ['called', { count: 12, of: 80 }],
    ['redeemed', { count: 0, of: 80 }],
  ] as const)('by %s is a share of what it can be a share of', (outcome, part) =>
    expect(
      partOf(
        { delivered: 80, failed: 20, answered: 99, lost: -1, called: 12, joined: 4, stayed: 3 },
        outcome,
      ),
    ).toEqual(part),
  );

  it('can be asked of everything that is compared', () => {
    for (const dimension of DIMENSIONS) expect(OUTCOMES_OF[dimension].length).toBeGreaterThan(0);
  });
});
