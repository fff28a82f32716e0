'use client';
import { useEffect } from 'react';

/** A long thread opens at now, where it goes on; what fits the window stays where it is. */
export function OpenAtNow() {
  useEffect(() => {
    const now = document.getElementById('now');
    if (now && window.location.hash === '' && now.getBoundingClientRect().bottom > window.innerHeight)
      now.scrollIntoView({ block: 'end' });
  }, []);
  return null;
}
