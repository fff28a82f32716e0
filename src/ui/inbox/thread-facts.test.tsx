import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { FormState } from '@/ui/kit/form-state';
import { ThreadFacts, type Fact } from './thread-facts';

const FACTS: Fact[] = [
  { key: 'name', label: 'Calls themselves', kind: 'text', options: [], known: null },
  { key: 'children', label: 'Brings children', kind: 'yes-no', options: [], known: 'yes' },
  { key: 'comes', label: 'Comes by', kind: 'one-of', options: ['car', 'bus', 'bicycle'], known: null },
];
const act = vi.fn<(state: FormState, data: FormData) => Promise<FormState>>();
const noted = () =>
  act.mock.calls.map(([, data]) => [data.get('person'), data.get('key'), data.get('value')]);
beforeEach(() => {
  act.mockReset();
  act.mockImplementation((state) => Promise.resolve(state));
});
afterEach(cleanup);

describe('what a teammate learns', () => {
  it('is noted by one key: a choice of the first question that is open', async () => {
    render(<ThreadFacts personId="per_1" facts={FACTS} act={act} />);
    expect(screen.getByRole('button', { name: 'bus (2)' })).toBeTruthy();
    fireEvent.keyDown(document.body, { key: '2', code: 'Digit2' });
    await waitFor(() => expect(noted()).toEqual([['per_1', 'comes', 'bus']]));
    fireEvent.keyDown(document.body, { key: '7', code: 'Digit7' });
    expect(noted()).toHaveLength(1);
  });

  it('is changed by pressing another choice', async () => {
    render(<ThreadFacts personId="per_1" facts={FACTS} act={act} />);
    fireEvent.click(screen.getByRole('button', { name: 'no' }));
    await waitFor(() => expect(noted()).toEqual([['per_1', 'children', 'no']]));
  });

  it('is written where it has no choices', async () => {
    render(<ThreadFacts personId="per_1" facts={FACTS} act={act} />);
    fireEvent.change(screen.getByRole('textbox', { name: 'Calls themselves' }), { target: { value: 'Bo' } });
    fireEvent.click(screen.getByRole('button', { name: 'Note it' }));
    await waitFor(() => expect(noted()).toEqual([['per_1', 'name', 'Bo']]));
  });
});
