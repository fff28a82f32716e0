'use client';
import { useRouter } from 'next/navigation';
import { useHotkeys } from 'react-hotkeys-hook';

/** J and K go down and up a list of links, as the arrows do; Enter opens, as everywhere. */
export function ListKeys({ label }: { label: string }) {
  useHotkeys(['j', 'k', 'down', 'up'], (event) => {
    const links = [...document.querySelectorAll<HTMLElement>(`[aria-label="${label}"] tbody a[href]`)];
    if (links.length === 0) return;
    event.preventDefault();
    const at = links.indexOf(document.activeElement as HTMLElement);
    const down = event.key === 'j' || event.key === 'ArrowDown';
    links[Math.min(links.length - 1, Math.max(0, at + (down || at < 0 ? 1 : -1)))]?.focus();
  });
  return null;
}

/** N goes to whoever waits next. */
export function NextKey({ href }: { href: string }) {
  const router = useRouter();
  useHotkeys('n', () => router.push(href));
  return null;
}
