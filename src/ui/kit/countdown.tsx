'use client';
import { useEffect, useState } from 'react';

/** Seconds left until an instant, told on the page and not read out at each second. `now`: the clock of the server. */
export function Countdown({ to, now }: { to: number; now: number }) {
  const [left, setLeft] = useState(to - now);
  useEffect(() => {
    const offset = now - Date.now();
    const timer = setInterval(() => setLeft(to - (Date.now() + offset)), 1_000);
    return () => clearInterval(timer);
  }, [to, now]);
  return (
    <span aria-hidden="true" className="tabular-nums">
      {left > 0 ? `in ${Math.ceil(left / 1_000)} s` : 'now'}
    </span>
  );
}
