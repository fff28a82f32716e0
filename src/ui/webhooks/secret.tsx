'use client';
import { useState } from 'react';

/** A secret that is shown when somebody asks, and copied with one press. */
export function Secret({ value }: { value: string }) {
  const [shown, setShown] = useState(false);
  const [copied, setCopied] = useState(false);
  return (
    <div>
      <code className="block [overflow-wrap:anywhere]">{shown ? value : '•'.repeat(24)}</code>
      <div className="mt-2 flex flex-wrap gap-2">
        <button type="button" className="button" onClick={() => setShown(!shown)}>
          {shown ? 'Hide' : 'Show'}
        </button>
        <button
          type="button"
          className="button"
          onClick={() => void navigator.clipboard.writeText(value).then(() => setCopied(true))}
        >
          {copied ? 'Copied' : 'Copy'}
        </button>
      </div>
    </div>
  );
}
