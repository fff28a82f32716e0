import { GOT_STATES } from '@/core/audience/plan';
import { sqlList } from '@/db/kit/sql';
import type { Scope } from '@/db/kit/scope';

/** Notes that a send, or a line of a sequence, names items. */
export const writeAbout = (
  scope: Scope,
  { sendId, stepId }: { sendId: string; stepId: string },
  keys: readonly string[],
): Promise<number> =>
  scope.run(
    `insert into written_about (workspace_id, send_id, step_id, item_id)
     select :workspace, :sendId, :stepId, id from item where workspace_id = :workspace and key = any(:keys::text[]) on conflict do nothing`,
    { sendId, stepId, keys },
  );

/** Messages (`t`) of sends that named an item (`id`, SQL). */
export const namesItem = (id: string): string =>
  `exists (select 1 from written_about a where a.workspace_id = t.workspace_id and a.send_id = t.send_id and (a.step_id = '' or a.step_id = t.step_id) and a.item_id = ${id})`;

/** How many people were written to about each of these items. */
export const peopleTold = (
  scope: Scope,
  ids: readonly string[],
): Promise<{ item_id: string; people: number }[]> =>
  scope.rows(
    `select a.item_id, count(distinct t.person_id)::int as people
       from written_about a join message t on t.workspace_id = a.workspace_id and t.send_id = a.send_id and (a.step_id = '' or a.step_id = t.step_id)
      where a.workspace_id = :workspace and a.item_id = any(:ids::text[]) and t.state in (${sqlList([...GOT_STATES])}) group by 1`,
    { ids },
  );

/** Keys of numbers like `E12` that are given already. */
export const lastNumber = async (scope: Scope, letter: string): Promise<number> =>
  Number(
    (
      await scope.rows<{ n: string | null }>(
        `select max(substring(number from 2)::numeric) as n from item where workspace_id = :workspace and number ~ :pattern`,
        { pattern: `^${letter}[0-9]{1,9}$` },
      )
    )[0]?.n ?? 0,
  );
