import { describe, expect, it } from 'vitest';
import { integratedLoudness } from './loudness';

const RATE = 48_000;

/** Stretches of a tone, each so many seconds at so many dB of full scale. */
function tones(
  stretches: readonly [seconds: number, db: number][],
  rate = RATE,
  frequency = 1_000,
): Float32Array {
  const parts = stretches.map(([seconds, db]) =>
    Float32Array.from(
      { length: Math.round(seconds * rate) },
      (_, i) => 10 ** (db / 20) * Math.sin((2 * Math.PI * frequency * i) / rate),
    ),
  );
  const all = new Float32Array(parts.reduce((sum, part) => sum + part.length, 0));
  let at = 0;
  for (const part of parts) {
    all.set(part, at);
    at += part.length;
  }
  return all;
}

describe('loudness', () => {
  it('of a full sine of 997 Hz in one channel is -3.01 LKFS (ITU-R BS.1770-5)', () => {
    expect(integratedLoudness([tones([[5, 0]], RATE, 997)], RATE)).toBeCloseTo(-3.01, 1);
  });

  // EBU Tech 3341, minimum requirements test signals 1 to 5: stereo sines of 1 kHz, within 0.1 LU.
  it.each([
    [1, [[20, -23]], -23],
    [2, [[20, -33]], -33],
    [
      3,
      [
        [10, -36],
        [60, -23],
        [10, -36],
      ],
      -23,
    ],
    [
      4,
      [
        [10, -72],
        [10, -36],
        [60, -23],
        [10, -36],
        [10, -72],
      ],
      -23,
    ],
    [
      5,
      [
        [20, -26],
        [20.1, -20],
        [20, -26],
      ],
      -23,
    ],
  ] as [number, [number, number][], number][])('passes test signal %s', (_, stretches, lufs) => {
    const channel = tones(stretches);
    expect(Math.abs(integratedLoudness([channel, channel], RATE) - lufs)).toBeLessThanOrEqual(0.1);
  });

  it.each([8_000, 16_000, 44_100, 96_000, 192_000])('is the same at %s samples a second', (rate) => {
    const channel = tones([[4, -23]], rate);
    expect(Math.abs(integratedLoudness([channel, channel], rate) + 23)).toBeLessThanOrEqual(0.15);
  });

  it('of silence, and of less than a block, is none', () => {
    expect(integratedLoudness([new Float32Array(RATE)], RATE)).toBe(-Infinity);
    expect(integratedLoudness([tones([[0.2, -10]])], RATE)).toBe(-Infinity);
    expect(integratedLoudness([], RATE)).toBe(-Infinity);
  });
});
