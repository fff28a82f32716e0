'use client';
import { useEffect, useState } from 'react';
import { useNow } from '@/ui/kit/use-now';
import { VOUCHER_WORDS, type VoucherState } from '@/core/offer/voucher';
import { clockTime } from '@/ui/kit/time';

const TONES: Record<VoucherState, string> = {
  valid: 'border-good text-good',
  used: 'border-bad text-bad',
  expired: 'border-bad text-bad',
  'not-yet': 'border-wait text-wait',
  withdrawn: 'border-bad text-bad',
};

const EVERY_MS = 4_000;

/**
 * What a voucher is worth now, with a clock that runs and a bar that wanders: a picture of the page stands still. The
 * state is asked for again and again, so that a voucher used at another till shows it.
 */
export function VoucherMark({
  code,
  state: first,
  now,
  zone,
}: {
  code: string;
  state: VoucherState;
  now: number;
  zone: string;
}) {
  const [state, setState] = useState(first);
  const at = useNow(now);
  useEffect(() => {
    const ask = async () => {
      const answer = await fetch(`/v/${encodeURIComponent(code)}/state`, { method: 'POST' }).catch(
        () => null,
      );
      if (answer?.ok) setState(((await answer.json()) as { state: VoucherState }).state);
    };
    void ask();
    const timer = setInterval(() => void ask(), EVERY_MS);
    return () => clearInterval(timer);
  }, [code]);
  const { word, shape, means } = VOUCHER_WORDS[state];
  return (
    <div className={`relative overflow-hidden border-2 px-4 py-3 ${TONES[state]}`} role="status">
      <p className="text-2xl font-semibold">
        <span aria-hidden="true">{shape}</span> {word}
      </p>
      <p className="text-sm">{means}</p>
      <p className="mt-1 font-mono text-sm tabular-nums" suppressHydrationWarning>
        {clockTime(at, zone)}:{String(Math.floor(at / 1_000) % 60).padStart(2, '0')}
      </p>
      {state === 'valid' && <span aria-hidden="true" className="wandering-bar" />}
    </div>
  );
}
