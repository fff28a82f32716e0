import { render, screen } from '@testing-library/react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Link } from './link';

const seen = vi.hoisted(() => ({ props: {} as Record<string, unknown>, pending: false }));
vi.mock('next/link', () => ({
  default: ({ children, prefetch, ...rest }: React.ComponentProps<'a'> & { prefetch?: unknown }) => {
    seen.props = { prefetch };
    return <a {...rest}>{children}</a>;
  },
  useLinkStatus: () => ({ pending: seen.pending }),
}));
beforeEach(() => void (seen.pending = false));

describe('a link', () => {
  it('fetches nothing of what it leads to before somebody follows it', () => {
    render(<Link href="/people/1">Ana</Link>);
    expect(screen.getByRole('link', { name: 'Ana' }).getAttribute('href')).toBe('/people/1');
    expect(seen.props).toEqual({ prefetch: false });
    expect(screen.queryByRole('status')).toBeNull();
  });

  it('says while the page is on its way', () => {
    seen.pending = true;
    render(<Link href="/people/1">Ana</Link>);
    expect(screen.getByRole('status').textContent).toBe('Loading');
  });
});
