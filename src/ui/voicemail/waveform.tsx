'use client';
import { useRef, useState } from 'react';

const HEIGHT = 72;

/** What was recorded as a picture, with the part that is kept between two handles: dragged, or moved by arrow keys. */
export function Waveform({
  shape,
  seconds,
  part,
  cut,
}: {
  shape: readonly { low: number; high: number }[];
  seconds: number;
  part: { from: number; to: number };
  cut(part: { from: number; to: number }): void;
}) {
  const box = useRef<HTMLDivElement>(null);
  const [moving, setMoving] = useState<{ from: number; to: number } | null>(null);
  const shown = moving ?? part;
  const path = shape
    .map(({ low, high }, i) => {
      const [top, foot] = [(1 - high) * (HEIGHT / 2), (1 - low) * (HEIGHT / 2)];
      return `M${i + 0.5} ${Math.min(top, HEIGHT / 2 - 0.5)}V${Math.max(foot, HEIGHT / 2 + 0.5)}`;
    })
    .join('');
  const at = (clientX: number): number => {
    const { left, width } = box.current!.getBoundingClientRect();
    return Math.max(0, Math.min(seconds, ((clientX - left) / width) * seconds));
  };
  const moved = (end: 'from' | 'to', to: number): { from: number; to: number } =>
    end === 'from'
      ? { ...shown, from: Math.max(0, Math.min(to, shown.to - 1)) }
      : { ...shown, to: Math.min(seconds, Math.max(to, shown.from + 1)) };
  const handle = (end: 'from' | 'to', label: string) => (
    <button
      type="button"
      role="slider"
      aria-label={label}
      aria-valuemin={0}
      aria-valuemax={Math.round(seconds * 10) / 10}
      aria-valuenow={Math.round(shown[end] * 10) / 10}
      aria-valuetext={`${shown[end].toFixed(1)} seconds`}
      className="absolute inset-y-0 w-6 -translate-x-1/2 cursor-ew-resize touch-none"
      style={{ left: `${(shown[end] / seconds) * 100}%` }}
      onPointerDown={(event) => event.currentTarget.setPointerCapture(event.pointerId)}
      onPointerMove={(event) =>
        event.currentTarget.hasPointerCapture(event.pointerId) && setMoving(moved(end, at(event.clientX)))
      }
      onPointerUp={() => {
        if (moving) cut(moving);
        setMoving(null);
      }}
      onKeyDown={(event) => {
        const by = { ArrowLeft: -0.1, ArrowRight: 0.1, PageDown: -1, PageUp: 1 }[event.key];
        if (by === undefined) return;
        event.preventDefault();
        cut(moved(end, shown[end] + by));
      }}
    >
      <span aria-hidden className="mx-auto block h-full w-0.5 bg-accent" />
    </button>
  );
  return (
    <div>
      <div ref={box} className="relative border-y border-rule" data-testid="waveform">
        <svg
          viewBox={`0 0 ${shape.length || 1} ${HEIGHT}`}
          preserveAspectRatio="none"
          className="block h-20 w-full"
        >
          <path d={path} className="stroke-ink" strokeWidth={1} vectorEffect="non-scaling-stroke" />
        </svg>
        {(['from', 'to'] as const).map((end) => (
          <span
            key={end}
            aria-hidden
            className="absolute inset-y-0 bg-paper/75"
            style={
              end === 'from'
                ? { left: 0, width: `${(shown.from / seconds) * 100}%` }
                : { right: 0, width: `${(1 - shown.to / seconds) * 100}%` }
            }
          />
        ))}
        {handle('from', 'Begins at')}
        {handle('to', 'Ends at')}
      </div>
      <p className="flex justify-between text-sm tabular-nums text-soft">
        <span>{shown.from.toFixed(1)} s</span>
        <span>drag the two lines to keep a part of it</span>
        <span>{shown.to.toFixed(1)} s</span>
      </p>
    </div>
  );
}
