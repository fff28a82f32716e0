import { Empty } from './page';
import { Link } from './link';

export interface ListColumn<Row> {
  title: string;
  cell(row: Row): React.ReactNode;
  /** Numbers stand on the right, in figures of one width; instants do not break. */
  kind?: 'number' | 'when' | 'act';
  /** What rows are sorted by; left out: this column sorts nothing. Null comes last either way. */
  by?(row: Row): string | number | null;
  /** The title is read out only: its cells say what they are. */
  quiet?: true;
}

/** Which column rows are sorted by: its title in lower case with dashes, a minus before it for the other way round. */
export type ListSort = string;

const keyOf = (title: string): string => title.toLowerCase().replace(/[^a-z0-9]+/g, '-');

/** Rows in the order of a column; as they came where it is none of the columns. */
export function sortRows<Row>(
  rows: readonly Row[],
  columns: readonly ListColumn<Row>[],
  sort: ListSort | undefined,
): readonly Row[] {
  const down = sort?.startsWith('-') ?? false;
  const by = columns.find(({ title }) => keyOf(title) === sort?.replace(/^-/, ''))?.by;
  if (!by) return rows;
  return [...rows].sort((a, b) => {
    const [one, other] = [by(a), by(b)];
    if (one === null || other === null) return Number(one === null) - Number(other === null);
    const order =
      typeof one === 'number' && typeof other === 'number'
        ? one - other
        : String(one).localeCompare(String(other), 'en', { numeric: true });
    return down ? -order : order;
  });
}

/**
 * The one table for lists: columns, sorting, what to do where there is nothing, and the way to older rows. Below 640
 * pixels each row becomes a few lines with the titles beside the values; what it is for readers of the screen stays.
 */
export function ListTable<Row>({
  label,
  rows,
  columns,
  rowKey,
  empty,
  sort,
  sortHref,
  older,
}: {
  /** What the rows are, for who hears the page. */
  label: string;
  rows: readonly Row[];
  columns: readonly ListColumn<NoInfer<Row>>[];
  rowKey(row: Row): string;
  /** What to do first where there is nothing yet. */
  empty: React.ReactNode;
  sort?: ListSort | undefined;
  /** Where sorting by a column leads; left out: nothing can be sorted. */
  sortHref?(sort: ListSort): string;
  /** Where the rows before the last one are; null: these are all. */
  older?: string | null;
}) {
  if (rows.length === 0) return <Empty>{empty}</Empty>;
  return (
    <>
      <table className="list-table w-full" role="table" aria-label={label}>
        <thead role="rowgroup">
          <tr role="row">
            {columns.map((column) => (
              <Title key={column.title} column={column} sort={sort} sortHref={sortHref} />
            ))}
          </tr>
        </thead>
        <tbody role="rowgroup">
          {sortRows(rows, columns, sort).map((row) => (
            <tr key={rowKey(row)} role="row">
              {columns.map(({ title, kind, quiet, cell }) => (
                <td
                  key={title}
                  role="cell"
                  className={kind === 'number' ? 'n' : kind === 'when' ? 'whitespace-nowrap text-soft' : ''}
                  data-title={quiet ? '' : title}
                >
                  <span className="list-cell">{cell(row)}</span>
                </td>
              ))}
            </tr>
          ))}
        </tbody>
      </table>
      {older && (
        <p className="mt-4">
          <Link className="button" href={older}>
            Older ones
          </Link>
        </p>
      )}
    </>
  );
}

function Title<Row>({
  column: { title, kind, by, quiet },
  sort,
  sortHref,
}: {
  column: ListColumn<Row>;
  sort: ListSort | undefined;
  sortHref: ((sort: ListSort) => string) | undefined;
}) {
  const key = keyOf(title);
  const way = sort === key ? 'ascending' : sort === `-${key}` ? 'descending' : undefined;
  return (
    <th
      role="columnheader"
      className={kind === 'number' ? 'n' : ''}
      aria-sort={by && sortHref ? (way ?? 'none') : undefined}
    >
      {quiet ? (
        <span className="sr-only">{title}</span>
      ) : by && sortHref ? (
        <Link
          href={sortHref(way === 'ascending' ? `-${key}` : key)}
          scroll={false}
          className="text-soft no-underline hover:underline"
        >
          {title}
          {way && <span aria-hidden="true">{way === 'ascending' ? ' ↑' : ' ↓'}</span>}
        </Link>
      ) : (
        title
      )}
    </th>
  );
}
