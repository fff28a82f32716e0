import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { GuestTalk } from './guest-talk';

const TALK = {
  ...{ name: 'Noor', waits: true, stopped: false, leaving: false },
  talk: [{ id: 'inb_1', direction: 'in', at: '2026-11-24T19:00:00Z', body: 'What does it cost?' }],
  facts: [
    { key: 'comes', label: 'Comes on Friday', kind: 'yes-no', options: [], known: null as string | null },
    { key: 'brings', label: 'Brings how many', kind: 'number', options: [], known: '2' },
  ],
  prepared: [{ id: 'tpl_1', question: 'The price?', body: 'It is free, Noor.' }],
};

let talk: typeof TALK;
let asked: Record<string, string>[];
beforeEach(() => {
  [talk, asked] = [TALK, []];
  vi.stubGlobal('fetch', (_: string, { body }: { body: string }) => {
    const question = JSON.parse(body) as Record<string, string>;
    if (question.act !== 'talk') asked.push(question);
    if (question.act === 'note' && question.value === 'many')
      return Promise.resolve(Response.json({ message: 'value: is no number.' }, { status: 422 }));
    if (question.act === 'note')
      talk = { ...talk, facts: [{ ...talk.facts[0]!, known: question.value! }, talk.facts[1]!] };
    if (question.act === 'leave') talk = { ...talk, leaving: true };
    if (question.act === 'stay') talk = { ...talk, leaving: false };
    return Promise.resolve(Response.json(question.act === 'talk' ? talk : {}));
  });
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

async function open(): Promise<void> {
  const reply = { personId: 'per_1', name: 'Noor', words: 'What does it cost?' };
  const { container } = render(<GuestTalk path="/stack/key/desk" reply={reply} />);
  const details = container.querySelector('details')!;
  details.open = true;
  fireEvent(details, new Event('toggle'));
  await screen.findByText('Comes on Friday');
}
const press = (name: string | RegExp) => fireEvent.click(screen.getByRole('button', { name }));

describe('what a guest does with somebody who answered', () => {
  it('begins an answer from a prepared one, which is counted, and can be changed', async () => {
    await open();
    press('The price?');
    const words = screen.getByLabelText<HTMLTextAreaElement>('Answer');
    expect(words.value).toBe('It is free, Noor.');
    fireEvent.change(words, { target: { value: 'It is free.' } });
    press('Send the answer');
    await waitFor(() =>
      expect(asked).toEqual([{ act: 'answer', person: 'per_1', body: 'It is free.', prepared: 'tpl_1' }]),
    );
    await waitFor(() => expect(words.value).toBe(''));
  });

  it('notes a choice by one press, and other answers when their field is left', async () => {
    await open();
    press('yes');
    await waitFor(() =>
      expect(screen.getByRole('button', { name: 'yes' }).getAttribute('aria-pressed')).toBe('true'),
    );
    const many = screen.getByLabelText('Brings how many');
    fireEvent.blur(many);
    fireEvent.change(many, { target: { value: 'many' } });
    fireEvent.blur(many);
    await screen.findByText('value: is no number.');
    expect(asked.map(({ key, value }) => [key, value])).toEqual([
      ['comes', 'yes'],
      ['brings', 'many'],
    ]);
  });

  it('takes nobody out by one press, and can take it back', async () => {
    await open();
    press('They want no more texts');
    press('No');
    press('They want no more texts');
    expect(asked).toEqual([]);
    press(/^Yes, take them out/);
    await screen.findByText(/They are being taken out/);
    press('Take that back');
    await screen.findByRole('button', { name: 'They want no more texts' });
    expect(asked.map(({ act }) => act)).toEqual(['leave', 'stay']);
  });

  it('asks for somebody else', async () => {
    await open();
    press('Somebody else, please');
    await waitFor(() => expect(asked).toMatchObject([{ act: 'another', person: 'per_1' }]));
  });
});
