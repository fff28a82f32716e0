import '@/ui/testing/router';
import { render, screen, within, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { EVERYBODY, type Condition } from '@/core/audience/condition';
import { PeopleDesk, type DeskProps } from './people-desk';
import { ASKABLE } from '@/ui/testing/askable';
import { person } from '@/ui/testing/people';

interface Asked {
  condition: string;
  search: string;
  sort?: string;
  after?: string;
}

const asked: Record<string, Asked[]> = {};
/** What the server answers by path; a test replaces what it is about. */
let answers: Record<string, (body: Asked) => unknown>;

beforeEach(() => {
  for (const path of Object.keys(asked)) delete asked[path];
  answers = {
    '/internal/people': ({ after }) =>
      after
        ? { rows: [person(200)], next: null }
        : { rows: Array.from({ length: 100 }, (_, i) => person(i)), next: 'more' },
    '/internal/audience': () => ({ sentence: 'Everybody', count: 101, problems: [] }),
    '/internal/steps': () => ({ everybody: 101, steps: [] }),
  };
  vi.stubGlobal('fetch', (path: string, { body }: { body: string }) => {
    const question = JSON.parse(body) as Asked;
    (asked[path] ??= []).push(question);
    const answer = answers[path]!(question);
    const ok = !(answer instanceof Error);
    return Promise.resolve({
      ok,
      json: () => Promise.resolve(ok ? answer : { message: (answer as Error).message }),
    });
  });
});

const SEGMENT = {
  ...{ id: 'seg_1', name: 'Regulars', columns: [], sort: '-name', pinned: false, shared: 'me' as const },
  ...{ condition: { ask: 'tag', id: 'lab_1', has: true } as Condition },
  ...{ accounts: [], ownerId: 'acc_me', version: 4 },
};

function desk(more: Partial<DeskProps> = {}) {
  const acts = {
    save: vi.fn<DeskProps['acts']['save']>().mockResolvedValue({ id: 'seg_9', problem: null }),
    change: vi.fn<DeskProps['acts']['change']>().mockResolvedValue(null),
    saveColumns: vi.fn<DeskProps['acts']['saveColumns']>().mockResolvedValue(undefined),
    startBatch: vi.fn<DeskProps['acts']['startBatch']>().mockResolvedValue({ problem: null }),
  };
  const props: DeskProps = {
    askable: ASKABLE,
    segments: [SEGMENT],
    teammates: [],
    me: 'acc_me',
    columns: [
      { name: 'number', label: 'Number', sortable: true },
      { name: 'email', label: 'E-mail', sortable: true },
      { name: 'tags', label: 'Tags', sortable: false },
    ],
    usual: ['number'],
    chosen: ['number'],
    zone: 'America/Denver',
    now: Date.parse('2026-11-23T18:00:00Z'),
    stamp: 1,
    start: { condition: EVERYBODY, search: '', sort: '', segment: null },
    maySend: true,
    mayEdit: true,
    acts,
    ...more,
  };
  const { rerender } = render(<PeopleDesk {...props} />);
  return { acts, again: (next: Partial<DeskProps>) => rerender(<PeopleDesk {...props} {...next} />) };
}

const lastAsked = (path: string): Asked | undefined => asked[path]?.at(-1);
const firstRow = () => screen.findByRole('link', { name: 'Ada0 Orr' });

describe('the table', () => {
  it('draws what is in view and not the hundred that came', async () => {
    desk();
    await firstRow();
    expect(screen.getAllByRole('link', { name: /^Ada\d+ Orr$/ }).length).toBeLessThan(60);
  });

  it('asks for another order, and back', async () => {
    desk();
    await firstRow();
    await userEvent.click(screen.getByRole('button', { name: 'Number' }));
    await waitFor(() => expect(lastAsked('/internal/people')).toMatchObject({ sort: 'number' }));
    await userEvent.click(await screen.findByRole('button', { name: 'Number' }));
    await waitFor(() => expect(lastAsked('/internal/people')).toMatchObject({ sort: '-number' }));
    expect(screen.queryByRole('button', { name: 'Tags' })).toBeNull();
  });

  it('searches once typing has paused, and keeps it in the address', async () => {
    desk();
    await firstRow();
    const before = asked['/internal/people']!.length;
    await userEvent.type(screen.getByRole('searchbox'), 'orr');
    // The margin says what its count is of.
    await screen.findByText(/found by “orr”\./);
    await waitFor(() => expect(lastAsked('/internal/people')).toMatchObject({ search: 'orr' }));
    expect(asked['/internal/people']!.length).toBe(before + 1);
    expect(window.location.search).toBe('?q=orr');
  });

  it('goes from row to row by the arrow keys, in the column they are in', async () => {
    desk();
    (await firstRow()).focus();
    await userEvent.keyboard('{ArrowDown}{ArrowDown}');
    expect(document.activeElement?.textContent).toBe('Ada2 Orr');
    await userEvent.keyboard('{ArrowUp}');
    expect(document.activeElement?.textContent).toBe('Ada1 Orr');
    screen.getByRole('checkbox', { name: 'Tick Ada3 Orr' }).focus();
    await userEvent.keyboard('{ArrowUp}[Space]');
    expect(screen.getByRole('checkbox', { name: 'Tick Ada2 Orr' })).toHaveProperty('checked', true);
    await userEvent.keyboard('{Home}');
    expect(document.activeElement).toBe(screen.getByRole('checkbox', { name: 'Tick Ada0 Orr' }));
  });

  it('is entered by the arrow key from around it', async () => {
    desk();
    await firstRow();
    screen.getByRole('region', { name: 'People' }).focus();
    await userEvent.keyboard('{ArrowDown}');
    expect(document.activeElement?.textContent).toBe('Ada0 Orr');
  });

  it('takes and orders columns, and keeps the choice', async () => {
    const { acts } = desk();
    await firstRow();
    await userEvent.click(screen.getByRole('button', { name: 'Columns' }));
    await userEvent.click(await screen.findByRole('checkbox', { name: 'E-mail' }));
    expect(acts.saveColumns).toHaveBeenLastCalledWith(['number', 'email']);
    await userEvent.click(screen.getByRole('button', { name: 'E-mail earlier' }));
    expect(acts.saveColumns).toHaveBeenLastCalledWith(['email', 'number']);
    await userEvent.click(screen.getByRole('checkbox', { name: 'Number' }));
    expect(acts.saveColumns).toHaveBeenLastCalledWith(['email']);
    await userEvent.click(screen.getByRole('button', { name: 'the usual columns' }));
    expect(acts.saveColumns).toHaveBeenLastCalledWith(['number']);
  });

  it('says that nobody matches, and how to go on', async () => {
    answers['/internal/people'] = () => ({ rows: [], next: null });
    desk({ start: { condition: SEGMENT.condition, search: '', sort: '', segment: null } });
    expect(await screen.findByText(/^Nobody matches/)).toBeDefined();
  });

  it('says that nobody is here yet', async () => {
    answers['/internal/people'] = () => ({ rows: [], next: null });
    desk();
    expect(await screen.findByText(/^Nobody is here yet/)).toBeDefined();
  });

  it('says what the server says when it cannot answer', async () => {
    answers['/internal/people'] = () => new Error('condition: ask for less.');
    desk();
    const problem = await screen.findByRole('alert', {}, { timeout: 5_000 });
    expect(problem.textContent).toBe('condition: ask for less.');
  });
});

describe('ticking', () => {
  it('is of people, of what is shown, or of all that match', async () => {
    desk();
    await firstRow();
    await userEvent.click(screen.getByRole('checkbox', { name: 'Tick Ada1 Orr' }));
    expect(screen.getByText('1 person ticked.')).toBeDefined();
    await userEvent.click(screen.getByRole('checkbox', { name: 'Tick everybody shown so far' }));
    expect(screen.getByText('100 people ticked.')).toBeDefined();
    await userEvent.click(screen.getByRole('button', { name: 'choose all 101 that match' }));
    expect(screen.getByText('All 101 that match are chosen.')).toBeDefined();
    expect(screen.getByRole('checkbox', { name: 'Tick Ada1 Orr' })).toHaveProperty('disabled', true);
  });

  it('is forgotten when the cut or the search changes, so that nobody unseen is meant', async () => {
    desk();
    await firstRow();
    await userEvent.click(screen.getByRole('checkbox', { name: 'Tick Ada1 Orr' }));
    await userEvent.type(screen.getByRole('searchbox'), 'o');
    expect(screen.getByText('Tick people, or choose all that match.')).toBeDefined();
  });
});

describe('a cut', () => {
  it('is counted as a whole and after each line, and a count opens its people', async () => {
    const both: Condition = { all: [SEGMENT.condition, { ask: 'tag', id: 'lab_2', has: false }] };
    answers['/internal/audience'] = () => ({ sentence: 'People with both', count: 7, problems: [] });
    answers['/internal/steps'] = () => ({
      everybody: 101,
      steps: [
        { words: 'with the tag member', count: 40, condition: { all: [SEGMENT.condition] } },
        { words: 'without the tag school', count: 7, condition: both },
      ],
    });
    desk({ start: { condition: both, search: '', sort: '', segment: null } });
    const margin = screen.getByRole('complementary', { name: 'Margin' });
    expect(await within(margin).findByText('7 people')).toBeDefined();
    expect(await screen.findByText('40 left')).toBeDefined();
    await userEvent.click(within(margin).getByRole('button', { name: '40' }));
    await waitFor(() =>
      expect(JSON.parse(lastAsked('/internal/people')!.condition)).toEqual({ all: [SEGMENT.condition] }),
    );
  });

  it('is kept as a segment under a name, with its columns and order', async () => {
    const { acts } = desk({
      start: { condition: SEGMENT.condition, search: '', sort: '-number', segment: null },
    });
    await firstRow();
    await userEvent.type(screen.getByRole('textbox', { name: 'Name of the segment' }), 'Members');
    await userEvent.click(screen.getByRole('button', { name: 'Keep this cut' }));
    expect(await screen.findByText('Kept as “Members”.')).toBeDefined();
    expect(acts.save).toHaveBeenCalledWith({
      ...{ id: null, version: 0, name: 'Members', columns: ['number'], sort: '-number' },
      condition: JSON.stringify(SEGMENT.condition),
    });
  });

  it('says so when somebody else changed the segment meanwhile, and keeps the cut', async () => {
    const { acts } = desk({
      start: { ...{ condition: SEGMENT.condition, search: '', sort: '' }, segment: 'seg_1' },
    });
    acts.save.mockResolvedValue({ id: null, problem: 'version: Noor changed it a moment ago.' });
    await firstRow();
    await userEvent.click(screen.getByRole('button', { name: 'Save the change' }));
    expect((await screen.findByRole('alert')).textContent).toBe('version: Noor changed it a moment ago.');
    expect(acts.save).toHaveBeenCalledWith(expect.objectContaining({ id: 'seg_1', version: 4 }));
    expect(screen.getByRole('combobox', { name: 'Which tag' })).toHaveProperty('value', 'lab_1');
  });

  it('is replaced by a segment that is opened, in its order', async () => {
    desk();
    await firstRow();
    await userEvent.click(screen.getByRole('button', { name: /^Regulars/ }));
    await waitFor(() =>
      expect(lastAsked('/internal/people')).toMatchObject({
        ...{ sort: '-name', condition: JSON.stringify(SEGMENT.condition) },
      }),
    );
    await waitFor(() => expect(window.location.search).toContain('segment=seg_1'));
  });

  it('says how many it comes to before it asks for the counts on the way there', async () => {
    let known: (answer: object) => void = () => {};
    answers['/internal/audience'] = () => new Promise((resolve) => (known = resolve));
    desk();
    await firstRow();
    expect(asked['/internal/audience']).toHaveLength(1);
    expect(asked['/internal/steps']).toBeUndefined();
    known({ sentence: 'Everybody', count: 101, problems: [] });
    await waitFor(() => expect(asked['/internal/steps']).toHaveLength(1));
  });

  it('is asked again when the workspace changed', async () => {
    const { again } = desk();
    await firstRow();
    const before = asked['/internal/people']!.length;
    again({ stamp: 2 });
    await waitFor(() => expect(asked['/internal/people']!.length).toBeGreaterThan(before));
    await waitFor(() => expect(asked['/internal/audience']!.length).toBeGreaterThan(1));
    await waitFor(() => expect(asked['/internal/steps']!.length).toBeGreaterThan(1));
  });
});
