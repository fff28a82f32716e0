import { act, cleanup, fireEvent, render, screen } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { router } from '@/ui/testing/router';
import { BrowserNotice, BrowserNoticeChoice, type News } from './browser-notice';

const news = (at: number): News => ({ at, title: 'Ana Orr', words: 'wrote', href: '/inbox/per_1' });

class Told {
  static permission = 'granted';
  static answer = 'granted';
  static all: Told[] = [];
  static requestPermission = () => Promise.resolve(Told.answer);
  onclick: (() => void) | null = null;
  close = vi.fn();
  constructor(
    readonly title: string,
    readonly options: { body: string },
  ) {
    Told.all.push(this);
  }
}

let hidden = true;
beforeEach(() => {
  Told.all = [];
  Told.permission = Told.answer = 'granted';
  hidden = true;
  vi.stubGlobal('Notification', Told);
  vi.spyOn(document, 'visibilityState', 'get').mockImplementation(() => (hidden ? 'hidden' : 'visible'));
  vi.spyOn(window, 'focus').mockImplementation(() => {});
  localStorage.setItem('wren.browser-notices', 'yes');
});
afterEach(() => {
  cleanup();
  localStorage.clear();
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

describe('what comes while a page is not looked at', () => {
  it('is told once, and leads to where it is', () => {
    const { rerender } = render(<BrowserNotice news={news(1)} />);
    expect(Told.all).toHaveLength(0);
    rerender(<BrowserNotice news={news(2)} />);
    rerender(<BrowserNotice news={news(2)} />);
    expect(Told.all.map(({ title, options }) => [title, options.body])).toEqual([['Ana Orr', 'wrote']]);
    Told.all[0]!.onclick!();
    expect(router.push).toHaveBeenCalledWith('/inbox/per_1');
  });

  it.each([
    ['who looks at the page', () => void (hidden = false)],
    ['who did not ask for it', () => localStorage.clear()],
    ['whose browser refuses', () => void (Told.permission = 'denied')],
  ])('is not told to %s', (_, change) => {
    change();
    const { rerender } = render(<BrowserNotice news={null} />);
    rerender(<BrowserNotice news={news(2)} />);
    expect(Told.all).toHaveLength(0);
  });
});

describe('the choice', () => {
  it('asks the browser, and can be taken back', async () => {
    localStorage.clear();
    render(<BrowserNoticeChoice />);
    await act(async () => fireEvent.click(screen.getByRole('button', { name: /Tell me in this browser/ })));
    expect(localStorage.getItem('wren.browser-notices')).toBe('yes');
    fireEvent.click(screen.getByRole('button', { name: /no more/ }));
    expect(localStorage.getItem('wren.browser-notices')).toBeNull();
  });

  it('says what to do where the browser refuses', async () => {
    localStorage.clear();
    Told.answer = 'denied';
    render(<BrowserNoticeChoice />);
    await act(async () => fireEvent.click(screen.getByRole('button')));
    expect(screen.getByRole('status').textContent).toContain('browser’s settings');
    expect(localStorage.getItem('wren.browser-notices')).toBeNull();
  });
});
