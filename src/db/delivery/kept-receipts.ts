import type { Crossing, Reading } from '../kit/scope';

/** Receipts that wait in their trouble to be stored. */
export const receiptsToTry = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string | null }[]> =>
  reading.rows(
    `select row_id as id, workspace_id from trouble t where queue = 'receipt' and detail is not null and ${untroubled} limit 100`,
    { at },
  );

/** The receipt as it was kept; null: it is kept no more. */
export const keptReceipt = async (crossing: Crossing, id: string): Promise<unknown> =>
  (
    await crossing.rows<{ detail: unknown }>(
      `select detail from trouble where queue = 'receipt' and row_id = :id`,
      { id },
    )
  )[0]?.detail ?? null;
