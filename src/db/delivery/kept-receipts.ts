import type { Crossing, Scope } from '../kit/scope';

/** Receipts that wait in their trouble to be stored. */
export const receiptsToTry = async (
  crossing: Crossing,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspaceId: string | null }[]> =>
  (
    await crossing.rows<{ row_id: string; workspace_id: string | null }>(
      `select row_id, workspace_id from trouble t where queue = 'receipt' and detail is not null and ${untroubled} limit 100`,
      { at },
    )
  ).map(({ row_id: id, workspace_id: workspaceId }) => ({ id, workspaceId }));

/** The receipt as it was kept; null: it is kept no more. */
export const keptReceipt = async (crossing: Crossing, id: string): Promise<unknown> =>
  (
    await crossing.rows<{ detail: unknown }>(
      `select detail from trouble where queue = 'receipt' and row_id = :id`,
      { id },
    )
  )[0]?.detail ?? null;

/** It is due at once, set aside or not. */
export const receiptAgainNow = (scope: Scope, id: string, now: Date): Promise<number> =>
  scope.run(
    `update trouble set aside_at = null, next_try_at = :now where workspace_id = :workspace and queue = 'receipt' and row_id = :id`,
    { id, now },
  );
