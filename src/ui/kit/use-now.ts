import { useEffect, useState } from 'react';

/** The server's clock as it goes on while a page is looked at. `now`: what it showed when the page was drawn. */
export function useNow(now: number, everyMs = 1_000): number {
  const [at, setAt] = useState(now);
  useEffect(() => {
    const offset = now - Date.now();
    const timer = setInterval(() => setAt(Date.now() + offset), everyMs);
    return () => clearInterval(timer);
  }, [now, everyMs]);
  return Math.max(at, now);
}
