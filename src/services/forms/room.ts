import { DAY } from '@/core/shared/instant';
import { dropOldVisits } from '@/db/forms/visits';
import { giveBackSubmissions, moveSubmissions } from '@/db/forms/submissions';
import { acrossWorkspaces } from '@/db/kit/scope';
import type { Room } from '@/services/kit/room';
import { FORMS_API } from './api';
import { SUBMISSION_QUEUE } from './ask-for-proof';

/** Who looked at a form a quarter of a year ago says nothing of today. */
const KEPT = 90 * DAY;

export const FORMS: Room = {
  name: 'forms',
  finds: [{ kind: 'form', table: 'form', label: 'name', at: '/programs/forms/' }],
  queues: [SUBMISSION_QUEUE],
  ticks: [
    {
      everyMs: DAY / 24,
      run: (ctx) =>
        acrossWorkspaces(ctx.orm, (crossing) => dropOldVisits(crossing, new Date(ctx.now() - KEPT))),
    },
  ],
  api: FORMS_API,
  merge: (scope, { keptId, goneId }) => moveSubmissions(scope, keptId, goneId),
  unmerge: (scope, { goneId }, moved) =>
    giveBackSubmissions(scope, goneId, (moved as string[] | undefined) ?? []),
  erasures: [
    `delete from form_visit v using submission s where s.form_id = v.form_id and s.press = v.press and v.workspace_id = :workspace and s.person_id = any(:ids::text[])`,
    `delete from submission where workspace_id = :workspace and (person_id = any(:ids::text[]) or number = any(:addresses::text[]))`,
  ],
};
