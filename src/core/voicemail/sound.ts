import { ok, refuse, type Result } from '../shared/result';
import { integratedLoudness } from './loudness';

/** Samples between -1 and 1, of one channel. */
export interface Sound {
  samples: Float32Array;
  /** Samples in a second. */
  rate: number;
}

/** What a voicemail box keeps at its best. */
export const KEPT_RATE = 16_000;
/** What a phone call carries. */
const CALL_RATE = 8_000;

/** Loudness of speech that phones play well, in LUFS. */
export const TARGET_LOUDNESS = -16;
/** Nothing goes above it, in dB of full scale: what is resampled on its way may grow a little. */
const CEILING_DB = -1;

export const LONGEST_SECONDS = 60;
export const SHORTEST_SECONDS = 2;
/** Fifteen to thirty seconds are listened to; longer ones are deleted. */
export const ADVISED_SECONDS = { from: 15, to: 30 } as const;

/** What was found in a sound, before it was made ready and after. */
export interface SoundFacts {
  seconds: number;
  /** As it came, and as it is kept, in LUFS. */
  loudnessBefore: number;
  loudness: number;
  /** Seconds of silence that were cut at both ends. */
  cut: number;
  /** Share of samples at full scale, as it came. */
  clipped: number;
  /** How far the hum of the mains stands below the voice, in dB; the lower the worse. */
  humBelow: number;
  /** The two channels cancelled each other out: one of them was taken. */
  outOfPhase: boolean;
}

export type SoundRefusal = 'silent' | 'too-short' | 'too-long' | 'broken';

export const SOUND_REFUSAL_WORDS: Record<SoundRefusal, string> = {
  silent: 'Nothing is to be heard in it. Check the microphone and record it again.',
  'too-short': `It is shorter than ${SHORTEST_SECONDS} seconds without its silence. Say who calls, why, and how to call back.`,
  'too-long': `It is longer than ${LONGEST_SECONDS} seconds. Cut it on the waveform, best to 15 to 30 seconds.`,
  broken: 'Its sound cannot be read: the file is damaged. Save it once more, or record it here.',
};

const decibels = (ratio: number): number => 20 * Math.log10(ratio);
const ratioOf = (db: number): number => 10 ** (db / 20);

const powerOf = (samples: Float32Array): number => {
  let sum = 0;
  for (const sample of samples) sum += sample * sample;
  return samples.length === 0 ? 0 : sum / samples.length;
};

/** Mixed together they must keep this share of what they carry; channels out of phase keep next to nothing. */
const CANCELLED = 0.1;

/** One channel of several. Where they cancel each other out, the louder one alone. */
export function mixDown(channels: readonly Float32Array[]): { samples: Float32Array; outOfPhase: boolean } {
  const [first] = channels;
  if (!first) return { samples: new Float32Array(0), outOfPhase: false };
  if (channels.length === 1) return { samples: first, outOfPhase: false };
  const mixed = new Float32Array(first.length);
  for (const channel of channels)
    for (let i = 0; i < mixed.length; i += 1) mixed[i]! += channel[i]! / channels.length;
  const powers = channels.map(powerOf);
  const loudest = Math.max(...powers);
  // One of two channels that is empty halves the mix: a quarter of the power, and no fault.
  return powerOf(mixed) < loudest * CANCELLED
    ? { samples: channels[powers.indexOf(loudest)]!, outOfPhase: loudest > 0 }
    : { samples: mixed, outOfPhase: false };
}

/** Crossings of zero of the filter at each side: enough for a stop band of some 70 dB. */
const LOBES = 16;

/** At another rate, by a windowed sinc that lets nothing through above what the lower of the two rates can carry. */
export function resample({ samples, rate }: Sound, to: number): Float32Array {
  if (rate === to) return samples;
  const scale = Math.min(1, to / rate);
  const reach = LOBES / scale;
  const length = Math.floor((samples.length * to) / rate);
  const out = new Float32Array(length);
  const kernel = kernelOf(scale, reach);
  for (let i = 0; i < length; i += 1) {
    const centre = (i * rate) / to;
    const from = Math.max(0, Math.ceil(centre - reach));
    const until = Math.min(samples.length - 1, Math.floor(centre + reach));
    let sum = 0;
    for (let j = from; j <= until; j += 1) sum += samples[j]! * kernel(Math.abs(j - centre));
    out[i] = sum;
  }
  return out;
}

const STEPS_IN_KERNEL = 256;

/** The filter as a table, between whose values it is read: asked millions of times. */
function kernelOf(scale: number, reach: number): (distance: number) => number {
  const table = new Float64Array(Math.ceil(reach * STEPS_IN_KERNEL) + 2);
  // The pass band ends a little below half the rate, where the slope of the window has room.
  const cut = scale * 0.94;
  for (let i = 0; i < table.length; i += 1) {
    const x = i / STEPS_IN_KERNEL;
    const sinc = x === 0 ? 1 : Math.sin(Math.PI * cut * x) / (Math.PI * cut * x);
    const t = Math.min(1, x / reach);
    const window = 0.42 + 0.5 * Math.cos(Math.PI * t) + 0.08 * Math.cos(2 * Math.PI * t);
    table[i] = cut * sinc * window;
  }
  return (distance) => {
    const at = distance * STEPS_IN_KERNEL;
    const low = Math.floor(at);
    return table[low]! + (table[low + 1]! - table[low]!) * (at - low);
  };
}

/** Windows in which speech is told from silence. */
const WINDOW_SECONDS = 0.02;
/** So much quieter than the loud parts is silence, in dB. */
const QUIETER = 38;
/** Quieter than this is silence whatever the rest is, in dB of full scale. */
const NOTHING = -60;
/** What is left before the first word and after the last. */
const BREATH_SECONDS = 0.15;

/** Where speech begins and ends, in samples, with a breath at both sides; null: there is none. */
export function speechOf({ samples, rate }: Sound): { from: number; to: number } | null {
  const width = Math.max(1, Math.round(rate * WINDOW_SECONDS));
  const levels: number[] = [];
  for (let i = 0; i < samples.length; i += width)
    levels.push(decibels(Math.sqrt(powerOf(samples.subarray(i, i + width))) || 1e-9));
  const loud = [...levels].sort((a, b) => b - a)[Math.floor(levels.length * 0.05)] ?? -Infinity;
  const least = Math.max(NOTHING, loud - QUIETER);
  const first = levels.findIndex((level) => level > least);
  if (first === -1) return null;
  const last = levels.findLastIndex((level) => level > least);
  const breath = Math.round(rate * BREATH_SECONDS);
  return {
    from: Math.max(0, first * width - breath),
    to: Math.min(samples.length, (last + 1) * width + breath),
  };
}

/** Share of samples at full scale. */
export function clippedShare(samples: Float32Array): number {
  let clipped = 0;
  for (const sample of samples) if (Math.abs(sample) >= 0.999) clipped += 1;
  return samples.length === 0 ? 0 : clipped / samples.length;
}

/** Power at one frequency (Goertzel). */
function powerAt(samples: Float32Array, rate: number, frequency: number): number {
  const factor = 2 * Math.cos((2 * Math.PI * frequency) / rate);
  let [s1, s2] = [0, 0];
  for (const sample of samples) {
    const s0 = sample + factor * s1 - s2;
    s2 = s1;
    s1 = s0;
  }
  const power = s1 * s1 + s2 * s2 - factor * s1 * s2;
  return (2 * power) / (samples.length * samples.length);
}

/** Mains hum at 50 and 60 Hz with their second and third harmonics. */
const HUM = [50, 100, 150, 60, 120, 180];

/** Stretches in which hum is looked for: long enough to tell 50 from 60 Hz. */
const HUM_SECONDS = 0.1;
/** Hum is heard where nobody speaks: of all stretches the quietest share. */
const QUIETEST = 0.2;

/**
 * How far hum stands below the whole, in dB; Infinity: there is none to be measured. It is measured between the words, since
 * a voice has the same frequencies.
 */
export function humBelow({ samples, rate }: Sound): number {
  const width = Math.round(rate * HUM_SECONDS);
  const stretches = Array.from({ length: Math.floor(samples.length / width) }, (_, i) =>
    samples.subarray(i * width, (i + 1) * width),
  ).sort((a, b) => powerOf(a) - powerOf(b));
  const quiet = stretches.slice(0, Math.max(1, Math.floor(stretches.length * QUIETEST)));
  const mains = (list: readonly number[]) =>
    quiet.reduce(
      (sum, stretch) => sum + list.reduce((all, frequency) => all + powerAt(stretch, rate, frequency), 0),
      0,
    ) / quiet.length;
  const hum = stretches.length === 0 ? 0 : Math.max(mains(HUM.slice(0, 3)), mains(HUM.slice(3)));
  return hum === 0 ? Infinity : 10 * Math.log10(powerOf(samples) / hum);
}

const AHEAD_SECONDS = 0.005;
const RELEASE_SECONDS = 0.08;

/** Keeps peaks below a ceiling by turning down a little before them, and back up slowly. */
function limited(samples: Float32Array, rate: number, gain: number): Float32Array {
  const ceiling = ratioOf(CEILING_DB);
  const ahead = Math.max(1, Math.round(rate * AHEAD_SECONDS));
  const release = 1 - Math.exp(-1 / (rate * RELEASE_SECONDS));
  const wanted = Float32Array.from(samples, (sample) => {
    const peak = Math.abs(sample) * gain;
    return peak > ceiling ? ceiling / peak : 1;
  });
  const least = slidingLeast(wanted, ahead);
  const out = new Float32Array(samples.length);
  let now = 1;
  for (let i = 0; i < samples.length; i += 1) {
    now = least[i]! < now ? least[i]! : now + (least[i]! - now) * release;
    out[i] = samples[i]! * gain * now;
  }
  return out;
}

/** The least of each value and those up to `ahead` after it. */
function slidingLeast(values: Float32Array, ahead: number): Float32Array {
  const least = new Float32Array(values.length);
  const queue: number[] = [];
  let head = 0;
  for (let i = values.length - 1; i >= 0; i -= 1) {
    while (queue.length > head && values[queue[queue.length - 1]!]! >= values[i]!) queue.pop();
    queue.push(i);
    if (queue[head]! > i + ahead) head += 1;
    least[i] = values[queue[head]!]!;
  }
  return least;
}

/** At the loudness that is wanted, without going over full scale; what the limiter takes away is given back as far as it can be. */
export function evenOut({ samples, rate }: Sound): { samples: Float32Array; before: number; after: number } {
  const before = integratedLoudness([samples], rate);
  if (before === -Infinity) return { samples, before, after: before };
  let gain = TARGET_LOUDNESS - before;
  let out = limited(samples, rate, ratioOf(gain));
  let after = integratedLoudness([out], rate);
  for (let i = 0; i < 3 && Math.abs(TARGET_LOUDNESS - after) > 0.2; i += 1) {
    gain += TARGET_LOUDNESS - after;
    out = limited(samples, rate, ratioOf(gain));
    after = integratedLoudness([out], rate);
  }
  return { samples: out, before, after };
}

/** More silence than this at one end is no pause of a speaker, and a recording of an hour is no message. */
const LONGEST_RAW_SECONDS = 20 * 60;

/**
 * What is kept of a recording: one channel of 16 kHz, silence cut, as loud as it should be; with what there is to know of it.
 * @param part the part that was chosen, in seconds; left out: all of it
 */
export function makeReady(
  channels: readonly Float32Array[],
  rate: number,
  part?: { from: number; to: number },
): Result<{ sound: Sound; facts: SoundFacts }, SoundRefusal> {
  const length = channels[0]?.length ?? 0;
  if (length === 0 || !(rate >= 4_000 && rate <= 768_000)) return refuse('broken');
  if (length / rate > LONGEST_RAW_SECONDS) return refuse('too-long');
  const chosen = part
    ? channels.map((channel) => channel.subarray(Math.round(part.from * rate), Math.round(part.to * rate)))
    : channels;
  const { samples: mixed, outOfPhase } = mixDown(chosen);
  if (mixed.some((sample) => !Number.isFinite(sample))) return refuse('broken');
  const raw: Sound = { samples: resample({ samples: mixed, rate }, KEPT_RATE), rate: KEPT_RATE };
  const speech = speechOf(raw);
  if (!speech) return refuse('silent');
  const spoken: Sound = { samples: raw.samples.subarray(speech.from, speech.to), rate: KEPT_RATE };
  const seconds = spoken.samples.length / KEPT_RATE;
  if (seconds < SHORTEST_SECONDS) return refuse('too-short');
  if (seconds > LONGEST_SECONDS) return refuse('too-long');
  const { samples, before, after } = evenOut(spoken);
  if (after === -Infinity) return refuse('silent');
  return ok({
    sound: { samples, rate: KEPT_RATE },
    facts: {
      ...{ seconds, loudnessBefore: before, loudness: after, outOfPhase },
      cut: raw.samples.length / KEPT_RATE - seconds,
      clipped: clippedShare(mixed),
      humBelow: humBelow(spoken),
    },
  });
}

/** What there is to say of a kept sound; places are none, since it is heard. */
export interface SoundFinding {
  code: 'clipped' | 'hum' | 'was-quiet' | 'out-of-phase' | 'long' | 'short' | 'uneven';
  severity: 'should' | 'hint';
  words: string;
}

const CLIPPED = 0.0005;
const HUM_BELOW = 22;
const QUIET = -34;

export function soundFindings(facts: SoundFacts): SoundFinding[] {
  const findings: SoundFinding[] = [];
  const say = (code: SoundFinding['code'], severity: SoundFinding['severity'], words: string) =>
    findings.push({ code, severity, words });
  const seconds = Math.round(facts.seconds);
  if (facts.clipped > CLIPPED)
    say(
      'clipped',
      'should',
      'It was too loud for the microphone and rattles. Go further away and record it again.',
    );
  if (facts.humBelow < HUM_BELOW)
    say('hum', 'should', 'The mains hum in it. Unplug the charger, or use another microphone.');
  if (facts.loudnessBefore < QUIET)
    say(
      'was-quiet',
      'should',
      'It was very quiet: turned up, the noise of the room is heard too. Come closer to the microphone.',
    );
  if (facts.seconds > ADVISED_SECONDS.to)
    say(
      'long',
      'should',
      `It takes ${seconds} seconds. After ${ADVISED_SECONDS.to} most people delete a voicemail.`,
    );
  if (facts.seconds < ADVISED_SECONDS.from)
    say(
      'short',
      'hint',
      `It takes ${seconds} seconds. ${ADVISED_SECONDS.from} to ${ADVISED_SECONDS.to} leave room for who calls and how to call back.`,
    );
  if (Math.abs(facts.loudness - TARGET_LOUDNESS) > 1.5)
    say('uneven', 'hint', 'It has a few very loud sounds, so that the rest stays a little quiet.');
  if (facts.outOfPhase)
    say('out-of-phase', 'hint', 'Its two channels cancelled each other out. One of them was taken.');
  return findings;
}

/** Least and greatest of each of `columns` stretches, for a waveform. */
export function waveform(samples: Float32Array, columns: number): { low: number; high: number }[] {
  return Array.from({ length: columns }, (_, i) => {
    const from = Math.floor((i * samples.length) / columns);
    const to = Math.max(from + 1, Math.floor(((i + 1) * samples.length) / columns));
    let [low, high] = [0, 0];
    for (let j = from; j < to && j < samples.length; j += 1) {
      low = Math.min(low, samples[j]!);
      high = Math.max(high, samples[j]!);
    }
    return { low, high };
  });
}

/** What is left of it on a phone: 8 kHz, in the 255 steps of μ-law (ITU-T G.711). */
export function asPhonePlays(sound: Sound): Sound {
  const narrow = resample(sound, CALL_RATE);
  return { samples: Float32Array.from(narrow, (sample) => fromMuLaw(toMuLaw(sample))), rate: CALL_RATE };
}

const MU = 255;

/** A step of -127 to 127. */
const toMuLaw = (sample: number): number => {
  const held = Math.max(-1, Math.min(1, sample));
  return Math.round((127 * Math.sign(held) * Math.log1p(MU * Math.abs(held))) / Math.log1p(MU));
};

const fromMuLaw = (step: number): number =>
  (Math.sign(step) * Math.expm1((Math.abs(step) / 127) * Math.log1p(MU))) / MU;
