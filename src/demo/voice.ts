/** Resonances of vowels, in Hz. */
const VOWELS = [
  [730, 1_090, 2_440],
  [530, 1_840, 2_480],
  [270, 2_290, 3_010],
  [570, 840, 2_410],
  [300, 870, 2_240],
] as const;

/**
 * Something that sounds like somebody speaking in the next room: syllables of vowels with a pitch that rises and falls, and
 * a breath after each sentence. No words are to be heard in it: the story has no voice to borrow.
 */
export function murmur(seconds: number, rate: number, chance: () => number): Float32Array {
  const samples = new Float32Array(Math.round(seconds * rate));
  let phase = 0;
  for (let at = 0.4; at < seconds - 0.6;) {
    const length = 0.13 + chance() * 0.12;
    const [f1, f2, f3] = VOWELS[Math.floor(chance() * VOWELS.length)]!;
    const pitch = 165 + 40 * Math.sin(at * 1.7) + chance() * 12;
    for (let i = 0; i < length * rate; i += 1) {
      const t = i / rate;
      const envelope = Math.sin((Math.PI * t) / length) ** 1.5;
      phase += (2 * Math.PI * pitch) / rate;
      let sum = 0;
      for (let k = 1; k * pitch < 3_600; k += 1) {
        const f = k * pitch;
        const near = (resonance: number, width: number) => 1 / (1 + ((f - resonance) / width) ** 2);
        sum += ((near(f1, 90) + 0.5 * near(f2, 120) + 0.25 * near(f3, 160)) / k) * Math.sin(k * phase);
      }
      const place = Math.round(at * rate) + i;
      if (place < samples.length) samples[place]! += 0.25 * envelope * sum;
    }
    at += length + (chance() < 0.16 ? 0.35 : 0.02);
  }
  return samples;
}
