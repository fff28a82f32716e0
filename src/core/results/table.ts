/** A table of results, as it is exported, sent and shared. Shares are between 0 and 1. */
export interface ResultTable {
  name: string;
  columns: string[];
  rows: (string | number | null)[][];
}
