import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { useState } from 'react';
import { describe, expect, it } from 'vitest';
import type { OwnField } from '@/core/people/values';
import { KeywordQuestions, type Asking } from './keyword-questions';

const OWN: OwnField[] = [
  { key: 'planet', label: 'favourite planet', kind: 'one-of', options: ['Mars', 'Venus'] },
];
const NOTHING: Asking = { questions: [], thanks: '', linkDays: null, taskAfter: false };

function asks(first: Partial<Asking> = {}, problems: { field: string; message: string }[] = []) {
  let now: Asking = { ...NOTHING, ...first };
  function Kept() {
    const [asking, setAsking] = useState(now);
    now = asking;
    return (
      <KeywordQuestions
        now={asking}
        own={OWN}
        problems={problems}
        set={(part) => setAsking((before) => ({ ...before, ...part }))}
      />
    );
  }
  render(<Kept />);
  return { fields: () => now.questions.map(({ field }) => field), now: () => now };
}
const press = (name: string | RegExp) => userEvent.click(screen.getByRole('button', { name }));

describe('questions after joining', () => {
  it('are added one by one, each field once, and there are at most as many as there are fields', async () => {
    const { fields } = asks();
    expect(screen.queryByText(/Said after the last answer/)).toBeNull();
    await press('Ask something');
    for (let i = 0; i < 3; i++) await press('Ask one more');
    expect(fields()).toEqual(['name', 'email', 'postal_code', 'own.planet']);
    expect(screen.queryByRole('button', { name: /^Ask/ })).toBeNull();
    const second = screen.getByRole('combobox', { name: 'What question 2 asks for' });
    expect([...second.querySelectorAll('option')].map(({ value }) => value)).toEqual(['email']);
  });

  it('are put in another order, and left out', async () => {
    const ask = (field: string) => ({ field, words: '', again: '' });
    const { fields } = asks({ questions: ['name', 'email', 'postal_code'].map(ask) });
    await press('down: question 1');
    expect(fields()).toEqual(['email', 'name', 'postal_code']);
    await press('remove question 2');
    expect(fields()).toEqual(['email', 'postal_code']);
    expect(screen.getByRole('button', { name: 'up: question 1' })).toHaveProperty('disabled', true);
    expect(screen.getByRole('button', { name: 'down: question 2' })).toHaveProperty('disabled', true);
  });

  it('show the words of ours where there are none of one’s own, choices included', async () => {
    asks({ questions: [{ field: 'own.planet', words: '', again: '' }] });
    expect(
      screen.getByPlaceholderText('Favourite planet? 1 Mars, 2 Venus. Reply SKIP to leave it out.'),
    ).toBeDefined();
  });

  it('say what follows on silence, and what is wrong', async () => {
    const { now } = asks({ questions: [{ field: 'name', words: '', again: '' }] }, [
      { field: 'questions.0.field', message: 'questions: there is no such field.' },
    ]);
    expect(screen.getByText(/no such field/)).toBeDefined();
    await userEvent.type(screen.getByRole('spinbutton'), '7');
    await userEvent.click(screen.getByRole('checkbox', { name: /neither came/ }));
    expect(now()).toMatchObject({ linkDays: 7, taskAfter: true });
  });

  it('keep a field that is gone in sight, so that it can be left out', () => {
    asks({ questions: [{ field: 'own.gone', words: '', again: '' }] });
    expect(screen.getByRole('combobox', { name: 'What question 1 asks for' })).toHaveProperty(
      'value',
      'own.gone',
    );
    expect(screen.getByText('a field that is gone')).toBeDefined();
  });
});
