import { ok, refuse, type Result } from '../shared/result';
import type { Sound } from './sound';

const HEADER = 44;

/** A sound as a WAVE file (RFC 2361): one channel of 16-bit PCM. */
export function writeWave({ samples, rate }: Sound): Uint8Array {
  const bytes = new Uint8Array(HEADER + samples.length * 2);
  const view = new DataView(bytes.buffer);
  const word = (at: number, text: string) =>
    [...text].forEach((letter, i) => view.setUint8(at + i, letter.charCodeAt(0)));
  word(0, 'RIFF');
  view.setUint32(4, bytes.length - 8, true);
  word(8, 'WAVEfmt ');
  view.setUint32(16, 16, true);
  view.setUint16(20, 1, true);
  view.setUint16(22, 1, true);
  view.setUint32(24, rate, true);
  view.setUint32(28, rate * 2, true);
  view.setUint16(32, 2, true);
  view.setUint16(34, 16, true);
  word(36, 'data');
  view.setUint32(40, samples.length * 2, true);
  for (let i = 0; i < samples.length; i += 1)
    view.setInt16(HEADER + i * 2, Math.round(Math.max(-1, Math.min(1, samples[i]!)) * 32_767), true);
  return bytes;
}

export type WaveRefusal = 'no-wave' | 'not-ours';

/** Reads what `writeWave` writes, whoever wrote it: chunks in any order, sizes that lie are not followed. */
export function readWave(bytes: Uint8Array): Result<Sound, WaveRefusal> {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const word = (at: number) =>
    at + 4 <= bytes.length ? String.fromCharCode(...bytes.subarray(at, at + 4)) : '';
  if (word(0) !== 'RIFF' || word(8) !== 'WAVE') return refuse('no-wave');
  let rate: number | null = null;
  for (let at = 12; at + 8 <= bytes.length;) {
    const size = view.getUint32(at + 4, true);
    const from = at + 8;
    if (word(at) === 'fmt ') {
      if (size < 16 || from + 16 > bytes.length) return refuse('no-wave');
      const [format, channels] = [view.getUint16(from, true), view.getUint16(from + 2, true)];
      if (format !== 1 || channels !== 1 || view.getUint16(from + 14, true) !== 16) return refuse('not-ours');
      rate = view.getUint32(from + 4, true);
    }
    if (word(at) === 'data') {
      if (rate === null) return refuse('no-wave');
      const length = Math.floor(Math.min(size, bytes.length - from) / 2);
      return ok({
        samples: Float32Array.from({ length }, (_, i) => view.getInt16(from + i * 2, true) / 32_768),
        rate,
      });
    }
    at = from + size + (size % 2);
  }
  return refuse('no-wave');
}
