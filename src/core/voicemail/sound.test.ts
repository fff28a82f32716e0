import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { integratedLoudness } from './loudness';
import {
  asPhonePlays,
  clippedShare,
  humBelow,
  KEPT_RATE,
  makeReady,
  mixDown,
  resample,
  soundFindings,
  speechOf,
  TARGET_LOUDNESS,
  waveform,
  type SoundFacts,
} from './sound';
import { readWave, writeWave } from './wav';

/** A voice as far as an engine can tell: tones that come and go. */
function voice(seconds: number, rate: number, level = 0.2): Float32Array {
  return Float32Array.from({ length: Math.round(seconds * rate) }, (_, i) => {
    const t = i / rate;
    const syllable = Math.max(0, Math.sin(2 * Math.PI * 2.5 * t));
    return level * syllable * (Math.sin(2 * Math.PI * 180 * t) + 0.5 * Math.sin(2 * Math.PI * 720 * t));
  });
}

const joined = (...parts: Float32Array[]): Float32Array =>
  Float32Array.from(parts.flatMap((part) => [...part]));
const silence = (seconds: number, rate: number) => new Float32Array(Math.round(seconds * rate));
const facts = (of: ReturnType<typeof makeReady>): SoundFacts => {
  if (!of.ok) throw new Error(of.reason);
  return of.value.facts;
};
const codes = (of: SoundFacts) => soundFindings(of).map(({ code }) => code);

describe('a recording made ready', () => {
  it('has one channel of 16 kHz, its silence cut, as loud as it should be', () => {
    const rate = 44_100;
    const raw = joined(silence(2, rate), voice(20, rate, 0.15), silence(3, rate));
    const ready = makeReady([raw, raw], rate);
    if (!ready.ok) throw new Error(ready.reason);
    const { sound, facts: found } = ready.value;
    expect(sound.rate).toBe(KEPT_RATE);
    expect(found.seconds).toBeGreaterThan(19.5);
    expect(found.seconds).toBeLessThan(20.6);
    expect(found.cut).toBeGreaterThan(4.4);
    expect(Math.abs(integratedLoudness([sound.samples], KEPT_RATE) - TARGET_LOUDNESS)).toBeLessThan(0.5);
    expect(Math.max(...sound.samples.map(Math.abs))).toBeLessThan(0.9);
    expect(codes(found)).toEqual([]);
  });

  it.each([
    ['an hour of silence', [silence(60, 8_000)], 8_000, 'silent'],
    ['a click', [voice(0.5, 16_000)], 16_000, 'too-short'],
    ['more than a minute', [voice(75, 8_000)], 8_000, 'too-long'],
    ['nothing', [], 48_000, 'broken'],
    ['a rate of nothing', [voice(5, 8_000)], 0, 'broken'],
    ['what is no number', [Float32Array.from([...voice(5, 8_000), NaN])], 8_000, 'broken'],
  ] as const)('is refused: %s', (_, channels, rate, reason) => {
    expect(makeReady(channels, rate)).toEqual({ ok: false, reason });
  });

  it('of 192 kHz keeps its voice and lets nothing of what nobody hears through', () => {
    const rate = 192_000;
    const raw = voice(4, rate).map((sample, i) => sample + 0.2 * Math.sin((2 * Math.PI * 15_000 * i) / rate));
    const ready = makeReady([raw], rate);
    if (!ready.ok) throw new Error(ready.reason);
    // 15 kHz would come back as 1 kHz.
    const { samples } = ready.value.sound;
    let [alias, of] = [0, 0];
    for (let i = 0; i < samples.length; i += 1) {
      alias += samples[i]! * Math.sin((2 * Math.PI * 1_000 * i) / KEPT_RATE);
      of += samples[i]! ** 2;
    }
    expect(Math.abs(alias) / of).toBeLessThan(0.05);
  });

  it('whose channels cancel each other out is one of them', () => {
    const one = voice(16, 16_000);
    const found = facts(makeReady([one, one.map((sample) => -sample)], 16_000));
    expect(found.outOfPhase).toBe(true);
    expect(codes(found)).toContain('out-of-phase');
    expect(mixDown([one, silence(16, 16_000)]).outOfPhase).toBe(false);
  });

  it('is the part that was chosen', () => {
    const found = facts(makeReady([voice(30, 16_000)], 16_000, { from: 4, to: 24 }));
    expect(Math.round(found.seconds)).toBe(20);
  });

  it('says what can be heard of its faults', () => {
    const loud = voice(20, 16_000, 2).map((sample) => Math.max(-1, Math.min(1, sample)));
    expect(codes(facts(makeReady([loud], 16_000)))).toContain('clipped');
    const hums = voice(20, 16_000, 0.1).map(
      (sample, i) => sample + 0.03 * Math.sin((2 * Math.PI * 50 * i) / 16_000),
    );
    expect(codes(facts(makeReady([hums], 16_000)))).toContain('hum');
    expect(codes(facts(makeReady([voice(20, 16_000, 0.005)], 16_000)))).toContain('was-quiet');
    expect(codes(facts(makeReady([voice(40, 16_000)], 16_000)))).toContain('long');
    expect(codes(facts(makeReady([voice(6, 16_000)], 16_000)))).toContain('short');
  });

  it('made ready again stays as it is', () => {
    const first = makeReady([joined(silence(1, 16_000), voice(18, 16_000, 0.03))], 16_000);
    if (!first.ok) throw new Error(first.reason);
    const again = facts(makeReady([first.value.sound.samples], KEPT_RATE));
    expect(Math.abs(again.loudness - first.value.facts.loudness)).toBeLessThan(0.3);
    expect(again.seconds).toBeCloseTo(first.value.facts.seconds, 1);
  });
});

describe('the parts of it', () => {
  it('resample a tone to itself', () => {
    const at = (rate: number) =>
      Float32Array.from({ length: rate }, (_, i) => Math.sin((2 * Math.PI * 440 * i) / rate));
    for (const [from, to] of [
      [48_000, 16_000],
      [16_000, 8_000],
      [8_000, 16_000],
      [44_100, 16_000],
    ] as const) {
      const [made, wanted] = [resample({ samples: at(from), rate: from }, to), at(to)];
      let worst = 0;
      for (let i = 500; i < to - 500; i += 1) worst = Math.max(worst, Math.abs(made[i]! - wanted[i]!));
      expect(worst, `${from} to ${to}`).toBeLessThan(0.01);
    }
  });

  it('find speech in a room that is not silent', () => {
    const noise = (seconds: number) =>
      Float32Array.from({ length: seconds * 8_000 }, (_, i) => 0.0008 * Math.sin(i * i));
    const found = speechOf({ samples: joined(noise(2), voice(5, 8_000), noise(2)), rate: 8_000 })!;
    expect(found.from / 8_000).toBeGreaterThan(1.5);
    expect(found.to / 8_000).toBeLessThan(7.5);
    expect(speechOf({ samples: silence(2, 8_000), rate: 8_000 })).toBeNull();
  });

  it('count clipping, and measure hum', () => {
    expect(clippedShare(Float32Array.from([1, 0, -1, 0.5]))).toBe(0.5);
    expect(clippedShare(new Float32Array(0))).toBe(0);
    const hum = Float32Array.from({ length: 8_000 }, (_, i) => Math.sin((2 * Math.PI * 60 * i) / 8_000));
    expect(humBelow({ samples: hum, rate: 8_000 })).toBeLessThan(1);
  });

  it('play as a phone does', () => {
    const heard = asPhonePlays({ samples: voice(2, 16_000), rate: 16_000 });
    expect(heard.rate).toBe(8_000);
    expect(heard.samples.length).toBe(16_000);
    // G.711 has 255 steps.
    expect(new Set(heard.samples).size).toBeLessThanOrEqual(255);
  });

  it('draw a waveform of any length', () => {
    expect(waveform(Float32Array.from([0.5, -0.5]), 1)).toEqual([{ low: -0.5, high: 0.5 }]);
    expect(waveform(new Float32Array(0), 3)).toHaveLength(3);
  });
});

describe('a WAVE file', () => {
  it('comes back as it was, whatever it holds', () => {
    fc.assert(
      fc.property(fc.array(fc.float({ min: -1, max: 1, noNaN: true }), { maxLength: 200 }), (list) => {
        const read = readWave(writeWave({ samples: Float32Array.from(list), rate: 16_000 }));
        if (!read.ok) throw new Error(read.reason);
        expect(read.value.rate).toBe(16_000);
        read.value.samples.forEach((sample, i) => expect(sample).toBeCloseTo(list[i]!, 3));
      }),
    );
  });

  it('that is damaged, or none, is refused', () => {
    const wave = writeWave({ samples: voice(1, 8_000), rate: 8_000 });
    expect(readWave(new Uint8Array(0))).toEqual({ ok: false, reason: 'no-wave' });
    expect(readWave(wave.slice(0, 40))).toEqual({ ok: false, reason: 'no-wave' });
    expect(readWave(new TextEncoder().encode('<html>hello</html>'))).toEqual({
      ok: false,
      reason: 'no-wave',
    });
    const stereo = wave.slice();
    stereo[22] = 2;
    expect(readWave(stereo)).toEqual({ ok: false, reason: 'not-ours' });
    // A size that says more than there is: what is there counts.
    const lies = wave.slice();
    new DataView(lies.buffer).setUint32(40, 2 ** 31, true);
    expect(readWave(lies).ok).toBe(true);
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 120 }), (bytes) => {
        readWave(bytes);
        readWave(Uint8Array.from([...wave.slice(0, 12), ...bytes]));
      }),
    );
  });
});
