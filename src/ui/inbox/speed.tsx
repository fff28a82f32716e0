import { count, percent } from '@/ui/kit/numbers';
import { timeLeft } from '@/ui/kit/time';

export interface SpeedRow {
  account_id: string | null;
  account: string | null;
  answered: number;
  closed: number;
  median: number | null;
  p95: number | null;
  in_time: number;
}

/** How soon people were answered, by teammate. */
export function Speed({ rows }: { rows: readonly SpeedRow[] }) {
  return (
    <table className="w-full text-sm" aria-label="How soon, by teammate">
      <thead>
        <tr className="border-b border-rule text-left text-soft">
          <th scope="col">By</th>
          <th scope="col" className="text-right">
            Answers
          </th>
          <th scope="col" className="text-right">
            Half within
          </th>
          <th scope="col" className="text-right">
            In time
          </th>
        </tr>
      </thead>
      <tbody>
        {rows.map((row) => (
          <tr key={row.account_id ?? ''} className="border-b border-rule">
            <th scope="row" className="py-1 text-left font-normal">
              {row.account ?? 'by key or rule'}
            </th>
            <td className="text-right tabular-nums">{count(row.answered)}</td>
            <td className="text-right tabular-nums">{row.median === null ? '' : timeLeft(row.median)}</td>
            <td className="text-right tabular-nums">
              {row.answered === 0 ? '' : percent(row.in_time / row.answered)}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}
