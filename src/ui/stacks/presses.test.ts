import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { Presses } from './presses';

const AGAIN = 2_000;
let kept: Map<string, string>;
let arrived: string[];
let fails: unknown[];
let taken: Set<string>;
let slow: (() => void)[] | null;

/** A server that takes each id once; it fails as often as was said first, before or after it took them. */
async function send(ids: readonly string[]): Promise<readonly string[]> {
  if (slow) await new Promise<void>((resolve) => slow!.push(resolve));
  const fault = fails.shift();
  if (fault && fault !== 'answer lost') throw fault;
  const counted = ids.filter((id) => !taken.has(id));
  for (const id of counted) taken.add(id);
  arrived.push(...counted);
  if (fault) throw new TypeError('Failed to fetch');
  return counted;
}

const make = (apartMs?: number) =>
  new Presses({
    ...(apartMs === undefined ? {} : { apartMs }),
    ...{ send, name: 'stack:1', againMs: AGAIN, settled: () => {} },
    kept: {
      getItem: (name) => kept.get(name) ?? null,
      setItem: (name, value) => void kept.set(name, value),
      removeItem: (name) => void kept.delete(name),
    },
  });

beforeEach(() => {
  [kept, arrived, fails, taken, slow] = [new Map(), [], [], new Set(), null];
  vi.useFakeTimers();
});
afterEach(() => vi.useRealTimers());
const calm = () => vi.advanceTimersByTimeAsync(1);

describe('presses', () => {
  it('arrive in order, each once, and nothing is kept of them then', async () => {
    const presses = make();
    for (const id of ['a', 'b', 'a', 'c']) presses.press(id);
    await calm();
    expect(arrived).toEqual(['a', 'b', 'c']);
    expect(presses.state).toMatchObject({ waiting: [], done: 3, missed: 0, lost: false, ended: null });
    expect(kept.size).toBe(0);
  });

  it('go together where they follow each other closely: the first at once, the next when their time is over', async () => {
    const presses = make(700);
    presses.press('a');
    await calm();
    expect(arrived).toEqual(['a']);
    for (const id of ['b', 'c']) presses.press(id);
    await vi.advanceTimersByTimeAsync(600);
    expect(arrived).toEqual(['a']);
    await vi.advanceTimersByTimeAsync(150);
    expect(arrived).toEqual(['a', 'b', 'c']);
    await vi.advanceTimersByTimeAsync(5_000);
    presses.press('d');
    await calm();
    expect(arrived.at(-1)).toBe('d');
  });

  it('are as fast as keys on a slow line: they wait and arrive together', async () => {
    slow = [];
    const presses = make();
    for (let i = 0; i < 120; i++) presses.press(`m${i}`);
    expect(presses.state.waiting).toHaveLength(120);
    while (presses.state.waiting.length > 0) {
      for (const go of slow.splice(0)) go();
      await calm();
    }
    expect(arrived).toEqual(Array.from({ length: 120 }, (_, i) => `m${i}`));
  });

  it.each<[string, unknown[]]>([
    ['the question was lost', [new TypeError('Failed to fetch'), new TypeError('Failed to fetch')]],
    ['the answer was lost', ['answer lost']],
    ['a gateway answered a page', [new SyntaxError('Unexpected token <')]],
  ])('are tried again where %s, and count once', async (_, faults) => {
    fails = faults;
    const presses = make();
    presses.press('a');
    await calm();
    expect(presses.state).toMatchObject({ lost: true, waiting: ['a'] });
    presses.press('b');
    await vi.advanceTimersByTimeAsync(3 * AGAIN);
    expect(arrived).toEqual(['a', 'b']);
    expect(presses.state).toMatchObject({ waiting: [], lost: false });
  });

  it('outlive the page that was closed', async () => {
    fails = [new TypeError('Failed to fetch')];
    const closed = make();
    closed.press('a');
    await calm();
    closed.stop();
    const opened = make();
    expect(opened.state.waiting).toEqual(['a']);
    await opened.flush();
    expect([arrived, kept.size]).toEqual([['a'], 0]);
  });

  it('are not asked again of who refuses them', async () => {
    fails = [new Error('This link has ended.')];
    const presses = make();
    presses.press('a');
    await vi.advanceTimersByTimeAsync(10 * AGAIN);
    expect(presses.state).toMatchObject({ ended: 'This link has ended.', waiting: [] });
    expect([arrived, fails, kept.size]).toEqual([[], [], 0]);
  });

  it.each(['', 'nonsense', '{"a":1}', '[1,null]'])('begin anew where %j was kept', (value) => {
    kept.set('stack:1', value);
    expect(make().state.waiting).toEqual([]);
  });
});
