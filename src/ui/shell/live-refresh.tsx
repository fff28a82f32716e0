'use client';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useTransition } from 'react';

const QUIET_MS = 700;
/** Of a page that nobody looks at: it only has to tell what comes, by the browser. */
const HIDDEN_QUIET_MS = 5_000;
const AGAIN_MS = 5_000;

/**
 * Shows changes as they happen: the first at once, a burst at most every QUIET_MS, and never a second reading
 * before the first is shown: on a busy machine they would overtake each other for ever. A page that is looked at again is
 * read at once.
 */
export function LiveRefresh() {
  const router = useRouter();
  const [reading, start] = useTransition();
  const dirty = useRef(false);
  const busy = useRef(false);
  const last = useRef(0);
  const look = useRef<() => void>(() => {});
  useEffect(() => {
    let timer: ReturnType<typeof setTimeout> | null = null;
    const refresh = () => {
      timer = null;
      // Without a line the framework would leave the page, and with it whatever is being done on it.
      if (!navigator.onLine) return;
      dirty.current = false;
      last.current = Date.now();
      start(() => router.refresh());
    };
    look.current = () => {
      if (!dirty.current || busy.current || timer) return;
      const quiet = document.hidden ? HIDDEN_QUIET_MS : QUIET_MS;
      timer = setTimeout(refresh, Math.max(30, quiet - (Date.now() - last.current)));
    };
    const seen = () => {
      if (document.hidden || !timer) return;
      clearTimeout(timer);
      timer = null;
      look.current();
    };
    const changed = () => {
      dirty.current = true;
      look.current();
    };
    let events: EventSource;
    let again: ReturnType<typeof setTimeout> | null = null;
    const listen = () => {
      events = new EventSource('/live');
      events.addEventListener('change', changed);
      // What happened before anybody listened is not told again: since the page was made, or the connection lost.
      events.addEventListener('open', changed);
      // The browser connects again by itself, but for a server that answered with an error.
      events.addEventListener('error', () => {
        if (events.readyState === EventSource.CLOSED) again = setTimeout(listen, AGAIN_MS);
      });
    };
    listen();
    const back = () => look.current();
    window.addEventListener('online', back);
    document.addEventListener('visibilitychange', seen);
    return () => {
      window.removeEventListener('online', back);
      document.removeEventListener('visibilitychange', seen);
      events.close();
      if (timer) clearTimeout(timer);
      if (again) clearTimeout(again);
    };
  }, [router]);
  useEffect(() => {
    busy.current = reading;
    look.current();
  }, [reading]);
  return null;
}
