'use client';
import { useEffect, useRef, useState } from 'react';
import { LONGEST_SECONDS } from '@/core/voicemail/sound';

const COUNT_FROM = 3;

const REFUSED: Record<string, string> = {
  NotAllowedError:
    'The browser does not let this page hear the microphone. Allow it beside the address, or drop a file.',
  NotFoundError: 'There is no microphone. Plug one in, or drop a file.',
  NotReadableError: 'Another program has the microphone. End that, or drop a file.',
};

interface Recording {
  recorder: MediaRecorder;
  context: AudioContext;
  stream: MediaStream;
}

/** Records from the microphone: counts down, shows the level and the time, ends by itself after a minute. */
export function Microphone({
  take,
  complain,
  again,
}: {
  /** With a remark where it ended otherwise than by a press. */
  take(sound: Blob, remark: string | null): void;
  complain(words: string): void;
  /** Something is recorded already. */
  again: boolean;
}) {
  const running = useRef<Recording | null>(null);
  const [stage, setStage] = useState<'idle' | 'asking' | 'counting' | 'recording'>('idle');
  const [counted, setCounted] = useState(COUNT_FROM);
  const [seconds, setSeconds] = useState(0);
  const [level, setLevel] = useState(0);
  useEffect(() => () => end(running.current), []);

  const begin = async () => {
    setStage('asking');
    try {
      const stream = await navigator.mediaDevices.getUserMedia({
        audio: { channelCount: 1, echoCancellation: false, noiseSuppression: true, autoGainControl: false },
      });
      const context = new AudioContext();
      const recorder = new MediaRecorder(stream);
      running.current = { recorder, context, stream };
      await countDown(setStage, setCounted);
      if (running.current?.recorder !== recorder) return;
      listen(running.current, { setSeconds, setLevel, stop });
      collect(running.current, {
        take,
        over: () => (setStage('idle'), setLevel(0), (running.current = null)),
      });
      setSeconds(0);
      setStage('recording');
    } catch (error) {
      end(running.current);
      running.current = null;
      setStage('idle');
      complain(REFUSED[(error as Error).name] ?? 'The microphone cannot be heard. Drop a file instead.');
    }
  };
  const stop = () => {
    const now = running.current;
    if (now?.recorder.state === 'recording') now.recorder.stop();
    else {
      end(now);
      running.current = null;
      setStage('idle');
    }
  };
  return (
    <div className="flex flex-wrap items-center gap-4">
      {stage === 'idle' ? (
        <button type="button" className="button button-main" onClick={() => void begin()}>
          {again ? 'Record it again' : 'Record it'}
        </button>
      ) : (
        <button type="button" className="button" onClick={stop}>
          {stage === 'recording' ? 'Stop' : 'Not now'}
        </button>
      )}
      <span role="status" className="min-w-56">
        {stage === 'asking' && 'Allow the microphone beside the address …'}
        {stage === 'counting' && `Begin in ${counted} …`}
        {stage === 'recording' && (
          <span className="tabular-nums">
            {Math.floor(seconds)} of {LONGEST_SECONDS} seconds
            <span className="text-soft">
              {seconds < 15
                ? ', 15 to 30 are listened to'
                : seconds > 30
                  ? ', longer than people listen'
                  : ''}
            </span>
          </span>
        )}
      </span>
      {stage === 'recording' && <Level level={level} />}
    </div>
  );
}

/** How loud it is now; where it would rattle it says so in a word too. */
const Level = ({ level }: { level: number }) => (
  <span className="flex items-center gap-2">
    <span aria-hidden className="h-2 w-40 border border-soft">
      <span
        className={`block h-full ${level > 0.95 ? 'bg-bad' : 'bg-good'}`}
        style={{ width: `${Math.min(100, Math.round(level * 100))}%` }}
      />
    </span>
    <span className="text-sm text-soft">
      {level > 0.95 ? 'too loud' : level < 0.02 ? 'nothing is heard' : ''}
    </span>
  </span>
);

function countDown(
  setStage: (stage: 'counting') => void,
  setCounted: (counted: number) => void,
): Promise<void> {
  setStage('counting');
  setCounted(COUNT_FROM);
  return new Promise((resolve) => {
    let left = COUNT_FROM;
    const tick = setInterval(() => {
      left -= 1;
      setCounted(left);
      if (left > 0) return;
      clearInterval(tick);
      resolve();
    }, 700);
  });
}

function listen(
  { context, stream, recorder }: Recording,
  acts: { setSeconds(seconds: number): void; setLevel(level: number): void; stop(): void },
): void {
  const analyser = context.createAnalyser();
  context.createMediaStreamSource(stream).connect(analyser);
  const heard = new Float32Array(analyser.fftSize);
  const began = performance.now();
  const look = () => {
    if (recorder.state === 'inactive' && performance.now() - began > 500) return;
    analyser.getFloatTimeDomainData(heard);
    acts.setLevel(heard.reduce((most, sample) => Math.max(most, Math.abs(sample)), 0));
    const seconds = (performance.now() - began) / 1_000;
    acts.setSeconds(seconds);
    if (seconds >= LONGEST_SECONDS) return acts.stop();
    setTimeout(look, 80);
  };
  look();
}

function collect(
  recording: Recording,
  acts: { take(sound: Blob, remark: string | null): void; over(): void },
): void {
  const { recorder, stream } = recording;
  const pieces: Blob[] = [];
  let lost = false;
  recorder.ondataavailable = ({ data }) => pieces.push(data);
  recorder.onstop = () => {
    end(recording);
    acts.over();
    acts.take(
      new Blob(pieces, { type: recorder.mimeType }),
      lost ? 'The microphone was taken away. What it heard until then is here.' : null,
    );
  };
  for (const track of stream.getTracks())
    track.onended = () => {
      lost = true;
      if (recorder.state === 'recording') recorder.stop();
    };
  // In pieces, so that what was heard is there when the microphone goes.
  recorder.start(500);
}

function end(recording: Recording | null): void {
  if (!recording) return;
  for (const track of recording.stream.getTracks()) {
    track.onended = null;
    track.stop();
  }
  if (recording.context.state !== 'closed') void recording.context.close();
}
