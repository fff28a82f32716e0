/**
 * How loud a sound is to the ear, after ITU-R BS.1770-5: two filters stand for the head and the ear, blocks of 400 ms are
 * weighed, and those that are silence or far below the rest do not count.
 */

interface Biquad {
  b: readonly [number, number, number];
  a: readonly [number, number];
}

/** The standard gives the coefficients for 48 kHz alone; for other rates the same analogue filters are taken (its Annex 1). */
function highShelf(rate: number): Biquad {
  const [frequency, gain, q] = [1_681.974450955533, 3.999843853973347, 0.7071752369554196];
  const k = Math.tan((Math.PI * frequency) / rate);
  const vh = 10 ** (gain / 20);
  const vb = vh ** 0.4996667741545416;
  const a0 = 1 + k / q + k * k;
  return {
    b: [(vh + (vb * k) / q + k * k) / a0, (2 * (k * k - vh)) / a0, (vh - (vb * k) / q + k * k) / a0],
    a: [(2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0],
  };
}

function highPass(rate: number): Biquad {
  const [frequency, q] = [38.13547087602444, 0.5003270373238773];
  const k = Math.tan((Math.PI * frequency) / rate);
  const a0 = 1 + k / q + k * k;
  return { b: [1, -2, 1], a: [(2 * (k * k - 1)) / a0, (1 - k / q + k * k) / a0] };
}

function filtered(samples: Float32Array | Float64Array, { b, a }: Biquad): Float64Array {
  const out = new Float64Array(samples.length);
  let [x1, x2, y1, y2] = [0, 0, 0, 0];
  for (let i = 0; i < samples.length; i += 1) {
    const x = samples[i]!;
    const y = b[0] * x + b[1] * x1 + b[2] * x2 - a[0] * y1 - a[1] * y2;
    out[i] = y;
    x2 = x1;
    x1 = x;
    y2 = y1;
    y1 = y;
  }
  return out;
}

const BLOCK_SECONDS = 0.4;
/** Blocks overlap by three quarters. */
const STEP_SECONDS = 0.1;
const SILENCE = -70;
const BELOW_THE_REST = -10;

const toLufs = (power: number): number => -0.691 + 10 * Math.log10(power);

/**
 * Integrated loudness in LUFS of a sound with one or two channels, both weighed alike. -Infinity: nothing in it is above
 * silence, or it is shorter than one block.
 * @param rate samples in a second, at least 8,000
 */
export function integratedLoudness(channels: readonly Float32Array[], rate: number): number {
  const powers = blockPowers(channels, rate).filter((power) => toLufs(power) > SILENCE);
  if (powers.length === 0) return -Infinity;
  const mean = (list: readonly number[]) => list.reduce((sum, one) => sum + one, 0) / list.length;
  const threshold = toLufs(mean(powers)) + BELOW_THE_REST;
  const heard = powers.filter((power) => toLufs(power) > threshold);
  return toLufs(mean(heard));
}

function blockPowers(channels: readonly Float32Array[], rate: number): number[] {
  const step = Math.round(rate * STEP_SECONDS);
  const stepsInBlock = Math.round(BLOCK_SECONDS / STEP_SECONDS);
  const steps = Math.floor((channels[0]?.length ?? 0) / step);
  const sums = new Float64Array(steps);
  for (const channel of channels) {
    const weighed = filtered(filtered(channel, highShelf(rate)), highPass(rate));
    for (let s = 0; s < steps; s += 1) {
      let sum = 0;
      for (let i = s * step; i < (s + 1) * step; i += 1) sum += weighed[i]! * weighed[i]!;
      sums[s]! += sum;
    }
  }
  const powers: number[] = [];
  for (let s = 0; s + stepsInBlock <= steps; s += 1) {
    let sum = 0;
    for (let i = 0; i < stepsInBlock; i += 1) sum += sums[s + i]!;
    powers.push(sum / (step * stepsInBlock));
  }
  return powers;
}
