import { describe, expect, it } from 'vitest';
import { admitSubmission, FOR_ONE_NUMBER, FROM_ONE_FORM, looksMade, type Standing } from './limits';

const fine: Standing = { out: false, landline: false, ofNumber: 0, ofForm: 0, released: false };

describe('whether a number is asked', () => {
  it.each<[string, Partial<Standing>, object]>([
    ['nothing speaks against it', {}, { do: 'ask' }],
    ['they opted out', { out: true, released: true }, { do: 'refuse', because: 'opted-out' }],
    ['it is a landline', { landline: true }, { do: 'refuse', because: 'landline' }],
    ['it was asked often', { ofNumber: FOR_ONE_NUMBER }, { do: 'hold', because: 'number' }],
    ['the form asks very many', { ofForm: FROM_ONE_FORM }, { do: 'hold', because: 'form' }],
    ['a human let it through', { ofNumber: 9, ofForm: 9_999, released: true }, { do: 'ask' }],
  ])('%s', (_, more, verdict) => expect(admitSubmission({ ...fine, ...more })).toEqual(verdict));
});

describe('whether a machine filled it in', () => {
  it.each([
    ['a human', { trap: '', drawnAt: 0, at: 20_000 }, false],
    ['where nobody sees a field', { trap: 'x', drawnAt: 0, at: 20_000 }, true],
    ['quicker than anybody', { trap: '', drawnAt: 0, at: 500 }, true],
    ['a page without its time', { trap: ' ', drawnAt: null, at: 500 }, false],
    ['a clock that goes ahead', { trap: '', drawnAt: 9_000, at: 500 }, false],
  ])('%s', (_, of, made) => expect(looksMade(of)).toBe(made));
});
