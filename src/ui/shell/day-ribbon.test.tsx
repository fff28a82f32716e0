import { render, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { DayRibbon } from './day-ribbon';

const HOUR = 3_600_000;
const NOW = Date.parse('2026-11-23T18:30:00Z');
const FIRST = Date.parse('2026-11-23T06:00:00Z');

type Hour = { at: number; left: number; came: number; stopped: number; coming: number; lines: number };

function ribbon(
  busy: Record<number, Partial<Hour>> = {},
  more: Partial<Parameters<typeof DayRibbon>[0]> = {},
) {
  const hours = Array.from({ length: 25 }, (_, i) => ({
    ...{ at: FIRST + i * HOUR, left: 0, came: 0, stopped: 0, coming: 0, lines: 0 },
    ...busy[i],
  }));
  const upcoming = [
    { id: 'brc_1', name: 'Quiet dome tonight', at: NOW + 2 * HOUR },
    { id: 'brc_2', name: 'Saturn week', at: NOW + 5 * HOUR },
    { id: 'brc_3', name: 'Third', at: NOW + 6 * HOUR },
  ];
  const { container } = render(
    <DayRibbon ribbon={{ now: NOW, hours, upcoming }} zone="America/Denver" moved={false} linkUp {...more} />,
  );
  /** Heights of the four bars of an hour: left, waiting, came back, opted out. */
  const bars = (i: number) =>
    [...container.querySelectorAll('g')[i]!.querySelectorAll('rect')]
      .slice(1)
      .map((bar) => Number(bar.getAttribute('height')));
  return { bars, container };
}

describe('the day ribbon', () => {
  it('is read aloud as what left, came back and is to come', () => {
    ribbon({ 3: { left: 120, came: 4, stopped: 1 }, 11: { left: 1 }, 20: { coming: 30 } });
    expect(screen.getByRole('img').getAttribute('aria-label')).toBe(
      'Last twelve hours: 121 texts left, 4 replies and 1 opt-out came back. Next twelve hours: 30 texts waiting, 3 broadcasts scheduled.',
    );
  });

  it('shows lines of sequences that fall due with the texts that wait', () => {
    const { bars, container } = ribbon({ 20: { coming: 30 }, 21: { lines: 30 }, 22: { lines: 1 } });
    expect(bars(21)[1]).toBe(bars(20)[1]);
    expect(screen.getByRole('img').getAttribute('aria-label')).toContain('31 lines of sequences due');
    expect(container.querySelectorAll('g title')[22]!.textContent).toContain('1 line of sequences due');
    expect(container.textContent).toContain('waiting (30, and 31 lines of sequences)');
  });

  it('is taller the more there was, and shows one beside a hundred', () => {
    const { bars } = ribbon({ 3: { left: 100 }, 4: { left: 25 }, 5: { left: 1 }, 6: {} });
    const [most, quarter, one, none] = [3, 4, 5, 6].map((i) => bars(i)[0]!);
    expect(quarter! / most!).toBeCloseTo(0.5);
    expect(one!).toBeGreaterThan(2);
    expect(none).toBe(0);
  });

  it('puts opt-outs below what came, and nothing that is over to the right of now', () => {
    const { bars, container } = ribbon({ 12: { left: 30, coming: 70, came: 3, stopped: 6 } });
    const [left, coming, came, stopped] = bars(12) as [number, number, number, number];
    expect(came + stopped).toBeCloseTo(14);
    expect([left, coming, came, stopped].every((height) => height > 0)).toBe(true);
    // Half of the hour is over: what left ends where what is to come begins.
    const [, gone, next, ...others] = [...container.querySelectorAll('g')[12]!.querySelectorAll('rect')];
    const end = (bar: Element) => Number(bar.getAttribute('x')) + Number(bar.getAttribute('width'));
    expect(end(gone!)).toBeLessThanOrEqual(Number(next!.getAttribute('x')));
    for (const other of others) expect(end(other)).toBeCloseTo(end(gone!));
  });

  it('draws nothing that is not there: a quiet day has no bars', () => {
    const { container } = ribbon();
    const heights = [...container.querySelectorAll('g rect:not(:first-of-type)')].map((bar) =>
      Number(bar.getAttribute('height')),
    );
    expect(new Set(heights)).toEqual(new Set([0]));
    expect(container.textContent).toContain('left (0 in 12 h)');
  });

  it('names the hour of each bar in the zone of the workspace', () => {
    const { container } = ribbon({ 3: { left: 2 } });
    expect(container.querySelectorAll('g title')[3]!.textContent).toBe(
      '02:00: 2 left, 0 came back, 0 opted out, 0 waiting',
    );
  });

  it('leads to the next two broadcasts', () => {
    ribbon();
    expect(screen.getAllByRole('link').map((link) => link.getAttribute('href'))).toEqual([
      '/sends/brc_1',
      '/sends/brc_2',
    ]);
  });

  it('says when the clock was moved and when the link is down', () => {
    ribbon({}, { moved: true, linkUp: false });
    expect(screen.getByText('(the test bench’s clock)')).toBeDefined();
    expect(screen.getByText('The link to the carrier is down: texts wait.')).toBeDefined();
  });
});
