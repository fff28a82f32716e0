import { cleanup, configure } from '@testing-library/react';
import { afterAll, afterEach, beforeEach, vi } from 'vitest';
import { place, router } from './router';

vi.mock('next/navigation', async () => {
  const { router, place } = await import('./router');
  return { useRouter: () => router, usePathname: () => place.path };
});
beforeEach(() => {
  router.push.mockReset();
  router.refresh.mockReset();
  place.path = '/inbox';
});

// What a browser has and this imitation of one lacks; menus and lists place themselves by it.
class Observer {
  observe() {}
  unobserve() {}
  disconnect() {}
}
vi.stubGlobal('ResizeObserver', Observer);
Element.prototype.getAnimations = () => [];
Element.prototype.scrollTo = () => {};
// A table draws the rows in view: nothing is measured here, so the size of a view is told.
for (const [name, value] of [
  ['clientWidth', 900],
  ['clientHeight', 370],
] as const)
  Object.defineProperty(HTMLElement.prototype, name, { configurable: true, value });
const read = <T>(blob: Blob, how: (reader: FileReader) => void): Promise<T> =>
  new Promise((resolve) => {
    const reader = new FileReader();
    reader.onload = () => resolve(reader.result as T);
    how(reader);
  });
Blob.prototype.text = function text() {
  return read(this, (reader) => reader.readAsText(this));
};
Blob.prototype.arrayBuffer = function arrayBuffer() {
  return read(this, (reader) => reader.readAsArrayBuffer(this));
};

// On a busy machine a component may take its time; how long is no question of these tests.
configure({ asyncUtilTimeout: 30_000 });
afterEach(cleanup);

// One imitation of a browser serves several files: what one of them puts in place of a part of it goes with that file.
afterAll(() => {
  vi.unstubAllGlobals();
  vi.restoreAllMocks();
  vi.useRealTimers();
});
