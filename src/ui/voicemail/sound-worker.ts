import {
  asPhonePlays,
  makeReady,
  waveform,
  type SoundFacts,
  type SoundRefusal,
} from '@/core/voicemail/sound';
import { writeWave } from '@/core/voicemail/wav';

/** Makes a recording ready away from the page; what came is kept, so that another part of it can be chosen. */
export type SoundAsked =
  | { do: 'open'; channels: Float32Array[]; rate: number }
  | { do: 'cut'; from: number; to: number };

export type SoundMade =
  | {
      ok: true;
      /** Of what came, before anything was cut. */
      seconds: number;
      shape: { low: number; high: number }[];
      wave: Uint8Array;
      phone: Uint8Array;
      facts: SoundFacts;
    }
  | { ok: false; reason: SoundRefusal; seconds: number; shape: { low: number; high: number }[] };

const COLUMNS = 300;

let opened: { channels: Float32Array[]; rate: number; shape: { low: number; high: number }[] } | null = null;

self.onmessage = ({ data }: MessageEvent<SoundAsked>) => {
  self.postMessage(answer(data));
};

function answer(asked: SoundAsked): SoundMade {
  if (asked.do === 'open')
    opened = {
      ...{ channels: asked.channels, rate: asked.rate },
      shape: waveform(asked.channels[0] ?? new Float32Array(0), COLUMNS),
    };
  if (!opened) return { ok: false, reason: 'broken', seconds: 0, shape: [] };
  const { channels, rate, shape } = opened;
  const seconds = (channels[0]?.length ?? 0) / rate;
  const part = asked.do === 'cut' ? { from: asked.from, to: asked.to } : undefined;
  const ready = makeReady(channels, rate, part);
  if (!ready.ok) return { ok: false, reason: ready.reason, seconds, shape };
  const { sound, facts } = ready.value;
  return {
    ...{ ok: true, seconds, shape, facts },
    ...{ wave: writeWave(sound), phone: writeWave(asPhonePlays(sound)) },
  };
}
