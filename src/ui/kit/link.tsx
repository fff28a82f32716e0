'use client';
import NextLink, { useLinkStatus } from 'next/link';

/**
 * A link within the application. What it leads to is fetched once somebody follows it: the framework's own links fetch
 * ahead whatever they lead to as soon as they are seen, which made of a page of people or of the inbox forty
 * more questions to the server, twice the work of the page itself. While a page is on its way that is seen and said.
 */
export function Link({ children, ...rest }: React.ComponentProps<typeof NextLink>) {
  return (
    <NextLink prefetch={false} {...rest}>
      {children}
      <OnItsWay />
    </NextLink>
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
