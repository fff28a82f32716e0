import { describe, expect, it } from 'vitest';
import { DAY, HOUR, MINUTE } from '../shared/instant';
import { boardOf, tookWords, type BoardCounts } from './board';
import { silentFor } from './silence';

const line = (more: Partial<BoardCounts>): BoardCounts => ({
  ...{
    sourceId: 's',
    source: 'Night Sky Guide',
    kind: 'school visit',
    came: 100,
    answered: 100,
    median: 4,
    p95: 9,
  },
  ...{ replied: 10, conversations: 5, late: 1, costCents: null, stages: [] },
  ...more,
});

describe('the board', () => {
  it('calls a difference one only where it is real', () => {
    const few = boardOf([line({ came: 40, replied: 3 }), line({ sourceId: 't', came: 41, replied: 5 })]);
    expect(few.map(({ against }) => against)).toEqual([null, null]);
    const many = boardOf([line({ came: 400, replied: 30 }), line({ sourceId: 't', came: 400, replied: 90 })]);
    expect(many.map(({ against }) => against)).toEqual(['fewer', 'more']);
    expect(boardOf([line({})]).map(({ against }) => against)).toEqual([null]);
  });

  it('says what a conversation cost, where a cost was entered and there was one', () => {
    expect(boardOf([line({ costCents: 250 })])[0]).toMatchObject({ cost: 25_000, perConversation: 5_000 });
    expect(boardOf([line({ costCents: 250, conversations: 0 })])[0]).toMatchObject({ perConversation: null });
    expect(boardOf([line({})])[0]).toMatchObject({ cost: null, perConversation: null });
  });

  it.each([
    [null, '–'],
    [0.4, 'under 1 s'],
    [42, '42 s'],
    [200, '3 min'],
    [6 * 3600, '6 h'],
    [3 * 86400, '3 days'],
  ])('says %s seconds as %s', (seconds, words) => expect(tookWords(seconds)).toBe(words));
});

describe('a source', () => {
  const NOW = 1_800_000_000_000;
  it.each([
    ['as quiet as it often is', { last: NOW - 5 * HOUR, came: 50, longest: 4 * HOUR }, null],
    ['quiet for longer than ever', { last: NOW - 9 * HOUR, came: 50, longest: 4 * HOUR }, 9 * HOUR],
    ['busy, and quiet for an hour', { last: NOW - HOUR, came: 500, longest: 5 * MINUTE }, null],
    ['slow by nature', { last: NOW - 9 * DAY, came: 9, longest: 6 * DAY }, null],
    ['of which little is known', { last: NOW - 9 * DAY, came: 3, longest: HOUR }, null],
  ])('%s', (_, past, quiet) => expect(silentFor(past, NOW)).toBe(quiet));
});
