import { beforeEach, describe, expect, it, vi } from 'vitest';
import { ok, refuse, type Result } from '@/core/shared/result';
import type { Refusal } from '@/services/kit/validation';
import type { Watch } from '@/services/kit/watch';
import { answerInSteps, answerScreen } from './read';

vi.mock('../session', () => ({
  currentSession: () => Promise.resolve({ role: 'owner', workspaceId: 'wsp_1' }),
}));
vi.mock('@/services/runtime', () => ({
  getContext: () => Promise.resolve({ now: () => 0 }),
  withWorkspace: (_: string, work: (scope: object) => Promise<unknown>) => work({}),
}));
vi.mock('@/log/log', () => ({ log: { error: () => {} } }));

/** Work that goes on as long as it is told to, and what became of it. */
let watch: Watch<{ done: number }>;
let end: (result: Result<object, Refusal>) => void;
let fail: (error: Error) => void;
let began: Promise<void>;

let left: AbortController;
function ask(): Promise<Response> {
  left = new AbortController();
  const request = new Request('http://localhost/internal/draft', {
    ...{ method: 'POST', body: '{}', signal: left.signal },
  });
  let say = () => {};
  began = new Promise((resolve) => (say = resolve));
  return answerInSteps<{ done: number }>(
    request,
    (_, __, waiting) =>
      new Promise((resolve, reject) => {
        watch = waiting;
        [end, fail] = [resolve, reject];
        waiting.signal.addEventListener('abort', () => reject(waiting.signal.reason as Error));
        say();
      }),
  );
}
const NO = refuse({ problems: [{ field: 'body', message: 'body: mend it.' }] } as Refusal);
const lines = async (response: Response) =>
  (await response.text())
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line) as object);

beforeEach(() => vi.clearAllMocks());

describe('an answer that may take its time', () => {
  it('comes at once where it does not', async () => {
    const response = ask();
    await began;
    end(ok({ people: 3 }));
    expect(await (await response).json()).toEqual({ people: 3 });
    const refused = ask();
    await began;
    end(NO);
    expect((await refused).status).toBe(422);
    expect(await (await refused).json()).toEqual({ message: 'body: mend it.' });
  });

  it('is told line by line else, and what is wrong in a line too', async () => {
    const response = ask();
    await began;
    watch.tell({ done: 1 });
    watch.tell({ done: 2 });
    end(ok({ people: 3 }));
    const { headers } = await response;
    expect(headers.get('content-type')).toBe('application/jsonl');
    // Else a proxy would hand it on when all of it is there.
    expect(headers.get('x-accel-buffering')).toBe('no');
    expect(await lines(await response)).toEqual([
      { step: { done: 1 } },
      { step: { done: 2 } },
      { answer: { people: 3 } },
    ]);
    const refused = ask();
    await began;
    watch.tell({ done: 1 });
    end(NO);
    expect((await lines(await refused)).at(-1)).toEqual({ message: 'body: mend it.' });
    const broken = ask();
    await began;
    watch.tell({ done: 1 });
    fail(new Error('a secret of ours'));
    expect((await lines(await broken)).at(-1)).toEqual({
      message: 'The server could not answer. Try again.',
    });
  });

  it('is given up when nobody waits: before the first line, and after it', async () => {
    const before = ask();
    await began;
    left.abort();
    expect((await before).status).toBe(499);
    const after = ask();
    await began;
    watch.tell({ done: 1 });
    await (await after).body!.cancel();
    expect(watch.signal.aborted).toBe(true);
    // Whoever is still at it writes into nothing.
    watch.tell({ done: 2 });
  });

  it('that fails when they have just left is a fault nevertheless', async () => {
    const response = answerScreen(
      new Request('http://localhost/internal/x', { method: 'POST', body: '{}', signal: AbortSignal.abort() }),
      () => Promise.reject(new Error('no database')),
    );
    await expect(response).rejects.toThrow('no database');
  });

  it('fails as any other where nothing was told yet', async () => {
    const response = ask();
    await began;
    fail(new Error('no database'));
    await expect(response).rejects.toThrow('no database');
  });
});
