import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { betaQuantile, betaShare } from './beta';

describe('the beta distribution', () => {
  // Beta(1, 1) is even, Beta(2, 1) is x², Beta(1, n) is 1 - (1 - x)^n: known in closed form.
  it.each([
    [0.3, 1, 1, 0.3],
    [0.3, 2, 1, 0.09],
    [0.3, 1, 5, 1 - 0.7 ** 5],
    [0.5, 40, 40, 0.5],
    // A sum of binomial probabilities: P(X ≥ 3), X of 10 at 0.25.
    [0.25, 3, 8, 0.47440719604492],
  ])('at %s of (%s, %s) is %s', (x, a, b, share) => {
    expect(betaShare(x, a, b)).toBeCloseTo(share, 10);
  });

  it('is led back by its quantile', () => {
    const shape = fc.double({ min: 0.3, max: 400, noNaN: true });
    fc.assert(
      fc.property(fc.double({ min: 0.01, max: 0.99, noNaN: true }), shape, shape, (p, a, b) => {
        expect(betaShare(betaQuantile(p, a, b), a, b)).toBeCloseTo(p, 6);
      }),
    );
  });
});
