'use client';
import { useNow } from './use-now';

/** Seconds left until an instant, told on the page and not read out at each second. `now`: the clock of the server. */
export function Countdown({ to, now }: { to: number; now: number }) {
  const left = to - useNow(now);
  return (
    <span aria-hidden="true" className="tabular-nums">
      {left > 0 ? `in ${Math.ceil(left / 1_000)} s` : 'now'}
    </span>
  );
}
