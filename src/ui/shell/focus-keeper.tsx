'use client';
import { usePathname } from 'next/navigation';
import { useEffect, useRef } from 'react';

const GOES =
  'a[href], button:not([disabled]), input:not([type=hidden]), select, textarea, summary, [contenteditable=true]';

/**
 * Focus goes where the work goes on. What it stood on may be gone after a press: then the next thing to do in the same
 * block gets it, else the heading. A button that is out of use while it works has it again afterwards. A new page begins at its
 * heading.
 */
export function FocusKeeper() {
  const path = usePathname();
  const first = useRef(true);
  useEffect(() => {
    // The page somebody came by address begins where browsers begin.
    if (first.current) first.current = false;
    else if (document.activeElement === document.body || !document.activeElement?.isConnected) focusHeading();
  }, [path]);
  useEffect(() => {
    /** What had focus, from itself outward. */
    let trail: Element[] = [];
    /** What lost it by going out of use. */
    let resting: HTMLElement | null = null;
    const remember = (event: FocusEvent) => {
      [trail, resting] = [[], null];
      for (let at = event.target as Element | null; at && at !== document.body; at = at.parentElement)
        trail.push(at);
    };
    const rest = ({ target }: MutationRecord) => {
      if (!(target instanceof HTMLElement)) return;
      if (target.matches(':disabled')) resting = target === trail[0] ? target : resting;
      else if (target === resting) {
        resting = null;
        if (document.activeElement === document.body) target.focus({ preventScroll: true });
      }
    };
    const look = (changes: MutationRecord[]) => {
      changes.filter(({ type }) => type === 'attributes').forEach(rest);
      const lost = trail[0] && !trail[0].isConnected && document.activeElement === document.body;
      if (!lost) return;
      const block = trail.find((one) => one.isConnected);
      const next = block?.querySelector<HTMLElement>(GOES);
      trail = [];
      if (next && block?.id !== 'main') next.focus();
      else focusHeading();
    };
    const watch = new MutationObserver(look);
    document.addEventListener('focusin', remember);
    watch.observe(document.body, { childList: true, subtree: true, attributeFilter: ['disabled'] });
    return () => {
      document.removeEventListener('focusin', remember);
      watch.disconnect();
    };
  }, []);
  return null;
}

function focusHeading(): void {
  const heading = document.querySelector<HTMLElement>('#main h1');
  if (!heading) return;
  heading.tabIndex = -1;
  heading.focus({ preventScroll: true });
}
