import type { BatchRow } from '@/db/batches/batches';
import { iso } from '@/services/kit/views';

export const batchView = (row: BatchRow) => ({
  id: row.id,
  name: row.name,
  action: row.action,
  state: row.state,
  total: row.total,
  done: row.cursor - row.failed,
  failed: row.failed,
  starts_at: iso(row.start_at),
  finished_at: iso(row.finished_at),
});
