import type { ResultTable } from '@/core/results/table';
import { count, percent } from '@/ui/kit/numbers';
import { Section } from '@/ui/kit/page';

/** Columns whose numbers are shares. */
const isShare = (column: string): boolean => /share|low|high|^after \d/.test(column);

/** Tables of a report as they are exported, to be read. */
export function ResultTables({ tables }: { tables: readonly ResultTable[] }) {
  return tables.map(({ name, columns, rows }) => (
    <Section key={name} title={name.slice(0, 1).toUpperCase() + name.slice(1)}>
      {rows.length === 0 ? (
        <p className="text-soft">Nothing in these days.</p>
      ) : (
        <div className="overflow-x-auto">
          <table className="w-full text-sm" aria-label={name}>
            <thead>
              <tr className="border-b border-rule text-left text-soft">
                {columns.map((column, i) => (
                  <th key={column} scope="col" className={i === 0 ? 'py-1 pr-3' : 'py-1 pr-3 text-right'}>
                    {column}
                  </th>
                ))}
              </tr>
            </thead>
            <tbody>
              {rows.map((row, i) => (
                <tr key={i} className="border-b border-rule">
                  {row.map((cell, nth) => (
                    <td
                      key={columns[nth]}
                      className={nth === 0 ? 'py-1 pr-3' : 'py-1 pr-3 text-right tabular-nums'}
                    >
                      {shown(cell, columns[nth]!)}
                    </td>
                  ))}
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      )}
    </Section>
  ));
}

const shown = (cell: string | number | null, column: string): string => {
  if (cell === null) return '–';
  if (typeof cell === 'string') return cell;
  return isShare(column) ? percent(cell) : count(cell);
};
