import { fireEvent, render, screen } from '@testing-library/react';
import { describe, expect, it, vi } from 'vitest';
import type { FormState } from '@/ui/kit/form-state';
import { BalanceChart } from './balance-chart';
import { PriceDesk } from './price-desk';
import { rowsOf, type Line } from './spent-table';

const line = (more: Partial<Line> = {}): Line => ({
  ...{ kind: 'messages', channel: 'sms', program: 'Clear Sky Alerts', send_id: null, send: null },
  ...{ send_kind: null, delta: -5, texts: 5 },
  ...more,
});

describe('where credits went', () => {
  it('is told for each send with what came back taken off, the dearest first', () => {
    const send = { send_id: 'brd_1', send: 'Saturn', send_kind: 'broadcast' };
    const rows = rowsOf([
      line({ ...send, delta: -100, texts: 100 }),
      line({ ...send, kind: 'returned', delta: 7, texts: 0 }),
      line(),
      line({ kind: 'bought', program: null, channel: null, delta: 500, texts: 0 }),
    ]);
    expect(rows.map(({ what, credits, messages, href }) => [what, credits, messages, href])).toEqual([
      ['Saturn', -93, 100, '/sends/brd_1'],
      ['answers and keywords, by text', -5, 5, null],
      ['bought', 500, null, null],
    ]);
  });
});

describe('the chart of what is ahead', () => {
  it('says in words when nothing is left', () => {
    const at = Date.UTC(2026, 10, 28, 12);
    const ahead = {
      ...{ at, balance: 100, usualADay: 1, lacking: 20, because: 'Saturn', ahead: [] },
      ...{ points: [{ at: at + 86_400_000, left: -20 }], enoughUntil: at + 3_600_000 },
    };
    render(<BalanceChart ahead={ahead} zone="America/Denver" />);
    expect(screen.getByRole('img').getAttribute('aria-label')).toBe(
      '100 credits now, none left by Sat, Nov 28, 06:00',
    );
  });
});

describe('prices', () => {
  it('are written line by line, and what is wrong with one stands under it', async () => {
    const action = vi.fn<(state: FormState, data: FormData) => Promise<FormState>>((_, data) =>
      Promise.resolve({
        problems: [{ field: 'rules.1', message: 'another price names the very same.' }],
        values: { rules: data.get('rules') as string },
        done: null,
      }),
    );
    render(<PriceDesk prices={{ part: 1, picture: 3, rules: [] }} carriers={[]} action={action} />);
    for (let i = 0; i < 2; i++) fireEvent.click(screen.getByText('Something costs otherwise'));
    fireEvent.change(screen.getAllByLabelText('To country')[0]!, { target: { value: 'ca' } });
    fireEvent.change(screen.getAllByLabelText('Credits')[0]!, { target: { value: '2x' } });
    fireEvent.click(screen.getByText('Keep the prices'));
    await screen.findByText('another price names the very same.');
    expect(JSON.parse(action.mock.calls[0]![1].get('rules') as string)).toEqual([
      { what: 'text', kind: '', country: 'CA', carrier: '', credits: '2' },
      { what: 'text', kind: '', country: '', carrier: '', credits: '' },
    ]);
    fireEvent.click(screen.getAllByText('Remove this price')[1]!);
    expect(screen.getAllByLabelText('Credits')).toHaveLength(1);
  });
});
