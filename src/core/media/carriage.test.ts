import { describe, expect, it } from 'vitest';
import { linkForAll, linkReason, withPage, type Carried } from './carriage';
import type { MediaKind } from './kinds';

const file = (kind: MediaKind, size: number): Carried => ({ id: `${kind}${size}`, kind, size });

describe('files of a text', () => {
  it.each<[string, Carried[], 'kind' | 'size' | null]>([
    ['two small pictures', [file('picture', 280_000), file('picture', 280_000)], null],
    ['as much as is safe', [file('film', 600_000)], null],
    ['a byte more', [file('film', 600_000), file('card', 1)], 'size'],
    ['a PDF, however small', [file('paper', 10)], 'kind'],
    ['a PDF beside what is too large', [file('film', 900_000), file('paper', 10)], 'kind'],
  ])('%s', (_, files, why) => expect(linkForAll(files, 600_000)).toBe(why));

  it('go as a picture message only where number and phone can', () => {
    const plan = { ids: ['a'], page: 'https://go.example.org/m/p/a', forAll: null };
    expect(linkReason(plan, { numberCan: true, phoneCan: true })).toBeNull();
    expect(linkReason(plan, { numberCan: true, phoneCan: false })).toBe('phone');
    expect(linkReason(plan, { numberCan: false, phoneCan: false })).toBe('number');
    expect(linkReason({ ...plan, forAll: 'size' }, { numberCan: true, phoneCan: true })).toBe('size');
    expect(withPage('Saturn tonight. \n', plan)).toBe('Saturn tonight.\nhttps://go.example.org/m/p/a');
  });
});
