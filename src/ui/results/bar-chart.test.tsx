import { act, render, screen } from '@testing-library/react';
import { expect, it, vi } from 'vitest';
import { BarChart } from './bar-chart';
import { Curves } from './curves';

let shownAt: (width: number) => void = () => {};
vi.stubGlobal(
  'ResizeObserver',
  class {
    constructor(told: (entries: { contentRect: { width: number } }[]) => void) {
      shownAt = (width) => told([{ contentRect: { width } }]);
    }
    observe() {}
    disconnect() {}
  },
);

const periods = Array.from({ length: 28 }, (_, i) => {
  const day = `2026-11-${String(i + 1).padStart(2, '0')}`;
  return { from: day, until: day };
});
const drawing = () => screen.getByRole('img');
const words = () => [...drawing().querySelectorAll('text')].map(({ textContent }) => textContent);

it('bars are drawn as wide as they are shown, with as many days named as there is room for', () => {
  render(<BarChart series={periods.map((_, i) => i)} periods={periods} label="Replies" />);
  act(() => shownAt(1195));
  expect(drawing().getAttribute('viewBox')).toBe('0 0 1195 230');
  const wide = words().length;
  act(() => shownAt(330));
  expect(drawing().getAttribute('viewBox')).toBe('0 0 330 230');
  expect(words().length).toBeLessThan(wide);
  expect(drawing().querySelectorAll('rect')).toHaveLength(28);
});

it('lines keep room for their names on a phone, and name fewer days', () => {
  const points = [0, 1, 2].map((x) => ({ x, y: x / 4, words: '' }));
  const ticks = Array.from({ length: 8 }, (_, i) => ({ x: i / 4, words: `day ${i}` }));
  render(<Curves curves={[{ key: 'a', name: 'Welcome', points }]} ticks={ticks} label="Shares" />);
  act(() => shownAt(330));
  expect(words().filter((one) => one?.startsWith('day'))).toEqual(['day 0', 'day 4']);
  expect(words()).toContain('Welcome');
  act(() => shownAt(1195));
  expect(words().filter((one) => one?.startsWith('day'))).toHaveLength(8);
});
