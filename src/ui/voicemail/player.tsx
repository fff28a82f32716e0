'use client';
import { useEffect, useMemo } from 'react';

/** Plays a sound that is not kept yet. */
export function Player({ wave, label }: { wave: Uint8Array; label: string }) {
  const url = useMemo(() => URL.createObjectURL(new Blob([wave as BlobPart], { type: 'audio/wav' })), [wave]);
  useEffect(() => () => URL.revokeObjectURL(url), [url]);
  return (
    <figure>
      <figcaption className="text-sm text-soft">{label}</figcaption>
      <audio controls preload="metadata" src={url} aria-label={label} className="h-10 w-full max-w-80" />
    </figure>
  );
}

/** Plays a recording that is kept. */
export const KeptPlayer = ({ id, label }: { id: string; label: string }) => (
  <audio
    controls
    preload="none"
    src={`/internal/voice/${id}`}
    aria-label={label}
    className="h-10 w-full max-w-80"
  />
);
