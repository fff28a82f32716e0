import type { Crossing } from '@/db/kit/scope';

/** Visits from before an instant are forgotten, some at a time. */
export const dropOldVisits = (crossing: Crossing, before: Date): Promise<number> =>
  crossing.run(
    `delete from form_visit where (form_id, press) in (select form_id, press from form_visit where opened_at < :before limit 5000)`,
    { before },
  );
