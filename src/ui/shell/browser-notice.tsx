'use client';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState, useSyncExternalStore } from 'react';

/** The newest thing somebody is told and has not seen. */
export interface News {
  /** Milliseconds since 1970. */
  at: number;
  title: string;
  words: string;
  href: string;
}

const WISH = 'wren.browser-notices';
const CHANGED = 'wren-browser-notices';

const wishes = (): boolean => localStorage.getItem(WISH) === 'yes';
const listen = (changed: () => void): (() => void) => {
  window.addEventListener(CHANGED, changed);
  return () => window.removeEventListener(CHANGED, changed);
};

/**
 * Tells by the browser what comes while the page is not looked at, to who asked for it here. What was there when the page
 * was opened is no news; pages of one browser that tell the same thing tell it once, by its tag.
 */
export function BrowserNotice({ news }: { news: News | null }) {
  const router = useRouter();
  const known = useRef(news?.at ?? 0);
  useEffect(() => {
    if (!news || news.at <= known.current) return;
    known.current = news.at;
    if (document.visibilityState === 'visible' || !('Notification' in window)) return;
    if (Notification.permission !== 'granted' || !wishes()) return;
    const told = new Notification(news.title, { body: news.words, tag: `${news.href} ${news.at}` });
    told.onclick = () => {
      window.focus();
      router.push(news.href);
      told.close();
    };
  }, [news, router]);
  return null;
}

/** Asks for it, or ends it, in this browser alone. */
export function BrowserNoticeChoice() {
  const on = useSyncExternalStore(listen, wishes, () => false);
  const [refused, setRefused] = useState(false);
  const wish = (yes: boolean) => {
    if (yes) localStorage.setItem(WISH, 'yes');
    else localStorage.removeItem(WISH);
    window.dispatchEvent(new Event(CHANGED));
  };
  const ask = async () => {
    const granted = 'Notification' in window && (await Notification.requestPermission()) === 'granted';
    setRefused(!granted);
    if (granted) wish(true);
  };
  return (
    <div className="mt-3">
      <button type="button" className="button" onClick={() => (on ? wish(false) : void ask())}>
        {on ? 'Tell me no more in this browser' : 'Tell me in this browser too'}
      </button>
      <p className="mt-1 text-soft" role="status">
        {refused
          ? 'This browser does not let the page tell you anything: allow notifications for it in the browser’s settings, and press again.'
          : on
            ? 'What concerns you is told while you look at something else.'
            : 'Of what concerns you, while you look at something else. For this browser alone.'}
      </p>
    </div>
  );
}
