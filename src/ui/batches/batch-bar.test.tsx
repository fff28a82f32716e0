import { router } from '@/ui/testing/router';
import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { BatchBar, type BatchOrder, type BatchOutcome, type Meant } from './batch-bar';
import { ASKABLE } from '@/ui/testing/askable';

interface Start {
  meant?: Meant;
  matching?: number | null;
  answer?: BatchOutcome;
  mayEdit?: boolean;
  maySend?: boolean;
}

function bar({ meant = ids(3), matching = 14_741, answer, mayEdit = true, maySend = true }: Start = {}) {
  const startBatch = vi
    .fn<(order: BatchOrder) => Promise<BatchOutcome>>()
    .mockResolvedValue(answer ?? { problem: null, id: 'bat_1', name: 'Tag 3 people' });
  const [takeAll, clear] = [vi.fn(), vi.fn()];
  render(
    <BatchBar askable={ASKABLE} {...{ meant, matching, startBatch, takeAll, clear, mayEdit, maySend }} />,
  );
  return { startBatch, takeAll, clear };
}

const ids = (n: number): Meant => ({ kind: 'ids', ids: Array.from({ length: n }, (_, i) => `per_${i}`) });
const ALL: Meant = { kind: 'all', condition: '{"all":[]}', search: 'ada', count: 14_741 };

const begin = () => userEvent.click(screen.getByRole('button', { name: /^Do something with/ }));
const deed = (words: string) =>
  userEvent.selectOptions(screen.getByRole('combobox', { name: 'What' }), words);

describe('who is chosen', () => {
  it('is nobody at first', () => {
    bar({ meant: ids(0) });
    expect(screen.getByText('Tick people, or choose all that match.')).toBeDefined();
    expect(screen.queryByRole('button', { name: /^Do something/ })).toBeNull();
  });

  it('can be all that match, said with their number', async () => {
    const { takeAll } = bar({ meant: ids(1) });
    expect(screen.getByText('1 person ticked.')).toBeDefined();
    await userEvent.click(screen.getByRole('button', { name: 'choose all 14,741 that match' }));
    expect(takeAll).toHaveBeenCalledOnce();
  });

  it('cannot be all while they are counted, or when there are none', () => {
    bar({ meant: ids(1), matching: null });
    expect(screen.queryByRole('button', { name: /^choose all/ })).toBeNull();
  });

  it('can be nobody again', async () => {
    const { clear } = bar({ meant: ALL });
    expect(screen.getByText('All 14,741 that match are chosen.')).toBeDefined();
    await userEvent.click(screen.getByRole('button', { name: 'choose nobody' }));
    expect(clear).toHaveBeenCalledOnce();
  });
});

describe('what is done with them', () => {
  it('is a tag by its name, old or new, with the count in the button', async () => {
    const { startBatch, clear } = bar({ meant: ALL });
    await begin();
    await userEvent.type(screen.getByRole('combobox', { name: /^Tag: an old one/ }), 'star party');
    await userEvent.click(screen.getByRole('button', { name: 'Put a tag on 14,741 people' }));
    await waitFor(() => expect(clear).toHaveBeenCalled());
    expect(startBatch.mock.lastCall![0]).toMatchObject({
      ...{ deed: 'tag', thing: 'star party', when: 'now', meant: ALL },
    });
  });

  it('can be slow, and says when it will be done', async () => {
    const { startBatch } = bar({ meant: ids(45) });
    await begin();
    await userEvent.click(screen.getByRole('radio', { name: 'a few at a time' }));
    expect(screen.getByText(/done after 120 minutes/)).toBeDefined();
    await userEvent.clear(screen.getByRole('spinbutton', { name: 'Minutes between' }));
    await userEvent.type(screen.getByRole('spinbutton', { name: 'Minutes between' }), '5');
    expect(screen.getByText(/done after 10 minutes/)).toBeDefined();
    await userEvent.click(screen.getByRole('button', { name: 'Put a tag on 45 people' }));
    expect(startBatch.mock.lastCall![0]).toMatchObject({ when: 'slowly', pace: { count: 20, minutes: 5 } });
  });

  it('chooses among what is there: stages, teammates, programs', async () => {
    const { startBatch } = bar();
    await begin();
    await deed('Opt them out of a program');
    await userEvent.selectOptions(screen.getByRole('combobox', { name: 'Which program' }), 'Star Parties');
    await deed('Move them to a stage');
    expect(screen.getByRole('combobox', { name: 'Which stage' })).toHaveProperty('value', '');
    await userEvent.selectOptions(screen.getByRole('combobox', { name: 'Which stage' }), 'Asked');
    await userEvent.click(screen.getByRole('button', { name: 'Move 3 people to a stage' }));
    expect(startBatch.mock.lastCall![0]).toMatchObject({ deed: 'stage', thing: 'stg_1' });
  });

  it('asks for the count before anybody is deleted', async () => {
    const { startBatch } = bar();
    await begin();
    await deed('Delete them for good');
    await userEvent.type(screen.getByLabelText('Type 3 to go on'), '3');
    await userEvent.click(screen.getByRole('button', { name: 'Delete 3 people for good' }));
    expect(startBatch.mock.lastCall![0]).toMatchObject({ deed: 'delete', typedCount: '3' });
  });

  it('is a merge only of two', async () => {
    bar({ meant: ids(3) });
    await begin();
    expect(screen.queryByRole('option', { name: 'Merge the two' })).toBeNull();
  });

  it('leads on to writing, and to merging', async () => {
    bar({ meant: ids(2), answer: { problem: null, go: '/people/duplicates/a/b' } });
    await begin();
    await deed('Merge the two');
    await userEvent.click(screen.getByRole('button', { name: 'Merge 2 people' }));
    await waitFor(() => expect(router.push).toHaveBeenCalledWith('/people/duplicates/a/b'));
  });

  it('keeps everything when it is refused, and says why', async () => {
    const { clear } = bar({ answer: { problem: 'tag: give it a name.' } });
    await begin();
    await userEvent.type(screen.getByRole('textbox', { name: /^Name, to find it again/ }), 'Spring');
    await userEvent.click(screen.getByRole('button', { name: 'Put a tag on 3 people' }));
    expect((await screen.findByRole('alert')).textContent).toBe('tag: give it a name.');
    expect(screen.getByRole('textbox', { name: /^Name, to find it again/ })).toHaveProperty(
      'value',
      'Spring',
    );
    expect(clear).not.toHaveBeenCalled();
  });

  it.each([
    [{ mayEdit: false, maySend: false }, ['Export them']],
    [
      { mayEdit: false, maySend: true },
      ['Write to exactly these', 'Drop a voicemail on these', 'Export them'],
    ],
  ])('is only what one may do: %j', async (may, deeds) => {
    bar(may);
    await begin();
    expect(
      [...screen.getByRole('combobox', { name: 'What' }).querySelectorAll('option')].map(
        ({ textContent }) => textContent,
      ),
    ).toEqual(deeds);
    expect(screen.queryByRole('button', { name: /^Put a tag/ })).toBeNull();
  });
});
