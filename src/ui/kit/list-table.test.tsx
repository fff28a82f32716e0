import { render, screen, within } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { ListTable, sortRows, type ListColumn } from './list-table';

interface Star {
  name: string;
  brightness: number | null;
}
const STARS: Star[] = [
  { name: 'Vega', brightness: 0.03 },
  { name: 'Alcor', brightness: null },
  { name: 'star 10', brightness: 4 },
  { name: 'star 9', brightness: 1.5 },
];
const COLUMNS: ListColumn<Star>[] = [
  { title: 'Star', cell: ({ name }) => name, by: ({ name }) => name },
  {
    title: 'How bright',
    kind: 'number',
    cell: ({ brightness }) => brightness ?? 'unknown',
    by: ({ brightness }) => brightness,
  },
  { title: 'Forget', quiet: true, cell: () => <button>Forget</button> },
];

const table = (props: Partial<Parameters<typeof ListTable<Star>>[0]> = {}) =>
  render(
    <ListTable
      label="Stars"
      rows={STARS}
      columns={COLUMNS}
      rowKey={({ name }) => name}
      empty="No star yet."
      {...props}
    />,
  );

describe('rows are sorted', () => {
  it.each([
    [undefined, ['Vega', 'Alcor', 'star 10', 'star 9']],
    ['nothing', ['Vega', 'Alcor', 'star 10', 'star 9']],
    ['star', ['Alcor', 'star 9', 'star 10', 'Vega']],
    ['how-bright', ['Vega', 'star 9', 'star 10', 'Alcor']],
    // What is not known comes last either way.
    ['-how-bright', ['star 10', 'star 9', 'Vega', 'Alcor']],
  ])('by %s', (sort, names) => {
    expect(sortRows(STARS, COLUMNS, sort).map(({ name }) => name)).toEqual(names);
  });
});

describe('the list', () => {
  it('says what to do where there is nothing', () => {
    table({ rows: [] });
    expect(screen.getByText('No star yet.')).toBeTruthy();
    expect(screen.queryByRole('table')).toBeNull();
  });

  it('leads from a title to the other way round, and says which way it is sorted', () => {
    table({ sort: 'star', sortHref: (sort) => `?sort=${sort}` });
    const title = screen.getByRole('columnheader', { name: /Star/ });
    expect(title.getAttribute('aria-sort')).toBe('ascending');
    expect(within(title).getByRole('link').getAttribute('href')).toBe('?sort=-star');
    const other = screen.getByRole('columnheader', { name: 'How bright' });
    expect(other.getAttribute('aria-sort')).toBe('none');
  });

  it('carries the titles with the values, for narrow pages', () => {
    table();
    expect(
      screen
        .getAllByRole('cell')
        .map((cell) => cell.getAttribute('data-title'))
        .slice(0, 3),
    ).toEqual([...['Star', 'How bright', '']]);
  });

  it('leads to older rows where there are some', () => {
    table({ older: '?before=x' });
    expect(screen.getByRole('link', { name: 'Older ones' }).getAttribute('href')).toBe('?before=x');
  });
});
