import { act, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { router } from '@/ui/testing/router';
import { Saving, useDesk } from './desk';
import type { Problems } from './labelled';

interface Note {
  words: string;
}
type Save = (now: Note, stamp: number, press: string) => Promise<Problems>;

interface Props {
  note: Note;
  stamp: number;
  save: Save;
  more?: { first?: Note; goesTo?: string };
}

function Desk({ note, stamp, save, more = {} }: Props) {
  const desk = useDesk(note, stamp, more);
  return (
    <form onSubmit={desk.saving(save)}>
      <label>
        Words
        <input value={desk.now.words} onChange={(event) => desk.set({ words: event.target.value })} />
      </label>
      <Saving desk={desk} beside={<span>shown</span>} />
    </form>
  );
}

const field = () => screen.getByLabelText<HTMLInputElement>('Words');
const press = () => userEvent.click(screen.getByRole('button', { name: 'Save the change' }));
const typed = (words: string) => userEvent.type(field(), words);

/** A desk on a note, with a way to show what stands now. */
function desk(save: Save, more: Props['more'] = {}) {
  const shown = (words: string, stamp: number) => <Desk note={{ words }} {...{ stamp, save, more }} />;
  const { rerender } = render(shown('Clear', 1));
  return { stands: (words: string, stamp: number) => rerender(shown(words, stamp)) };
}

describe('what is changed on a desk', () => {
  it('is saved once, and still said to be kept when the page shows it', async () => {
    const save = vi.fn<Save>(async () => ({ problems: [] }));
    const { stands } = desk(save);
    await press();
    expect(save).not.toHaveBeenCalled();
    await typed(' sky');
    expect(screen.getByText('not saved yet')).toBeDefined();
    expect(screen.queryByText('shown')).toBeNull();
    await press();
    expect(save.mock.calls).toEqual([[{ words: 'Clear sky' }, 1, expect.any(String)]]);
    await waitFor(() => expect(router.refresh).toHaveBeenCalledTimes(1));
    stands('Clear sky', 2);
    expect(screen.getByText('Kept.')).toBeDefined();
    expect(screen.getByText('shown')).toBeDefined();
    await typed('!');
    expect(screen.queryByText('Kept.')).toBeNull();
    await press();
    expect(save.mock.lastCall!.slice(0, 2)).toEqual([{ words: 'Clear sky!' }, 2]);
  });

  it('begins anew with what somebody else saved, where nothing was typed', () => {
    const { stands } = desk(async () => ({ problems: [] }));
    stands('Cloudy', 2);
    expect(field().value).toBe('Cloudy');
    expect(screen.queryByText(/changed elsewhere/)).toBeNull();
  });

  it('is not lost to what somebody else saved, nor saved over it', async () => {
    const save = vi.fn<Save>(async () => ({ problems: [{ field: 'stamp', message: 'stamp: look again.' }] }));
    const { stands } = desk(save);
    await typed(' sky');
    stands('Cloudy', 2);
    expect(field().value).toBe('Clear sky');
    expect(screen.getByText(/changed elsewhere/)).toBeDefined();
    await press();
    expect(save.mock.lastCall!.slice(0, 2)).toEqual([{ words: 'Clear sky' }, 1]);
    expect(field().value).toBe('Clear sky');
    await userEvent.click(screen.getByRole('button', { name: 'Show what stands now' }));
    expect(field().value).toBe('Cloudy');
    expect(screen.queryByText(/changed elsewhere/)).toBeNull();
  });

  it('keeps what was typed while it was being saved, on top of what was saved', async () => {
    let answer!: (outcome: Problems) => void;
    const save = vi.fn<Save>(() => new Promise((resolve) => (answer = resolve)));
    const { stands } = desk(save);
    await typed(' sky');
    await press();
    await typed(' tonight');
    // The page may show it before the answer comes.
    stands('Clear sky', 2);
    await act(async () => answer({ problems: [] }));
    expect(field().value).toBe('Clear sky tonight');
    expect(screen.queryByText(/changed elsewhere/)).toBeNull();
    expect(screen.getByText('not saved yet')).toBeDefined();
    await press();
    expect(save.mock.lastCall!.slice(0, 2)).toEqual([{ words: 'Clear sky tonight' }, 2]);
    await act(async () => answer({ problems: [] }));
  });

  it('counts once when an answer was lost, and says what belongs to no field', async () => {
    const presses: string[] = [];
    const save: Save = async (_now, _stamp, token) => {
      presses.push(token);
      if (presses.length === 1) throw new Error('the line is down');
      return { problems: [{ field: 'stamp', message: 'stamp: look at theirs' }] };
    };
    desk(save);
    await typed('!');
    await press();
    await screen.findByText(/The answer did not arrive/);
    await press();
    await screen.findByText('Look at theirs');
    expect(new Set(presses).size).toBe(1);
  });

  it('leads on once it is kept, and stays where it was refused', async () => {
    const answers: Problems[] = [
      { problems: [{ field: 'words', message: 'words: too many' }] },
      { problems: [] },
    ];
    desk(async () => answers.shift()!, { goesTo: '/programs/prg_1' });
    await typed('!');
    await press();
    await waitFor(() => expect(answers).toHaveLength(1));
    expect(router.push).not.toHaveBeenCalled();
    await press();
    await waitFor(() => expect(router.push).toHaveBeenCalledWith('/programs/prg_1'));
    expect(router.refresh).not.toHaveBeenCalled();
  });

  it('can be saved as it is proposed', async () => {
    const save = vi.fn<Save>(async () => ({ problems: [] }));
    const { stands } = desk(save, { first: { words: 'Proposed' } });
    expect(field().value).toBe('Proposed');
    stands('Clear', 2);
    expect(screen.queryByText(/changed elsewhere/)).toBeNull();
    await press();
    expect(save.mock.lastCall!.slice(0, 2)).toEqual([{ words: 'Proposed' }, 2]);
  });
});
