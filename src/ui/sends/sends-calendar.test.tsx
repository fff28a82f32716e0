import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { weeksFrom } from '@/core/broadcast/calendar';
import { DAY, HOUR } from '@/core/shared/instant';
import { SendsCalendar } from './sends-calendar';

const ZONE = 'America/Denver';
const NOW = Date.parse('2026-11-26T19:00:00Z');
const move = vi.fn<(id: string, days: number) => Promise<string | null>>();
let asked: { from: string; to: string }[];

beforeEach(() => {
  move.mockReset().mockResolvedValue(null);
  asked = [];
  vi.stubGlobal('fetch', (_: string, { body }: { body: string }) => {
    asked.push(JSON.parse(body) as { from: string; to: string });
    return Promise.resolve({ ok: true, json: () => Promise.resolve({ several: 12, most: 3 }) });
  });
});

const row = (part: object = {}) => ({
  ...{ id: 'brc_1', name: 'Moon week', program: 'Clear Sky Alerts', state: 'scheduled' as const },
  ...{ at: NOW + 2 * HOUR, each: false, repeats: false, ...part },
});

const calendar = (...rows: ReturnType<typeof row>[]) =>
  render(<SendsCalendar weeks={weeksFrom(ZONE, NOW, 3)} rows={rows} zone={ZONE} now={NOW} move={move} />);

const entry = (name = 'Moon week') => screen.getByRole('link', { name }).closest('li')!;

describe('the calendar of sends', () => {
  it('says when what goes, in the zone of the workspace, and which day is today', () => {
    calendar(row({ each: true, repeats: true }));
    expect(entry().textContent).toContain('14:00');
    expect(entry().textContent).toContain('their own hour');
    expect(entry().textContent).toContain('again and again');
    expect(entry().closest('td')!.textContent).toContain('26, today');
    expect(screen.getByText('Dec 1')).toBeDefined();
  });

  it.each([
    ['ArrowLeft', -1],
    ['ArrowRight', 1],
    ['ArrowUp', -7],
    ['ArrowDown', 7],
  ])('Alt and %s moves it by %d days', async (key, days) => {
    calendar(row());
    fireEvent.keyDown(screen.getByRole('link', { name: 'Moon week' }), { key, altKey: true });
    await waitFor(() => expect(move).toHaveBeenCalledWith('brc_1', days));
  });

  it('leaves the arrow alone without Alt, and what went where it is', () => {
    calendar(row(), row({ id: 'brc_2', name: 'Saturn week', state: 'finished' }));
    fireEvent.keyDown(screen.getByRole('link', { name: 'Moon week' }), { key: 'ArrowDown' });
    fireEvent.keyDown(screen.getByRole('link', { name: 'Saturn week' }), { key: 'ArrowDown', altKey: true });
    expect(move).not.toHaveBeenCalled();
    expect(entry('Saturn week').getAttribute('draggable')).toBe('false');
  });

  it('is dragged to another day, but to none that is over', async () => {
    calendar(row());
    const day = (words: string) => screen.getByText(words).closest('td')!;
    fireEvent.dragStart(entry());
    expect(fireEvent.dragOver(day('24'))).toBe(true);
    expect(fireEvent.dragOver(day('29'))).toBe(false);
    fireEvent.drop(day('29'));
    await waitFor(() => expect(move).toHaveBeenCalledWith('brc_1', 3));
  });

  it('counts who gets several of a week, only where there are several', async () => {
    calendar(
      row(),
      row({ id: 'brc_2', name: 'Tea', at: NOW + DAY }),
      row({ id: 'brc_3', name: 'Dome', at: NOW + 9 * DAY }),
    );
    expect(await screen.findByText('12 people get several of these, 3 at most.')).toBeDefined();
    expect(asked).toHaveLength(1);
  });
});
