import { DAY } from '@/core/shared/instant';
import { dropOldArrivals } from '@/db/inquiries/arrivals';
import { giveBackInquiries, moveInquiries } from '@/db/inquiries/inquiries';
import { acrossWorkspaces } from '@/db/kit/scope';
import type { Room } from '@/services/kit/room';
import { INQUIRIES_API } from './api';
import { SAMPLES } from './sources';
import { ARRIVAL_QUEUE } from './take-arrival';
import { INQUIRY_MAILBOX } from './mailbox';
import { INQUIRIES_TELL } from './tell-teammate';

/** What came a quarter of a year ago says nothing of how a source sends today. */
const KEPT = 90 * DAY;

export const INQUIRIES: Room = {
  name: 'inquiries',
  finds: [{ kind: 'source', table: 'source', label: 'name', at: '/programs/inquiries/' }],
  queues: [ARRIVAL_QUEUE],
  consumers: [INQUIRIES_TELL],
  ticks: [
    {
      everyMs: DAY / 24,
      run: (ctx) =>
        acrossWorkspaces(ctx.orm, (crossing) =>
          dropOldArrivals(crossing, new Date(ctx.now() - KEPT), SAMPLES),
        ),
    },
  ],
  mailbox: INQUIRY_MAILBOX,
  api: INQUIRIES_API,
  merge: (scope, { keptId, goneId }) => moveInquiries(scope, keptId, goneId),
  unmerge: (scope, { goneId }, moved) =>
    giveBackInquiries(scope, goneId, (moved as string[] | undefined) ?? []),
  owned: [
    {
      words: ['inquiry', 'inquiries'],
      count: `select count(*)::int as n from inquiry where workspace_id = :workspace and account_id = :from`,
      move: `update inquiry set account_id = :to where workspace_id = :workspace and account_id = :from`,
    },
  ],
  erasures: [
    `delete from arrival a using inquiry i where i.arrival_id = a.id and a.workspace_id = :workspace and i.person_id = any(:ids::text[])`,
    // What could not be read belongs to nobody yet: whatever holds one of their addresses is theirs.
    `delete from arrival a where a.workspace_id = :workspace and exists (select 1 from unnest(:addresses::text[]) as u (value) where case when u.value like '%@%'
        then position(lower(u.value) in lower(a.content::text)) > 0 else position(right(regexp_replace(u.value, '\\D', '', 'g'), 10) in regexp_replace(a.content::text, '\\D', '', 'g')) > 0 end)`,
    `delete from inquiry where workspace_id = :workspace and person_id = any(:ids::text[])`,
  ],
};
