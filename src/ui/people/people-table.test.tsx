import { render, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { PeopleTable, type TableRow } from './people-table';
import { person } from '@/ui/testing/people';

const NAMES = {
  names: {
    ...{ lab_1: 'member', lab_2: 'school', lab_3: 'Open evening', prg_1: 'Clear Sky Alerts' },
    ...{ prg_2: 'Star Parties', stg_1: 'Asked', acc_1: 'Noor' },
  },
  lists: ['lab_3'],
  zone: 'America/Denver',
  now: Date.parse('2026-11-23T18:00:00Z'),
};

/** The words in one cell of one person's row. */
function cell(column: string, more: Partial<TableRow>): string {
  render(
    <PeopleTable
      {...{ names: NAMES, sort: '', allTicked: false, more: false, loading: false }}
      rows={[person(1, more)]}
      columns={[{ name: column, label: column, sortable: false }]}
      setSort={() => {}}
      ticked={new Set()}
      tick={() => {}}
      tickPage={() => {}}
      loadMore={() => {}}
    />,
  );
  return [...screen.getAllByRole('row').at(-1)!.querySelectorAll('td')].at(-1)!.textContent;
}

describe('a cell', () => {
  it.each<[string, Partial<TableRow>, string]>([
    ['tags', { label_ids: ['lab_2', 'lab_3', 'lab_1'] }, 'member, school'],
    ['lists', { label_ids: ['lab_2', 'lab_3'] }, 'Open evening'],
    ['stage', { stage_id: 'stg_1' }, 'Asked'],
    ['stage', {}, ''],
    ['owner', { owner_id: 'acc_1' }, 'Noor'],
    ['owner', { owner_id: 'acc_gone' }, 'somebody gone'],
    ['email', {}, ''],
    ['place', {}, 'CO'],
    ['line_type', { line_type: 'unknown' }, ''],
    ['line_type', { line_type: 'voip' }, 'voip'],
    ['number', {}, '(303) 555-0001'],
    ['number', { line_type: 'landline' }, '(303) 555-0001, landline'],
    ['number', { number_state: 'gone' }, '(303) 555-0001, out of service'],
    ['own.planet', { fields: { planet: 'Saturn' } }, 'Saturn'],
    ['own.planet', {}, ''],
    ['last_text', {}, ''],
    ['source', {}, 'keyword'],
  ])('of %s for %j says “%s”', (column, more, words) => expect(cell(column, more)).toBe(words));

  it.each<[Partial<TableRow>, string]>([
    [{ programs: [] }, 'none'],
    [{ programs: [{ id: 'prg_1', state: 'in' }] }, 'Clear Sky Alerts'],
    [{ programs: [{ id: 'prg_1', state: 'out' }] }, 'Clear Sky Alerts: left'],
    [{ programs: [{ id: 'prg_1', state: 'asked' }] }, 'Clear Sky Alerts: asked'],
    [{ stopped_at: '2026-11-01T00:00:00Z', programs: [{ id: 'prg_1', state: 'out' }] }, 'opted out of all'],
    [{ unclear_since: '2026-11-01T00:00:00Z', programs: [{ id: 'prg_1', state: 'in' }] }, 'unclear reply'],
  ])('of consent for %j says “%s”', (more, words) => expect(cell('programs', more)).toBe(words));

  it('of consent to two programs names those they are in', () => {
    const programs = [
      { id: 'prg_1', state: 'out' },
      { id: 'prg_2', state: 'in' },
    ];
    expect(cell('programs', { programs })).toBe('Star Parties');
  });
});
