import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { describe, expect, it, vi } from 'vitest';
import { guessColumns } from '@/core/import/columns';
import { ImportMapping, type MappingValues } from './import-mapping';

const HEADER = ['Mobile', 'Vorname', 'Planet', 'Visited'];
const ROWS = [
  ['(303) 555-0142', 'Ada', 'Saturn', '03/04/2026'],
  ['(303) 555-0143', 'Bela', 'Mars', '05/06/2026'],
];

function mapping(answer: string | null = null) {
  const guesses = guessColumns(HEADER, ROWS, [{ key: 'planet', label: 'Planet', kind: 'text' }]);
  const check = vi.fn<(values: MappingValues) => Promise<string | null>>().mockResolvedValue(answer);
  const initial: MappingValues = {
    name: 'Star party list',
    columns: guesses.map(({ to, kind, title }) => ({ to, label: title, ...(kind ? { kind } : {}) })),
    onKnown: 'change',
    tags: '2026-11-23, star party',
    list: '',
    program: '',
    standing: 'unknown' as const,
    channels: ['sms'],
    wording: '',
    date: '',
  };
  render(
    <ImportMapping
      {...{ initial, guesses, check }}
      own={[{ key: 'planet', label: 'Favourite planet' }]}
      programs={[{ id: 'prg_1', name: 'Clear Sky Alerts' }]}
      tags={['member']}
      lists={['Open evening']}
    />,
  );
  const tried = async (): Promise<MappingValues> => {
    await userEvent.click(screen.getByRole('button', { name: 'Try it out' }));
    await waitFor(() => expect(check).toHaveBeenCalled());
    return check.mock.lastCall![0];
  };
  return { tried, check };
}

const column = (title: string) => screen.getByRole('combobox', { name: `What ${title} becomes` });

describe('the columns of an import', () => {
  it('are shown with what they hold and what they were taken for', () => {
    mapping();
    expect(column('Mobile')).toHaveProperty('value', 'number');
    expect(column('Planet')).toHaveProperty('value', 'own.planet');
    expect(screen.getByText('Saturn · Mars')).toBeDefined();
  });

  it('are corrected, left out, or made into new fields', async () => {
    const { tried } = mapping();
    await userEvent.selectOptions(column('Vorname'), 'last_name');
    await userEvent.selectOptions(column('Planet'), 'new');
    const name = screen.getByRole('textbox', { name: 'Name of the new field for Planet' });
    await userEvent.clear(name);
    await userEvent.type(name, 'World');
    await userEvent.selectOptions(
      screen.getByRole('combobox', { name: 'Kind of the new field for Planet' }),
      'yes-no',
    );
    await userEvent.selectOptions(column('Visited'), 'skip');
    const { columns } = await tried();
    expect(columns.map(({ to }) => to)).toEqual(['number', 'last_name', 'new', 'skip']);
    expect(columns[2]).toMatchObject({ label: 'World', kind: 'yes-no' });
  });

  it('with dates that may be read two ways are asked about, and nothing is chosen for anybody', async () => {
    const { tried } = mapping();
    await userEvent.selectOptions(column('Visited'), 'new');
    await userEvent.selectOptions(
      screen.getByRole('combobox', { name: 'Kind of the new field for Visited' }),
      'date',
    );
    const order = screen.getByRole('combobox', { name: 'Order of day and month in Visited' });
    expect(order).toHaveProperty('value', '');
    await userEvent.selectOptions(order, 'day-month');
    expect((await tried()).columns[3]).toMatchObject({ kind: 'date', order: 'day-month' });
  });
});

describe('what is done with the people', () => {
  it('is said before anything is tried: name, tags, list, whether to update', async () => {
    const { tried } = mapping();
    await userEvent.selectOptions(
      screen.getByRole('combobox', { name: 'People who are here already' }),
      'fill only what is empty',
    );
    await userEvent.type(screen.getByRole('combobox', { name: 'List' }), 'Open evening');
    await userEvent.type(screen.getByRole('combobox', { name: 'Tags, with commas between' }), ', member');
    expect(await tried()).toMatchObject({
      ...{ name: 'Star party list', onKnown: 'fill', list: 'Open evening' },
      tags: '2026-11-23, star party, member',
    });
  });

  it('gives nobody consent unless somebody attests it', async () => {
    const { tried } = mapping();
    expect(screen.queryByRole('combobox', { name: 'Program' })).toBeNull();
    expect(await tried()).toMatchObject({ standing: 'unknown', program: '' });
  });

  it('says what a column does that says who may be texted, and not where there is none', async () => {
    mapping();
    expect(screen.queryByText(/A column says who may be texted/)).toBeNull();
    await userEvent.selectOptions(column('Visited'), 'agreed to texts');
    expect(screen.getByText(/A column says who may be texted/)).toBeTruthy();
  });

  it('takes that all of them left, of which nothing else is asked', async () => {
    const { tried } = mapping();
    await userEvent.click(screen.getByRole('radio', { name: /^They left or want no texts/ }));
    expect(screen.queryByRole('combobox', { name: 'Program' })).toBeNull();
    expect(await tried()).toMatchObject({ standing: 'left' });
  });

  it('takes the program, the day and the words they agreed to', async () => {
    const { tried } = mapping();
    await userEvent.click(screen.getByRole('radio', { name: /^I attest/ }));
    await userEvent.selectOptions(screen.getByRole('combobox', { name: 'Program' }), 'Clear Sky Alerts');
    await userEvent.type(screen.getByLabelText('On which day'), '2026-01-31');
    await userEvent.type(screen.getByLabelText(/^The words they agreed to/), 'Yes, text me.');
    expect(await tried()).toMatchObject({
      ...{ standing: 'agreed', program: 'prg_1', date: '2026-01-31', wording: 'Yes, text me.' },
    });
  });

  it('keeps everything typed when something is missing, and says what', async () => {
    const { tried } = mapping('date: give the day they agreed.');
    await userEvent.type(screen.getByRole('combobox', { name: 'List' }), 'Spring');
    await tried();
    expect((await screen.findByRole('alert')).textContent).toContain('give the day');
    expect(screen.getByRole('combobox', { name: 'List' })).toHaveProperty('value', 'Spring');
  });
});
