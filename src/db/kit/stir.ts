import type { Reading } from './scope';

/** What somebody who looks again and again wants to know first. */
export interface Stir {
  /**
   * What differs as soon as anything was written: which transactions are over (`pg_current_snapshot`). As long as it is the same, no
   * question to the database has another answer than before, but for those that ask by the clock.
   */
  mark: string;
  /** Any message waits only for an instant before the one that was asked for. */
  due: boolean;
}

/** `before` null: whoever asks sends nothing, and does not ask what is due. */
export const readStir = async (reading: Reading, before: Date | null): Promise<Stir> =>
  (
    await reading.rows<Stir & object>(
      `select pg_current_snapshot()::text as mark, :before::timestamptz is not null and exists (select 1 from workspace w where (
         select true from message m where m.workspace_id = w.id and m.not_before is not null and m.not_before <= :before::timestamptz limit 1)) as due`,
      { before },
    )
  )[0]!;
