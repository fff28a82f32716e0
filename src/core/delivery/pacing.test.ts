import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { SECOND } from '../shared/instant';
import { afterParts, roomNow } from './pacing';

describe('pacing', () => {
  it('never lets more leave than the number carries, beyond the burst', () => {
    const rounds = fc.array(
      fc.record({ wait: fc.integer({ min: 0, max: 3_000 }), wanted: fc.integer({ min: 1, max: 400 }) }),
      { maxLength: 40 },
    );
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 200 }), rounds, (partsPerSecond, list) => {
        let at = 0;
        let sent = 0;
        let pace = { partsPerSecond, nextFreeAt: 0 };
        for (const { wait, wanted } of list) {
          at += wait;
          const parts = Math.min(wanted, roomNow(pace, at));
          if (parts === 0) continue;
          pace = { partsPerSecond, nextFreeAt: afterParts(pace, at, parts) };
          sent += parts;
        }
        expect(sent).toBeLessThanOrEqual((at / SECOND) * partsPerSecond + partsPerSecond + 1e-6);
      }),
    );
  });
});
