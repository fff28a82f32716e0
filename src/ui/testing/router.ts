import { vi } from 'vitest';

/** Where a component went; the pages of the framework are not there in these tests. */
export const router = { push: vi.fn(), refresh: vi.fn() };

/** Where a component stands. */
export const place = { path: '/inbox' };
