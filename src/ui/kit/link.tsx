import NextLink from 'next/link';

/**
 * A link within the application. What it leads to is fetched once somebody follows it: the framework's own links fetch
 * ahead whatever they lead to as soon as they are seen, which made of a page of people or of the inbox forty
 * more questions to the server, twice the work of the page itself.
 */
export const Link = (props: React.ComponentProps<typeof NextLink>) => (
  <NextLink prefetch={false} {...props} />
);
