import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { SegmentIndex, type SegmentActs, type SegmentCounts, type SegmentView } from './segment-index';

const segment = (more: Partial<SegmentView> = {}): SegmentView => ({
  id: 'seg_1',
  name: 'Regulars',
  condition: { ask: 'tag', id: 'lab_1', has: true },
  columns: [],
  sort: '',
  pinned: false,
  shared: 'me',
  accounts: [],
  ownerId: 'acc_me',
  version: 1,
  ...more,
});

const TEAM = [
  { id: 'acc_me', name: 'Ada' },
  { id: 'acc_2', name: 'Noor' },
  { id: 'acc_3', name: 'Bela' },
];

function bar(
  segments: SegmentView[],
  current: SegmentView | null,
  answer: string | null = null,
  counts: SegmentCounts | null = null,
) {
  const open = vi.fn();
  const change = vi.fn<SegmentActs['change']>().mockResolvedValue(answer);
  const acts: SegmentActs = { save: vi.fn(), change };
  render(
    <SegmentIndex
      {...{ segments, current, open, acts, counts }}
      everybody={2_400}
      me="acc_me"
      teammates={TEAM}
    />,
  );
  return { open, change };
}

const menu = async (words: string) => {
  await userEvent.click(screen.getByRole('button', { name: 'Segment …' }));
  await userEvent.click(await screen.findByRole('menuitem', { name: words }));
};

describe('the bar of segments', () => {
  it('opens one, and everybody again', async () => {
    const other = segment({ id: 'seg_2', name: 'Schools', pinned: true });
    const { open } = bar([other, segment()], segment());
    expect(screen.getByRole('button', { name: /^Regulars/ }).getAttribute('aria-current')).toBe('true');
    await userEvent.click(screen.getByRole('button', { name: /Schools/ }));
    expect(open).toHaveBeenLastCalledWith(other);
    await userEvent.click(screen.getByRole('button', { name: /^Everybody.*2,400/ }));
    expect(open).toHaveBeenLastCalledWith(null);
  });

  it('says how many are in each now, and how that changed since last week', () => {
    const others = ['Schools', 'Gone', 'New'].map((name, i) => segment({ id: `seg_${i + 2}`, name }));
    bar([segment(), ...others], null, null, {
      seg_1: { count: 120, change: 12 },
      seg_2: { count: 1_300, change: -4 },
      seg_3: { count: null, change: null },
      seg_4: { count: 7, change: 0 },
    });
    const lines = screen.getAllByRole('button').map((node) => node.textContent);
    for (const line of ['Regulars120+12', 'Schools1,300−4', 'Gone…', 'New7±0']) expect(lines).toContain(line);
  });

  it('unfolds on a narrow page, and folds when one is chosen', async () => {
    bar([segment()], segment());
    const unfold = screen.getByRole('button', { name: 'unfold: Regulars', expanded: false });
    await userEvent.click(unfold);
    expect(screen.getByRole('button', { name: 'fold', expanded: true })).toBeDefined();
    await userEvent.click(screen.getByRole('button', { name: /^Everybody/ }));
    expect(screen.queryByRole('button', { name: 'fold' })).toBeNull();
  });

  it('has no menu where none is open', () => {
    bar([segment()], null);
    expect(screen.queryByRole('button', { name: 'Segment …' })).toBeNull();
  });

  it.each([
    ['Copy', { verb: 'copy' }],
    ['Pin', { verb: 'pin', on: true }],
    ['Move earlier', { verb: 'move', up: true }],
    ['Move later', { verb: 'move', up: false }],
  ])('does “%s” at once', async (words, verb) => {
    const { change } = bar([segment()], segment());
    await menu(words);
    expect(change).toHaveBeenCalledWith('seg_1', verb);
  });

  it('renames by typing', async () => {
    const { change } = bar([segment()], segment());
    await menu('Rename …');
    const box = screen.getByRole('textbox', { name: 'New name' });
    await userEvent.clear(box);
    await userEvent.type(box, 'Faithful{Enter}');
    expect(change).toHaveBeenCalledWith('seg_1', { verb: 'rename', name: 'Faithful' });
  });

  it('deletes only when it is asked twice, and then shows everybody', async () => {
    const { change, open } = bar([segment()], segment());
    await menu('Delete …');
    expect(change).not.toHaveBeenCalled();
    await userEvent.click(screen.getByRole('button', { name: 'keep it' }));
    expect(screen.queryByRole('button', { name: 'Delete the segment' })).toBeNull();
    await menu('Delete …');
    await userEvent.click(screen.getByRole('button', { name: 'Delete the segment' }));
    expect(change).toHaveBeenCalledWith('seg_1', { verb: 'delete' });
    expect(open).toHaveBeenCalledWith(null);
  });

  it('says why something was refused, and stays where it is', async () => {
    const { open } = bar([segment()], segment(), 'The broadcast “Saturn week” is scheduled with it.');
    await menu('Delete …');
    await userEvent.click(screen.getByRole('button', { name: 'Delete the segment' }));
    expect((await screen.findByRole('alert')).textContent).toContain('Saturn week');
    expect(open).not.toHaveBeenCalled();
  });
});

describe('sharing', () => {
  it('shows who has it, and gives it to others too', async () => {
    const shared = segment({ shared: 'some', accounts: ['acc_2'] });
    const { change } = bar([shared], shared);
    await menu('Share …');
    expect(screen.getByRole('checkbox', { name: 'Noor' })).toHaveProperty('checked', true);
    expect(screen.queryByRole('checkbox', { name: 'Ada' })).toBeNull();
    await userEvent.click(screen.getByRole('checkbox', { name: 'Bela' }));
    await userEvent.click(screen.getByRole('button', { name: 'Share so' }));
    expect(change).toHaveBeenCalledWith('seg_1', {
      ...{ verb: 'share', shared: 'some' },
      accounts: ['acc_2', 'acc_3'],
    });
  });

  it('is not offered for what somebody else made', async () => {
    const theirs = segment({ ownerId: 'acc_2', shared: 'all' });
    bar([theirs], theirs);
    await userEvent.click(screen.getByRole('button', { name: 'Segment …' }));
    await screen.findByRole('menuitem', { name: 'Copy' });
    expect(screen.queryByRole('menuitem', { name: 'Share …' })).toBeNull();
  });
});

describe('a segment from a file', () => {
  const give = (text: string) =>
    userEvent.upload(
      screen.getByLabelText('open a file'),
      new File([text], 'a.json', { type: 'application/json' }),
    );

  it('is opened as a cut that is not kept yet', async () => {
    const { open } = bar([], null);
    const condition = { any: [{ ask: 'tag', id: 'lab_1', has: false }] };
    await give(JSON.stringify({ name: 'x', condition }));
    await waitFor(() => expect(open).toHaveBeenCalledWith(expect.objectContaining({ id: '', condition })));
  });

  it.each([
    ['no JSON', 'nonsense', 'holds no segment'],
    ['no condition', '{}', 'cannot be read'],
    ['a condition of another kind', '{"condition":{"all":[{"ask":"moon"}]}}', 'cannot be read at all.0'],
  ])('that holds %s is refused with a sentence', async (_, text, words) => {
    const { open } = bar([], null);
    await give(text);
    expect((await screen.findByRole('alert')).textContent).toContain(words);
    expect(open).not.toHaveBeenCalled();
  });
});
