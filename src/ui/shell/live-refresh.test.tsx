import { router } from '@/ui/testing/router';
import { act, render } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { LiveRefresh } from './live-refresh';

let told = 0;
/** Where the page stands that is read. */
const MARK = 'a.0';

/** The stream of changes; the test says what comes. */
class Stream {
  static readonly CLOSED = 2;
  static all: Stream[] = [];
  readyState = 1;
  #heard: Record<string, (event: { data: string }) => void> = {};
  constructor() {
    Stream.all.push(this);
  }
  addEventListener(name: string, listener: (event: { data: string }) => void) {
    this.#heard[name] = listener;
  }
  close() {
    this.readyState = Stream.CLOSED;
  }
  tell(name: 'change' | 'error', data = `a.${++told}`) {
    act(() => this.#heard[name]?.({ data }));
  }
}

const now = () => Stream.all.at(-1)!;
const pass = (ms: number) => act(() => vi.advanceTimersByTimeAsync(ms));

beforeEach(() => {
  vi.useFakeTimers();
  vi.stubGlobal('EventSource', Stream);
  Stream.all = [];
});
afterEach(() => void vi.useRealTimers());

describe('a page that is open', () => {
  it('is read at each change, and not for what it was read with', async () => {
    const { rerender } = render(<LiveRefresh mark={MARK} />);
    now().tell('change', MARK);
    await pass(5_000);
    expect(router.refresh).not.toHaveBeenCalled();
    now().tell('change', 'a.100');
    await pass(100);
    expect(router.refresh).toHaveBeenCalledTimes(1);
    rerender(<LiveRefresh mark="a.101" />);
    now().tell('change', 'a.101');
    await pass(5_000);
    expect(router.refresh).toHaveBeenCalledTimes(1);
  });

  it('is read once it listens when something changed since it was made, or nobody knows', async () => {
    render(<LiveRefresh mark={null} />);
    now().tell('change', MARK);
    await pass(5_000);
    expect(router.refresh).toHaveBeenCalledTimes(1);
  });

  it('is read seldom however much changes, and once more at the end of it', async () => {
    render(<LiveRefresh mark={MARK} />);
    for (let i = 0; i < 50; i++) {
      now().tell('change');
      await pass(20);
    }
    await pass(2_000);
    expect(router.refresh.mock.calls.length).toBeGreaterThan(1);
    expect(router.refresh.mock.calls.length).toBeLessThan(5);
  });

  it('is read seldom while nobody looks at it, and at once when somebody does', async () => {
    render(<LiveRefresh mark={MARK} />);
    now().tell('change');
    await pass(1_000);
    router.refresh.mockClear();
    const hidden = vi.spyOn(document, 'hidden', 'get').mockReturnValue(true);
    now().tell('change');
    await pass(2_000);
    expect(router.refresh).not.toHaveBeenCalled();
    await pass(5_000);
    expect(router.refresh).toHaveBeenCalledOnce();
    now().tell('change');
    await pass(1_000);
    hidden.mockReturnValue(false);
    act(() => void document.dispatchEvent(new Event('visibilitychange')));
    await pass(100);
    expect(router.refresh).toHaveBeenCalledTimes(2);
    hidden.mockRestore();
  });

  it('is not read while there is no line, which would leave the page, and once there is one again', async () => {
    render(<LiveRefresh mark={MARK} />);
    const online = vi.spyOn(window.navigator, 'onLine', 'get').mockReturnValue(false);
    now().tell('change');
    await pass(5_000);
    expect(router.refresh).not.toHaveBeenCalled();
    online.mockReturnValue(true);
    act(() => void window.dispatchEvent(new Event('online')));
    await pass(1_000);
    expect(router.refresh).toHaveBeenCalledOnce();
    online.mockRestore();
  });

  it('is read again when the connection is back, for what was missed meanwhile', async () => {
    render(<LiveRefresh mark={MARK} />);
    now().readyState = 0;
    now().tell('error');
    await pass(3_000);
    expect(Stream.all).toHaveLength(1);
    now().tell('change');
    await pass(1_000);
    expect(router.refresh).toHaveBeenCalledOnce();
  });

  it('listens anew after the server answered with an error', async () => {
    render(<LiveRefresh mark={MARK} />);
    now().readyState = Stream.CLOSED;
    now().tell('error');
    await pass(5_000);
    expect(Stream.all).toHaveLength(2);
    now().tell('change');
    await pass(1_000);
    expect(router.refresh).toHaveBeenCalledOnce();
  });

  it('stops listening when it is left', async () => {
    const { unmount } = render(<LiveRefresh mark={MARK} />);
    now().tell('change');
    unmount();
    await pass(10_000);
    expect(now().readyState).toBe(Stream.CLOSED);
    expect(Stream.all).toHaveLength(1);
    expect(router.refresh).not.toHaveBeenCalled();
  });
});
