import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { unnested, type Column } from './unnest';

interface Row {
  id: string;
  kind: string;
  at: Date | null;
}
const COLUMNS: readonly Column<Row>[] = [
  ['id', 'text', (row) => row.id],
  ['kind', 'text', (row) => row.kind],
  ['at', 'timestamptz', (row) => row.at],
];

/** What the statement would read of each row, by what it says of each column. */
function readBack(rows: readonly Row[]): unknown[][] {
  const { columns, values } = unnested(rows, COLUMNS);
  return rows.map((_, nth) =>
    columns.map((said, i) => {
      const list = values[`u${i}`];
      if (said.startsWith(':u')) return list;
      const value = (list as unknown[])[nth];
      return said.startsWith('u.') ? value : (values[`k${i}`] as unknown[])[(value as number) - 1];
    }),
  );
}

describe('rows that are added together', () => {
  it('are the same rows again, however much of them is alike', () => {
    const kind = fc.constantFrom('broadcast', 'answer', 'help');
    const at = fc.option(fc.constantFrom(new Date(0), new Date(1_000)));
    fc.assert(
      fc.property(fc.array(fc.record({ id: fc.string(), kind, at }), { minLength: 1 }), (rows) => {
        expect(readBack(rows)).toEqual(rows.map((row) => [row.id, row.kind, row.at]));
      }),
    );
  });

  it('write what is alike once, and what comes again as a list of what there is', () => {
    const rows = Array.from({ length: 40 }, (_, i) => ({
      ...{ id: `txt_${i}`, kind: i % 2 ? 'broadcast' : 'help', at: new Date(5) },
    }));
    const made = unnested(rows, COLUMNS);
    expect(made.rows).toBe('unnest(:u0::text[], :u1::int[]) as u (id, kind)');
    expect(made.columns).toEqual(['u.id', '(:k1::text[])[u.kind]', ':u2::timestamptz']);
    expect(made.values.k1).toEqual(['help', 'broadcast']);
    expect(made.values.u2).toEqual(new Date(5));
  });

  it('are as many as there are, also where all are alike', () => {
    const one = { id: 'a', kind: 'b', at: null };
    expect(unnested([one, one], COLUMNS)).toMatchObject({
      rows: 'unnest(:u0::text[]) as u (id)',
      values: { u0: ['a', 'a'], u1: 'b', u2: null },
    });
    expect(() => unnested([], COLUMNS)).toThrow();
  });
});
