import { expect, it, vi } from 'vitest';
import { subscribe } from '@/services/kit/live';
import { GET } from './route';

vi.mock('@/services/kit/live');
vi.mock('../session', () => ({ currentSession: () => Promise.resolve({ workspaceId: 'ws_1' }) }));

const asked = (signal: AbortSignal) => GET(new Request('http://wren.example.org/live', { signal }));

it('answers once it hears what changes, with where they stand: a page compares when the answer opens', async () => {
  const reader = new AbortController();
  let heard: (subscribed: { mark: string; leave: () => void }) => void = () => {};
  const leave = vi.fn();
  vi.mocked(subscribe).mockImplementation(() => new Promise((resolve) => (heard = resolve)));
  const answered = vi.fn();
  const answer = asked(reader.signal).then((response) => (answered(), response));
  await vi.waitFor(() => expect(subscribe).toHaveBeenCalledOnce());
  expect(answered).not.toHaveBeenCalled();
  heard({ mark: 'a.1', leave });
  const events = (await answer).body!.pipeThrough(new TextDecoderStream()).getReader();
  expect((await events.read()).value).toBe('event: change\ndata: a.1\n\n');
  vi.mocked(subscribe).mock.calls[0]![1]('a.2');
  expect((await events.read()).value).toBe('event: change\ndata: a.2\n\n');
  expect(leave).not.toHaveBeenCalled();
  reader.abort();
  expect(leave).toHaveBeenCalledOnce();
});

it('listens for nobody who left before it was answered', async () => {
  const leave = vi.fn();
  const reader = new AbortController();
  vi.mocked(subscribe).mockImplementation(() => (reader.abort(), Promise.resolve({ mark: 'a.1', leave })));
  await (await asked(reader.signal)).text();
  expect(leave).toHaveBeenCalledOnce();
});
