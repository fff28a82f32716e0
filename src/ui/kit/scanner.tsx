'use client';
import { useCallback, useEffect, useRef, useState } from 'react';
import { Problem } from './problem';

const PATIENCE_MS = 10_000;
const LOOK_EVERY_MS = 350;

/** A worker that answers one picture after another, started anew when one was too much for it. */
export function useScanner() {
  const worker = useRef<Worker | null>(null);
  useEffect(() => () => worker.current?.terminate(), []);
  return useCallback(
    (picture: Blob | ImageBitmap): Promise<string | null> =>
      new Promise((resolve) => {
        const mine = (worker.current ??= new Worker(new URL('./scan-worker.ts', import.meta.url)));
        const late = setTimeout(() => {
          mine.terminate();
          worker.current = null;
          resolve(null);
        }, PATIENCE_MS);
        mine.onmessage = ({ data }: MessageEvent<{ text: string | null }>) => {
          clearTimeout(late);
          resolve(data.text);
        };
        mine.postMessage(picture);
      }),
    [],
  );
}

/** The camera, when it is asked for and allowed. */
export function Camera({
  scan,
  found,
}: {
  scan(picture: ImageBitmap): Promise<string | null>;
  found(text: string): void;
}) {
  const video = useRef<HTMLVideoElement>(null);
  const [on, setOn] = useState(false);
  const [problem, setProblem] = useState<string | null>(null);
  useEffect(() => {
    if (!on) return;
    let stream: MediaStream | null = null;
    let stopped = false;
    const look = async () => {
      if (stopped || !video.current) return;
      if (video.current.readyState >= 2) {
        const text = await scan(await createImageBitmap(video.current));
        if (text !== null && !stopped) {
          setOn(false);
          return found(text);
        }
      }
      setTimeout(() => void look(), LOOK_EVERY_MS);
    };
    navigator.mediaDevices
      .getUserMedia({ video: { facingMode: 'environment' } })
      .then((opened) => {
        stream = opened;
        if (video.current) video.current.srcObject = opened;
        void look();
      })
      .catch(() => {
        setOn(false);
        setProblem('The camera cannot be used here. Allow it in the browser, or choose a picture.');
      });
    return () => {
      stopped = true;
      stream?.getTracks().forEach((track) => track.stop());
    };
  }, [on, scan, found]);
  return (
    <div>
      <button type="button" className="button button-main" onClick={() => (setProblem(null), setOn(!on))}>
        {on ? 'Close the camera' : 'Open the camera'}
      </button>
      {on && (
        <video
          ref={video}
          autoPlay
          playsInline
          muted
          className="mt-3 w-full border border-rule"
          aria-label="What the camera sees"
        />
      )}
      <Problem>{problem}</Problem>
    </div>
  );
}
