'use client';
import { useRouter } from 'next/navigation';
import { useEffect } from 'react';

const QUIET_MS = 700;

/** Shows changes as they happen: the first at once, a burst at most every QUIET_MS. */
export function LiveRefresh() {
  const router = useRouter();
  useEffect(() => {
    const events = new EventSource('/live');
    let last = 0;
    let timer: ReturnType<typeof setTimeout> | null = null;
    const refresh = () => {
      last = Date.now();
      timer = null;
      router.refresh();
    };
    events.addEventListener('change', () => {
      if (timer) return;
      timer = setTimeout(refresh, Math.max(30, QUIET_MS - (Date.now() - last)));
    });
    return () => {
      events.close();
      if (timer) clearTimeout(timer);
    };
  }, [router]);
  return null;
}
