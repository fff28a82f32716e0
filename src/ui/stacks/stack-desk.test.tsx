import { cleanup, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { StackDesk, type Desk } from './stack-desk';

const someone = (i: number): Desk['next'][number] => ({
  ...{ id: `txt_${i}`, personId: `per_${i}`, name: `Person ${i}`, address: null, body: `Text ${i}` },
});
const desk = (more: Partial<Desk> = {}): Desk => ({
  stack: { id: 'stk_1', name: 'Iris', seesNumbers: false },
  broadcast: { name: 'By hand', state: 'sending', mayAdapt: false },
  next: [someone(1), someone(2), someone(3)],
  ...{ leaving: 0, replies: [], words: null },
  ...more,
});

/** The server: whom it still has, and what it was asked. */
let here: Desk;
let asked: { act: string; messages?: string; message?: string; why?: string; body?: string }[];
beforeEach(() => {
  localStorage.clear();
  [here, asked] = [desk(), []];
  vi.stubGlobal('fetch', (_: string, { body }: { body: string }) => {
    const question = JSON.parse(body) as (typeof asked)[number];
    asked.push(question);
    if (question.act === 'adapt') {
      if (question.body === 'no')
        return Promise.resolve(Response.json({ message: 'body: keeps the links it had.' }, { status: 422 }));
      here = { ...here, next: here.next.map((one) => ({ ...one, body: question.body! })) };
      return Promise.resolve(Response.json({}));
    }
    const gone = question.messages ? (JSON.parse(question.messages) as string[]) : [question.message];
    here = { ...here, next: here.next.filter(({ id }) => !gone.includes(id)) };
    const answer = question.act === 'look' ? here : { pressed: gone };
    return Promise.resolve(Response.json(answer));
  });
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const open = (first: Desk, guest = true) => {
  here = first;
  render(<StackDesk first={first} path="/stack/key/desk" more={{}} guest={guest} />);
};
const pressed = () =>
  asked.filter(({ act }) => act === 'press').flatMap(({ messages }) => JSON.parse(messages!) as string[]);

describe('the desk of a stack', () => {
  it('sends whom it shows, and shows the next at once, by key or finger', async () => {
    open(desk());
    fireEvent.click(screen.getByRole('button', { name: /Send it/ }));
    expect(screen.getByText('Text 2')).toBeTruthy();
    fireEvent.keyDown(document.body, { key: 'Enter', code: 'Enter' });
    expect(screen.getByText('Text 3')).toBeTruthy();
    await waitFor(() => expect(pressed()).toEqual(['txt_1', 'txt_2']));
    await screen.findByText(/2 sent by you here/);
  });

  it('passes over with a reason, and sends nothing then', async () => {
    open(desk());
    fireEvent.keyDown(document.body, { key: 'x', code: 'KeyX' });
    fireEvent.keyDown(document.body, { key: 'Enter', code: 'Enter' });
    fireEvent.click(screen.getByRole('button', { name: 'Not for them' }));
    await waitFor(() => expect(asked.some(({ act }) => act === 'skip')).toBe(true));
    expect(asked.find(({ act }) => act === 'skip')).toMatchObject({ message: 'txt_1', why: 'Not for them' });
    expect(pressed()).toEqual([]);
    expect(screen.getByText('Text 2')).toBeTruthy();
  });

  it('sends nothing by a key that is for what has the focus', () => {
    open(desk());
    fireEvent.keyDown(screen.getByRole('button', { name: /Not this one/ }), { key: 'Enter', code: 'Enter' });
    expect([pressed(), screen.getByText('Text 1').textContent]).toEqual([[], 'Text 1']);
  });

  it('changes the words where its author allows it, says why not, and sends nothing meanwhile', async () => {
    const { unmount } = render(<StackDesk first={desk()} path="/x" more={{}} guest />);
    fireEvent.keyDown(document.body, { key: 'e', code: 'KeyE' });
    expect(screen.queryByRole('button', { name: /Change the words/ })).toBeNull();
    expect(screen.queryByLabelText('The words for this one')).toBeNull();
    unmount();
    open(desk({ broadcast: { name: 'By hand', state: 'sending', mayAdapt: true } }));
    fireEvent.keyDown(document.body, { key: 'e', code: 'KeyE' });
    const field = screen.getByLabelText('The words for this one');
    fireEvent.change(field, { target: { value: 'no' } });
    fireEvent.keyDown(document.body, { key: 'Enter', code: 'Enter' });
    fireEvent.click(screen.getByRole('button', { name: 'Keep these words' }));
    await screen.findByText('body: keeps the links it had.');
    fireEvent.change(field, { target: { value: 'Other words' } });
    fireEvent.click(screen.getByRole('button', { name: 'Keep these words' }));
    await screen.findByText('Other words');
    expect(pressed()).toEqual([]);
    expect(asked.filter(({ act }) => act === 'adapt').map(({ message }) => message)).toEqual([
      'txt_1',
      'txt_1',
    ]);
  });

  it('sends nothing while it is paused', () => {
    open(desk({ broadcast: { name: 'By hand', state: 'paused', mayAdapt: false } }));
    fireEvent.keyDown(document.body, { key: 'Enter', code: 'Enter' });
    fireEvent.click(screen.getByRole('button', { name: /Send it/ }));
    expect([pressed(), screen.getByText('Text 1').textContent]).toEqual([[], 'Text 1']);
  });

  it('shows what whoever runs it says to all', () => {
    open(desk({ words: { body: 'Ten minutes more, then soup.', by: 'Odile' } }));
    expect(screen.getByText('Ten minutes more, then soup.').textContent).toContain('Odile');
  });

  it('says when it is through, and that numbers are slower than hands', async () => {
    open(desk({ next: [someone(1)], leaving: 400 }));
    expect(screen.getByText(/400 wait for the numbers/)).toBeTruthy();
    fireEvent.click(screen.getByRole('button', { name: /Send it/ }));
    await screen.findByText(/That was the last one/);
  });

  it('shows a guest answers in place, and a teammate the way to the thread', () => {
    const replies = [{ personId: 'per_9', name: 'Ana', since: 0, words: 'When?' }];
    open(desk({ replies }));
    expect(screen.queryByRole('link', { name: 'Ana' })).toBeNull();
    cleanup();
    open(desk({ replies }), false);
    expect(screen.getByRole('link', { name: 'Ana' }).getAttribute('href')).toBe('/inbox/per_9');
  });
});
