import type { ReactNode } from 'react';
import { count } from './numbers';

/** How far something is, drawn and in words; `children`: what is still to come. */
export function Progress({
  value,
  of,
  label,
  children,
}: {
  value: number;
  of: number;
  label: string;
  children?: ReactNode;
}) {
  const share = of === 0 ? 0 : Math.min(1, value / of);
  return (
    <div className="mb-5">
      <div
        role="progressbar"
        aria-label={`${count(value)} of ${count(of)} ${label}`}
        aria-valuemin={0}
        aria-valuemax={of}
        aria-valuenow={value}
        className="h-2 border border-soft"
      >
        <div className="h-full bg-accent" style={{ width: `${share * 100}%` }} />
      </div>
      <p className="mt-1 flex flex-wrap justify-between gap-x-4 text-sm text-soft">
        <span>
          {count(value)} of {count(of)} {label}
        </span>
        {children && <span>{children}</span>}
      </p>
    </div>
  );
}
