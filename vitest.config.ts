import { fileURLToPath } from 'node:url';
import { defineConfig } from 'vitest/config';

const alias = { '@': fileURLToPath(new URL('./src', import.meta.url)) };

/** Parts of screens, in what imitates a browser. */
const screens = (name: string, files: { include: string[]; exclude?: string[]; isolate?: boolean }) => ({
  oxc: { jsx: { runtime: 'automatic' as const } },
  test: {
    ...{ name, ...files, environment: 'jsdom', testTimeout: 120_000 },
    setupFiles: ['src/ui/testing/setup.ts'],
  },
});

// Limits are for what hangs, not for what is slow: the machine they run on may do much else at the time.
export default defineConfig({
  resolve: { alias },
  test: {
    maxWorkers: 2,
    pool: 'threads',
    isolate: false,
    projects: [
      {
        extends: true,
        test: {
          name: 'unit',
          include: ['src/**/*.test.ts'],
          exclude: ['src/**/*.db.test.ts'],
          testTimeout: 120_000,
        },
      },
      {
        extends: true,
        ...screens('ui', { include: ['src/**/*.test.tsx'], exclude: ['src/**/*.mocked.test.tsx'] }),
      },
      // What puts something in a module's place must not do so for the files after it.
      { extends: true, ...screens('ui-mocked', { include: ['src/**/*.mocked.test.tsx'], isolate: true }) },
      {
        extends: true,
        test: {
          name: 'db',
          include: ['src/**/*.db.test.ts'],
          globalSetup: ['src/db/testing/global-setup.ts'],
          testTimeout: 300_000,
          hookTimeout: 300_000,
        },
      },
      {
        extends: true,
        test: {
          name: 'e2e',
          include: ['e2e/**/*.e2e.ts'],
          testTimeout: 600_000,
          hookTimeout: 600_000,
        },
      },
    ],
  },
});
