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
 *
 * @param mark where the changes stood before the page was read: one that is told with the same mark is on it already
 */
export function LiveRefresh({ mark }: { mark: string | null }) {
  const router = useRouter();
  const shown = useRef(mark);
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
    const changed = ({ data }: MessageEvent<string>) => {
      if (data === shown.current) return;
      dirty.current = true;
      look.current();
    };
    let events: EventSource;
    let again: ReturnType<typeof setTimeout> | null = null;
    const listen = () => {
      events = new EventSource('/live');
      // Told at first too: what happened since the page was made, or the connection lost, shows in the mark.
      events.addEventListener('change', changed);
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
    shown.current = mark;
  }, [mark]);
  useEffect(() => {
    busy.current = reading;
    look.current();
  }, [reading]);
  return null;
}
