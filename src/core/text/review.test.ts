import { describe, expect, it } from 'vitest';
import { reviewWording } from './review';

describe('remarks', () => {
  it('remarks on what carriers filter', () => {
    const codes = reviewWording('FREE MONEY FOR EVERYBODY WHO ACTS NOW http://bit.ly/x', {
      business: 'Juniper',
      parts: 5,
    }).map(({ code }) => code);
    expect(codes.sort()).toEqual([
      'link-shortener',
      'long',
      'no-brand',
      'opt-out-missing',
      'risky-word',
      'shouting',
    ]);
  });
});
