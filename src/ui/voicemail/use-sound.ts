'use client';
import { useCallback, useEffect, useRef, useState } from 'react';
import { SOUND_REFUSAL_WORDS } from '@/core/voicemail/sound';
import type { SoundAsked, SoundMade } from './sound-worker';

/** Twenty minutes at the quality of a studio; what is larger is no voice message. */
const LARGEST_FILE = 120_000_000;
const LONGEST_SECONDS = 20 * 60;
/** At this rate it is unpacked, whatever it has. */
const RATE = 48_000;

/** A recording that is ready to be kept. */
export type ReadySound = Extract<SoundMade, { ok: true }>;

export interface SoundDesk {
  ready: ReadySound | null;
  /** Its shape, also where it cannot be kept as it is. */
  shape: SoundMade['shape'];
  seconds: number;
  working: boolean;
  problem: string | null;
  /** What is said of how it was recorded stays beside it once it is ready. */
  open(file: Blob, remark?: string | null): Promise<void>;
  cut(from: number, to: number): void;
  complain(words: string): void;
}

/** Opens what was recorded or dropped, and makes it ready in a worker: the page goes on meanwhile. */
export function useSound(): SoundDesk {
  const worker = useRef<Worker | null>(null);
  /** Counts what was opened: a file that takes longer to be unpacked than the next one came too late. */
  const turn = useRef(0);
  const remarked = useRef<string | null>(null);
  const [made, setMade] = useState<SoundMade | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const [working, setWorking] = useState(false);
  useEffect(() => () => worker.current?.terminate(), []);
  const ask = useCallback((asked: SoundAsked, moved: Transferable[]) => {
    worker.current ??= soundWorker({
      made(data) {
        setMade(data);
        setProblem(data.ok ? remarked.current : SOUND_REFUSAL_WORDS[data.reason]);
        setWorking(false);
      },
      broken() {
        worker.current?.terminate();
        worker.current = null;
        setProblem(SOUND_REFUSAL_WORDS.broken);
        setWorking(false);
      },
    });
    setWorking(true);
    worker.current.postMessage(asked, moved);
  }, []);
  const open = useCallback(
    async (file: Blob, remark: string | null = null) => {
      const mine = (turn.current += 1);
      remarked.current = remark;
      setMade(null);
      setProblem(null);
      setWorking(true);
      const unpacked = await unpack(file);
      if (turn.current !== mine) return;
      if (!unpacked.ok) {
        setWorking(false);
        return setProblem(unpacked.words);
      }
      ask(
        { do: 'open', channels: unpacked.channels, rate: RATE },
        unpacked.channels.map(({ buffer }) => buffer as ArrayBuffer),
      );
    },
    [ask],
  );
  return {
    ...{ ready: made?.ok ? made : null, shape: made?.shape ?? [], seconds: made?.seconds ?? 0 },
    ...{ working, problem, open, complain: setProblem },
    cut: (from, to) => ask({ do: 'cut', from, to }, []),
  };
}

function soundWorker(heard: { made(data: SoundMade): void; broken(): void }): Worker {
  const worker = new Worker(new URL('./sound-worker.ts', import.meta.url));
  worker.onmessage = ({ data }: MessageEvent<SoundMade>) => heard.made(data);
  worker.onerror = heard.broken;
  return worker;
}

/** What can be said of a file before it is unpacked, which would fill the memory. */
async function refusalOf(file: Blob): Promise<string | null> {
  const name = file instanceof File ? `“${file.name}” ` : 'It ';
  if (file.type.startsWith('video/') && file instanceof File)
    return `${name}is a film. Save its sound as MP3, WAV, M4A, OGG or FLAC first.`;
  if (file.size > LARGEST_FILE)
    return `${name}has ${Math.round(file.size / 1_000_000)} MB. A voice message of a minute has less than 120: cut it first.`;
  if (file.size === 0) return `${name}is empty.`;
  const seconds = await lengthOf(file);
  return seconds !== null && seconds > LONGEST_SECONDS
    ? `${name}takes ${Math.round(seconds / 60)} minutes. Cut it to less than 20 first, then here to 15 to 30 seconds.`
    : null;
}

/** How long it takes, as far as its head says; null: it does not. */
function lengthOf(file: Blob): Promise<number | null> {
  const url = URL.createObjectURL(file);
  const player = new Audio();
  return new Promise<number | null>((resolve) => {
    const late = setTimeout(() => resolve(null), 3_000);
    const done = (seconds: number | null) => (clearTimeout(late), resolve(seconds));
    player.onloadedmetadata = () => done(Number.isFinite(player.duration) ? player.duration : null);
    player.onerror = () => done(null);
    player.preload = 'metadata';
    player.src = url;
  }).finally(() => URL.revokeObjectURL(url));
}

type Unpacked = { ok: true; channels: Float32Array[] } | { ok: false; words: string };

/** Its channels, by the browser's own readers of formats, which work beside the page. */
async function unpack(file: Blob): Promise<Unpacked> {
  const refused = await refusalOf(file);
  if (refused) return { ok: false, words: refused };
  try {
    const bytes = await file.arrayBuffer();
    const sound = await new OfflineAudioContext(1, 1, RATE).decodeAudioData(bytes);
    const channels = Array.from({ length: Math.min(sound.numberOfChannels, 2) }, (_, i) =>
      sound.getChannelData(i).slice(),
    );
    return { ok: true, channels };
  } catch {
    return { ok: false, words: SOUND_REFUSAL_WORDS.broken };
  }
}
