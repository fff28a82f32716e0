'use client';
import { useLinkStatus } from 'next/link';
import { Link } from './link';

/** A link to another view of rows: until it is there, the rows that stand are paled and it is said that more is coming. */
export function PendingLink({ children, ...rest }: React.ComponentProps<typeof Link>) {
  return (
    <Link {...rest}>
      {children}
      <OnItsWay />
    </Link>
  );
}

function OnItsWay() {
  const { pending } = useLinkStatus();
  if (!pending) return null;
  return (
    <span role="status" className="on-its-way">
      <span className="sr-only">Loading</span>
    </span>
  );
}
