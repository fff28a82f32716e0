import { router } from '@/ui/testing/router';
import { act, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { CommandBox, openCommandBox } from './command-box';

const answer = vi.fn<(url: string) => unknown[]>();

beforeEach(() => {
  answer.mockReset().mockReturnValue([]);
  vi.stubGlobal('fetch', (url: string) => Promise.resolve({ json: () => Promise.resolve(answer(url)) }));
});

const open = async () => {
  render(<CommandBox />);
  act(() => openCommandBox());
  return screen.findByRole('combobox', { name: 'Find or do' });
};

describe('the command box', () => {
  it('is closed until it is asked for, by its button or by keyboard', async () => {
    render(<CommandBox />);
    expect(screen.queryByRole('combobox')).toBeNull();
    await userEvent.keyboard('{Control>}k{/Control}');
    expect(await screen.findByRole('combobox', { name: 'Find or do' })).toBeDefined();
    await userEvent.keyboard('{Escape}');
    await waitFor(() => expect(screen.queryByRole('combobox')).toBeNull());
  });

  it('goes to a place by its name', async () => {
    const box = await open();
    await userEvent.type(box, 'resul');
    await userEvent.keyboard('{Enter}');
    expect(router.push).toHaveBeenCalledWith('/results');
  });

  it('goes to another business by its name', async () => {
    const switchTo = vi.fn((_: FormData) => Promise.resolve());
    render(<CommandBox elsewhere={[{ id: 'wsp_2', name: 'Roving Dome' }]} switchTo={switchTo} />);
    act(() => openCommandBox());
    await userEvent.type(await screen.findByRole('combobox', { name: 'Find or do' }), 'roving');
    await userEvent.keyboard('{Enter}');
    expect(switchTo.mock.calls[0]![0].get('workspace')).toBe('wsp_2');
    expect(router.push).not.toHaveBeenCalled();
  });

  it.each([
    ['import file', '/people/imports'],
    ['duplic', '/people/duplicates'],
    ['scan', '/people/scan'],
  ])('finds doing by its words: %s', async (typed, path) => {
    const box = await open();
    await userEvent.type(box, typed);
    await userEvent.keyboard('{Enter}');
    expect(router.push).toHaveBeenCalledWith(path);
  });

  it.each([
    ['grace', '/help/sends'],
    ['help inbox', '/help/inbox'],
  ])('explains a word that is no place: %s', async (typed, path) => {
    const box = await open();
    await userEvent.type(box, typed);
    await userEvent.keyboard('{Enter}');
    expect(router.push).toHaveBeenCalledWith(path);
  });

  it.each([
    ['write to ada', '/inbox/per_1'],
    ['text ada', '/inbox/per_1'],
    ['opt out ada', '/inbox/per_1#leave'],
    ['pause ada', '/inbox/per_1#leave'],
    ['ada', '/people/per_1'],
  ])('does what is typed before a name with whoever has it: %s', async (typed, path) => {
    answer.mockReturnValue([{ kind: 'person', href: '/people/per_1', label: 'Ada Vale' }]);
    const box = await open();
    await userEvent.type(box, typed);
    await screen.findAllByRole('option', { name: /Ada Vale/ });
    expect(answer.mock.calls.at(-1)![0]).toContain('q=ada');
    await userEvent.keyboard('{Enter}');
    expect(router.push).toHaveBeenCalledWith(path);
  });

  it('goes home', async () => {
    const box = await open();
    await userEvent.type(box, 'today');
    await userEvent.click(screen.getByRole('option', { name: /Today/ }));
    expect(router.push).toHaveBeenCalledWith('/');
  });

  it.each([
    ['person', '/people/per_1'],
    ['broadcast', '/sends/brc_1'],
    ['segment', '/people?segment=seg_1'],
  ])('finds a %s and opens it', async (kind, path) => {
    answer.mockReturnValue([{ kind, href: path, label: 'Ada & co.' }]);
    const box = await open();
    await userEvent.type(box, 'ada &');
    await userEvent.click(await screen.findByRole('option', { name: /^Ada & co\./ }));
    expect(router.push).toHaveBeenCalledWith(path);
    expect(answer).toHaveBeenLastCalledWith('/internal/find?q=ada%20%26');
  });

  it('asks the server nothing for one letter', async () => {
    const box = await open();
    await userEvent.type(box, 'x');
    await new Promise((resolve) => setTimeout(resolve, 200));
    expect(answer).not.toHaveBeenCalled();
  });

  it('says so when nothing has that name', async () => {
    const box = await open();
    await userEvent.type(box, 'qqqq');
    expect(await screen.findByText('Nothing by that name.')).toBeDefined();
  });
});
