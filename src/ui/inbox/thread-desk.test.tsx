import { act, cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import type { ComponentProps } from 'react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { FormState } from '@/ui/kit/form-state';
import { ThreadDesk } from './thread-desk';

type Act = (state: FormState, data: FormData) => Promise<FormState>;
const answer = vi.fn<Act>();
const other = vi.fn<Act>((state) => Promise.resolve(state));
const NOW = Date.parse('2026-11-24T19:00:00Z');

beforeEach(() => {
  answer.mockReset();
  vi.stubGlobal('fetch', () => Promise.resolve(Response.json({ found: null })));
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const PICTURE = {
  ...{ id: 'pic_1', name: 'dome.jpg', kind: 'picture' as const, alt: '', size: 90_000, smallSize: 60_000 },
};

const desk = (
  seenAt: number,
  writing: { name: string }[] = [],
  more: Partial<ComponentProps<typeof ThreadDesk>> = {},
) => (
  <ThreadDesk
    {...{
      personId: 'per_1',
      unclear: false,
      nearKeyword: null,
      waiting: true,
      stopped: false,
      ways: ['sms'],
    }}
    {...{ fields: [], values: {}, chat: null, kept: [PICTURE] }}
    leaving={{
      ...{ programs: [], pending: null, pause: null, mayConfirm: false, now: NOW, zone: 'America/Denver' },
      proposed: { day: '2026-12-24', words: null, wished: false },
    }}
    answering={{ seenAt, writing, onItsWay: null, suggested: [], now: NOW, zone: 'America/Denver' }}
    acts={{
      ...{ answer, close: other, stays: other, nearMiss: other, takeBack: other },
      ...{ leave: other, undoLeave: other, pause: other, endPause: other },
    }}
    {...more}
  />
);
const seen = () => answer.mock.calls.map(([, data]) => Number(data.get('seen')));
const send = () => fireEvent.click(screen.getByRole('button', { name: 'Send the answer' }));

describe('leaving by hand', () => {
  const leave = () => screen.getByText<HTMLElement>('Opt out by hand …').closest('details')!;

  it('is open, and next, for whoever came for it, and closed for others', () => {
    render(desk(1));
    expect(leave().open).toBe(false);
    cleanup();
    window.location.hash = 'leave';
    try {
      render(desk(1));
      expect(leave().open).toBe(true);
      expect(document.activeElement?.textContent).toBe('Opt out by hand …');
    } finally {
      window.location.hash = '';
    }
  });
});

describe('a reply that only a human may decide', () => {
  const asked = (wished: boolean, words: string | null) =>
    render(
      desk(1, [], {
        unclear: true,
        leaving: {
          ...{ programs: [], pending: null, pause: null, mayConfirm: false, now: NOW },
          ...{ zone: 'America/Denver', proposed: { day: '2026-12-24', words, wished } },
        },
      }),
    );
  const buttons = () =>
    screen
      .getAllByRole('button', { name: /^They (?:want|stay)/ })
      .map(({ textContent, className }) => [textContent, className.includes('button-main')]);

  it('offers a pause first to whoever wishes for one, though no day is named', () => {
    asked(true, null);
    expect(screen.getByText(/seem to want quiet for a while/)).toBeTruthy();
    expect(buttons()).toEqual([
      ['They want a pause', true],
      ['They want to leave', false],
      ['They stay', false],
    ]);
  });

  it('offers a pause last where only words for how long are found, and none where there are none', () => {
    asked(false, 'for a month');
    expect(buttons().map(([name]) => name)).toEqual(['They want to leave', 'They stay', 'They want a pause']);
    cleanup();
    asked(false, null);
    expect(buttons()).toEqual([
      ['They want to leave', true],
      ['They stay', false],
    ]);
  });
});

describe('an answer', () => {
  it('by chat is said not to go once the window has closed while one writes', () => {
    vi.useFakeTimers({ now: NOW });
    try {
      const chat = { account: 'Dome chat', until: NOW + 90_000, now: NOW, zone: 'America/Denver' };
      render(desk(1, [], { ways: ['chat'], chat }));
      expect(screen.queryByText(/would not go/)).toBeNull();
      act(() => void vi.advanceTimersByTime(60_000));
      expect(screen.queryByText(/would not go/)).toBeNull();
      act(() => void vi.advanceTimersByTime(45_000));
      expect(screen.getByText(/would not go/)).toBeTruthy();
    } finally {
      vi.useRealTimers();
    }
  });

  it('goes with up to when the thread was seen as it was begun, whatever the page learns meanwhile', async () => {
    answer.mockResolvedValue({ problems: [{ field: 'form', message: 'Not yet.' }], values: {}, done: null });
    const { rerender } = render(desk(1));
    await screen.findByText('After it');
    rerender(desk(2));
    send();
    await screen.findByText('Not yet.');
    send();
    await waitFor(() => expect(seen()).toEqual([1, 2]));
  });

  it('takes along a picture that is kept, until it is taken out again', async () => {
    answer.mockResolvedValue({ problems: [{ field: 'form', message: 'Not yet.' }], values: {}, done: null });
    render(desk(1));
    await screen.findByText('After it');
    fireEvent.change(screen.getByRole('combobox', { name: 'or one that is kept' }), {
      target: { value: 'pic_1' },
    });
    send();
    await screen.findByText('Not yet.');
    fireEvent.click(screen.getByRole('button', { name: 'Take out dome.jpg' }));
    send();
    await waitFor(() => expect(answer).toHaveBeenCalledTimes(2));
    expect(answer.mock.calls.map(([, data]) => data.getAll('media'))).toEqual([['pic_1'], []]);
  });

  it('says who else is writing to them', async () => {
    render(desk(1, [{ name: 'Tess Nightjar' }]));
    expect(await screen.findByText(/Tess Nightjar is writing/)).toBeTruthy();
  });
});
