import { describe, expect, it } from 'vitest';
import { missing, stepsOf, type House } from './moving-in';

const EMPTY: House = {
  ...{ registered: 0, waiting: 0, programs: 0, sending: 0, keywords: 0 },
  ...{ credits: 0, members: 0, postalAddress: false, teammates: 1 },
};
const FULL: House = {
  ...{ registered: 1, waiting: 0, programs: 1, sending: 1, keywords: 1 },
  ...{ credits: 100, members: 3, postalAddress: true, teammates: 2 },
};
const codes = (house: House) => missing(stepsOf(house)).map(({ code }) => code);

describe('moving in', () => {
  it('lacks everything that a first text needs in an empty house', () =>
    expect(codes(EMPTY)).toEqual(['number', 'program', 'keyword', 'credits']));

  it('lacks nothing where a text can leave, whoever is still to come', () => {
    expect(codes(FULL)).toEqual([]);
    expect(codes({ ...FULL, members: 0, postalAddress: false, teammates: 1 })).toEqual([]);
  });

  it.each<[Partial<House>, string[]]>([
    [{ registered: 0, waiting: 1, sending: 0 }, ['number']],
    [{ sending: 0 }, ['program-number']],
    [{ keywords: 0 }, ['keyword']],
    [{ credits: 0 }, ['credits']],
  ])('with %j lacks %j', (part, lacks) => expect(codes({ ...FULL, ...part })).toEqual(lacks));
});
