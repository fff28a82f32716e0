import type { ReactNode } from 'react';
import { Link } from './link';
import { count } from './numbers';

/** One of several that a page shows, the one it shows marked. `is`: what the chosen one is; `n`: how many it holds. */
export const ChoiceLink = ({
  href,
  isOn,
  is = 'page',
  n,
  children,
}: {
  href: string;
  isOn: boolean;
  is?: 'page' | 'true';
  n?: number;
  children: ReactNode;
}) => (
  <Link
    href={href}
    aria-current={isOn ? is : undefined}
    className={isOn ? 'border-b-2 border-accent' : 'link'}
  >
    {children}
    {n !== undefined && <span className="ml-1.5 tabular-nums text-soft">{count(n)}</span>}
  </Link>
);
