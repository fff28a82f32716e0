import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import type { FormState } from './form-state';
import { PlainForm } from './plain-form';

type Action = (state: FormState, data: FormData) => Promise<FormState>;

function form(answer: FormState) {
  const action = vi.fn<Action>().mockResolvedValue(answer);
  render(
    <PlainForm
      action={action}
      submit="Keep it"
      hidden={{ id: 'fld_1' }}
      fields={[
        { name: 'label', label: 'Name', hint: 'As the team calls it.', maxLength: 10, initial: 'Planet' },
        {
          name: 'kind',
          label: 'Kind',
          options: [
            { value: 'text', label: 'Text' },
            { value: 'date', label: 'Date' },
          ],
        },
      ]}
    />,
  );
  const submit = async (): Promise<Record<string, FormDataEntryValue>> => {
    await userEvent.click(screen.getByRole('button', { name: 'Keep it' }));
    await waitFor(() => expect(action).toHaveBeenCalled());
    return Object.fromEntries(action.mock.lastCall![1]);
  };
  return { submit };
}

const GOOD: FormState = { problems: [], values: {}, done: 'Kept.' };

describe('a form', () => {
  it('hands over what was typed and chosen, with what is hidden, and says it is done', async () => {
    const { submit } = form(GOOD);
    await userEvent.type(screen.getByRole('textbox', { name: 'Name' }), 's and more');
    await userEvent.selectOptions(screen.getByRole('combobox', { name: 'Kind' }), 'Date');
    expect(await submit()).toEqual({
      id: 'fld_1',
      label: 'Planets an',
      kind: 'date',
      press: expect.any(String),
    });
    expect((await screen.findByRole('status')).textContent).toBe('Kept.');
  });

  it('counts once however often it is pressed, and anew with a new token after the answer', async () => {
    let answer: (state: FormState) => void = () => {};
    const action = vi.fn<Action>().mockImplementation(() => new Promise((resolve) => (answer = resolve)));
    render(<PlainForm action={action} submit="Send" fields={[{ name: 'body', label: 'Answer' }]} />);
    const field = screen.getByRole<HTMLInputElement>('textbox', { name: 'Answer' });
    await userEvent.type(field, 'Yes, do.');
    const form = field.form!;
    for (let i = 0; i < 4; i++) fireEvent.submit(form);
    await userEvent.type(field, ' And bring a coat.');
    await waitFor(() => expect(action).toHaveBeenCalledOnce());
    answer(GOOD);
    await screen.findByRole('status');
    // What was typed while it worked is still there.
    expect(field.value).toBe('Yes, do. And bring a coat.');
    fireEvent.submit(form);
    await waitFor(() => expect(action).toHaveBeenCalledTimes(2));
    const [one, two] = action.mock.calls.map(([, data]) => data.get('press'));
    expect(one).toMatch(/^[0-9a-f]{32}$/);
    expect(two).not.toBe(one);
    answer(GOOD);
    await waitFor(() => expect(field.value).toBe(''));
  });

  it('counts a press that comes with the answer', async () => {
    const action = vi.fn<Action>().mockResolvedValue(GOOD);
    render(<PlainForm action={action} submit="Send" fields={[{ name: 'body', label: 'Answer' }]} />);
    const form = screen.getByRole<HTMLInputElement>('textbox', { name: 'Answer' }).form!;
    // Told of the answer in the turn in which it is shown, which is sooner than any finger.
    new MutationObserver((_, observer) => {
      if (form.querySelector('[role=status]') === null) return;
      observer.disconnect();
      fireEvent.submit(form);
    }).observe(form, { childList: true });
    fireEvent.submit(form);
    await waitFor(() => expect(action).toHaveBeenCalledTimes(2));
  });

  it('keeps what was typed when it is refused', async () => {
    const { submit } = form({
      problems: [{ field: 'label', message: 'label: no.' }],
      values: { label: 'x' },
      done: null,
    });
    await userEvent.type(screen.getByRole('textbox', { name: 'Name' }), '!');
    await submit();
    await screen.findByRole('alert');
    expect(screen.getByRole<HTMLInputElement>('textbox', { name: 'Name' }).value).toBe('Planet!');
  });

  it('reads its hint aloud with the field', () => {
    form(GOOD);
    const field = screen.getByRole('textbox', { name: 'Name' });
    const hint = document.getElementById(field.getAttribute('aria-describedby')!);
    expect(hint?.textContent).toBe('As the team calls it.');
    expect(field.getAttribute('aria-invalid')).toBeNull();
  });

  it('says at the field why it was refused', async () => {
    const { submit } = form({
      problems: [{ field: 'label', message: 'label: there is one of this name.' }],
      values: { label: 'Planet', kind: 'text' },
      done: null,
    });
    await submit();
    // The field is drawn anew with what was typed.
    const field = await waitFor(() => {
      const drawn = screen.getByRole('textbox', { name: 'Name' });
      expect(drawn.getAttribute('aria-invalid')).toBe('true');
      return drawn;
    });
    const told = field
      .getAttribute('aria-describedby')!
      .split(' ')
      .map((id) => document.getElementById(id)?.textContent);
    expect(told).toEqual(['As the team calls it.', 'label: there is one of this name.']);
    expect(screen.getAllByRole('alert')).toHaveLength(1);
  });

  it('says at its end what belongs to no field', async () => {
    const { submit } = form({
      problems: [{ field: 'role', message: 'role: ask an owner to do this.' }],
      values: { label: 'Planet', kind: 'text' },
      done: null,
    });
    await submit();
    expect((await screen.findByRole('alert')).textContent).toBe('role: ask an owner to do this.');
  });
});

describe('a form whose fields are read anew', () => {
  const page = (action: Action, stamp: number, months: string) => (
    <PlainForm
      action={action}
      submit="Keep it"
      stamp={stamp}
      fields={[{ name: 'months', label: 'Months', initial: months }]}
    />
  );

  it('still says what was kept, and shows what stands now', async () => {
    const action = vi.fn<Action>().mockResolvedValue(GOOD);
    const { rerender } = render(page(action, 1, ''));
    await userEvent.type(screen.getByLabelText('Months'), '3');
    await userEvent.click(screen.getByRole('button', { name: 'Keep it' }));
    expect(await screen.findByText('Kept.')).toBeTruthy();
    expect(Object.fromEntries(action.mock.lastCall![1])).toMatchObject({ stamp: '1', months: '3' });
    rerender(page(action, 2, '3'));
    expect(screen.getByText('Kept.')).toBeTruthy();
    expect(screen.getByLabelText<HTMLInputElement>('Months').value).toBe('3');
  });
});
