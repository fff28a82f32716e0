import { ok } from '@/core/shared/result';
import type { Consumer } from './kit/happenings';
import { takeStuck } from './kit/happenings';
import { asDue, type Queue } from './kit/trouble';
import { ROOMS } from './rooms';

/** Everybody who follows what happens to people. */
export const CONSUMERS: readonly Consumer[] = ROOMS.flatMap(({ consumers = [] }) => consumers);

/** Happenings that somebody could not take: each is tried again by itself, those of one person in their order. */
export const HAPPENING_QUEUE: Queue = {
  name: 'happening',
  rows: {
    named: `(select coalesce(p.number, p.email) from happening h join person p on p.id = h.person_id where h.workspace_id = :workspace and h.seq = split_part(x.row_id, ' ', 2)::bigint)`,
    waits: `true`,
  },
  everyMs: 1_000,
  due: async (reading, untroubled, at) =>
    asDue(
      await reading.rows(
        `select row_id as id, workspace_id from trouble t where queue = 'happening' and ${untroubled('t.row_id')}
          order by split_part(row_id, ' ', 2)::bigint limit 100`,
        { at },
      ),
    ),
  work: (ctx, { id, workspaceId }) => takeStuck(ctx, CONSUMERS, workspaceId!, id),
  // It stands in its trouble alone, which goes.
  giveUp: () => Promise.resolve(ok(null)),
  keepsTrouble: true,
};
