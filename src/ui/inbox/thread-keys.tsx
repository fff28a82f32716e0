'use client';
import { useHotkeys } from 'react-hotkeys-hook';

/** What each key goes to on the page of a thread: a button is pressed, what folds is opened, a field gets the focus. */
const KEYS = ['a', 'd', 'l', 'w', 'm'];

/** The key stands on the control it serves: `data-thread-key`. */
export function ThreadKeys() {
  useHotkeys(KEYS, (event) => {
    const place = document.querySelector(`[data-thread-key="${event.key}"]`);
    if (!place) return;
    event.preventDefault();
    const fold = place instanceof HTMLDetailsElement ? place : null;
    if (fold) fold.open = true;
    const field = place.querySelector<HTMLElement>(
      '.cm-content, select, textarea, input:not([type="hidden"])',
    );
    if (field) field.focus();
    else place.querySelector('button')?.click();
  });
  return null;
}
