import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import type { FormState } from '@/ui/kit/form-state';
import { ThreadKeys } from './thread-keys';
import { ThreadSide } from './thread-side';

const NOW = Date.parse('2026-11-24T19:00:00Z');
const thread = vi.fn<(state: FormState, data: FormData) => Promise<FormState>>();
const note = vi.fn<(state: FormState, data: FormData) => Promise<FormState>>();
beforeEach(() => {
  for (const act of [thread, note]) act.mockReset().mockImplementation((state) => Promise.resolve(state));
});
afterEach(cleanup);

type Props = Parameters<typeof ThreadSide>[0];
const show = (more: Partial<Props> = {}) =>
  render(
    <>
      <ThreadKeys />
      <ThreadSide
        {...{ personId: 'per_1', whose: null, later: null, now: NOW, zone: 'America/Denver' }}
        team={[{ id: 'acc_tess', name: 'Tess Nightjar' }]}
        waits={{ why: 'asks', since: new Date(NOW - 60_000), by_at: new Date(NOW + 1_800_000) }}
        acts={{ thread, note }}
        {...more}
      />
    </>,
  );
const sent = () => Object.fromEntries(thread.mock.calls[0]![1].entries());

describe('beside a thread', () => {
  it('it is given by keyboard', async () => {
    show();
    fireEvent.keyDown(document.body, { key: 'w', code: 'KeyW' });
    const whose = screen.getByLabelText(/Whose/);
    expect(document.activeElement).toBe(whose);
    fireEvent.change(whose, { target: { value: 'acc_tess' } });
    fireEvent.click(screen.getByRole('button', { name: 'Give' }));
    await waitFor(() => expect(thread).toHaveBeenCalledOnce());
    expect(sent()).toMatchObject({ person: 'per_1', verb: 'give', account: 'acc_tess' });
  });

  it('it is put off to a time that is proposed, in the workspace’s zone', async () => {
    show();
    fireEvent.keyDown(document.body, { key: 'l', code: 'KeyL' });
    fireEvent.click(screen.getByRole('button', { name: 'in an hour' }));
    expect((screen.getByLabelText('Back at') as HTMLInputElement).value).toBe('2026-11-24T13:00');
    fireEvent.click(screen.getByRole('button', { name: 'tomorrow at 9' }));
    fireEvent.click(screen.getByRole('button', { name: 'Put it off' }));
    await waitFor(() => expect(thread).toHaveBeenCalledOnce());
    expect(sent()).toMatchObject({ verb: 'later', until: '2026-11-25T09:00' });
  });

  it('it says why somebody waits, until when, and that it is too late', () => {
    show();
    expect(screen.getByText(/answer by/)).toBeTruthy();
    cleanup();
    show({
      waits: { why: 'missed-call', since: new Date(NOW - 7_200_000), by_at: new Date(NOW - 3_600_000) },
    });
    expect(screen.getByText(/should have been answered by/)).toBeTruthy();
  });

  it('nothing is put off that may be an opt-out, and what is put off is taken up', () => {
    show({ waits: { why: 'opt-out', since: new Date(NOW), by_at: new Date(NOW) } });
    expect(screen.queryByText(/Put it off/)).toBeNull();
    cleanup();
    show({ waits: null, later: { until: new Date(NOW + 86_400_000), why: 'later' } });
    expect(screen.getByRole('button', { name: 'Take it up now' })).toBeTruthy();
  });

  it('a note is written by a key', () => {
    show();
    fireEvent.keyDown(document.body, { key: 'm', code: 'KeyM' });
    expect(document.activeElement).toBe(screen.getByLabelText('For teammates only'));
  });
});
