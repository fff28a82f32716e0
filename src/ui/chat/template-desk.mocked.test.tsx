import { render, screen, within } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { describe, expect, it, vi } from 'vitest';
import { USUAL_LIMITS } from '@/core/chat/network';
import type { WordingState } from '@/core/chat/wording-life';
import { MERGE_FIELDS } from '@/core/text/fields';
import { ChatTemplateDesk, type WordingOutcome, type WordingValues } from './template-desk';

/** The editor measures itself as no imitated browser can; a box for text stands in for it. */
vi.mock('@/ui/kit/text-editor', () => ({
  TextEditor: (props: { initial: string; labelledBy: string; onChange(body: string): void }) => {
    const [body, setBody] = useState(props.initial);
    return (
      <textarea
        aria-labelledby={props.labelledBy}
        value={body}
        onChange={({ target }) => (setBody(target.value), props.onChange(target.value))}
      />
    );
  },
}));

const NAME = '{{$person.first_name :wren:field fallback=friend}';

function desk(state: WordingState = 'draft', more: Partial<WordingValues> = {}) {
  const keep = vi
    .fn<(values: WordingValues, press: string) => Promise<WordingOutcome>>()
    .mockResolvedValue({ problems: [], stamp: 4 });
  const handIn = vi
    .fn<(id: string, press: string) => Promise<WordingOutcome>>()
    .mockResolvedValue({ problems: [], stamp: null });
  render(
    <ChatTemplateDesk
      template={{ name: 'sky_week', category: 'marketing' }}
      {...{ language: 'en', version: 2, state, limits: USUAL_LIMITS, account: 'Juniper Gap', mayEdit: true }}
      initial={{
        id: 'chw_1',
        stamp: 3,
        words: { header: '', body: 'Hi', footer: '', buttons: [] },
        samples: {},
        ...more,
      }}
      fields={MERGE_FIELDS}
      examples={{ first_name: 'Ada' }}
      {...{ keep, handIn }}
    />,
  );
  return { keep, handIn };
}

const margin = () => screen.getByRole('complementary', { name: 'Margin' });
const button = (name: RegExp | string) => screen.getByRole('button', { name });

describe('a template that is written', () => {
  it('shows what a reviewer reads and would say, as it is typed, and cannot be handed in before that is mended', async () => {
    const { keep, handIn } = desk();
    expect(within(margin()).getByText(/Nothing says how to stop/)).toBeDefined();
    expect(button('Hand version 2 in for review')).toHaveProperty('disabled', true);
    const body = screen.getByRole('textbox', { name: /^Body/ });
    await userEvent.clear(body);
    await userEvent.type(body, `${NAME}, Saturn is up this week.`);
    expect(within(margin()).getByText(/Must not begin with a field/)).toBeDefined();
    await userEvent.type(body, 'Hi ', { initialSelectionStart: 0, initialSelectionEnd: 0 });
    await userEvent.click(button('The one that leaves'));
    expect(within(margin()).getByText(/Nothing stands against it/)).toBeDefined();
    // An example stands there by itself, and is a reviewer’s to read.
    expect(within(margin()).getByText('Ada')).toBeDefined();
    await userEvent.click(button('Hand version 2 in for review'));
    expect(keep.mock.calls[0]![0]).toMatchObject({
      ...{ stamp: 3, samples: { first_name: 'Ada' } },
      words: { buttons: [{ kind: 'reply', words: 'Stop these', leaves: true }] },
    });
    expect(handIn.mock.calls[0]![0]).toBe('chw_1');
  });

  it('takes as many buttons as the network does', async () => {
    desk();
    for (let i = 0; i < USUAL_LIMITS.quickReplies; i++)
      await userEvent.click(button('A button that answers'));
    expect(button('A button that answers')).toHaveProperty('disabled', true);
    await userEvent.click(screen.getAllByRole('button', { name: 'Take out the button' })[0]!);
    expect(button('A button that answers')).toHaveProperty('disabled', false);
  });

  it('keeps a draft, and says when it is kept', async () => {
    const { keep, handIn } = desk();
    expect(button('The draft is kept')).toHaveProperty('disabled', true);
    await userEvent.type(screen.getByLabelText(/^Footer/), 'Reply STOP to stop');
    await userEvent.click(button('Keep the draft'));
    expect(keep).toHaveBeenCalledTimes(1);
    expect(handIn).not.toHaveBeenCalled();
    expect(await screen.findByRole('button', { name: 'The draft is kept' })).toBeDefined();
  });

  it('shows what the network refused where it belongs', async () => {
    const { keep } = desk();
    keep.mockResolvedValue({ problems: [{ field: 'header', message: 'header: is too long.' }], stamp: null });
    await userEvent.type(screen.getByLabelText(/^Header/), 'x');
    await userEvent.click(button('Keep the draft'));
    expect(await screen.findByText('Is too long.')).toBeDefined();
  });

  it('is only read once it was handed in', () => {
    desk('approved', {
      words: {
        header: 'Saturn',
        body: 'Hi there.',
        footer: '',
        buttons: [{ kind: 'link', words: 'See', url: 'https://a.example' }],
      },
    });
    expect(screen.queryByRole('textbox')).toBeNull();
    expect(screen.getByText(/opens https:\/\/a\.example/)).toBeDefined();
  });
});
