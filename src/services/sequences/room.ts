import { OF_ERASED } from '@/db/kit/erasure';
import { giveBackEnrolments, mergeEnrolments } from '@/db/sequences/merge';
import type { Room } from '@/services/kit/room';
import { SEQUENCES_API } from './api';
import { DATES_QUEUE } from './dates';
import { SEQUENCES_FOLLOW } from './follow';
import { TRIAL_QUEUE } from './run-trial';
import { restoreSequences } from './restored';
import { runDue, STUCK_ENROLMENTS } from './run';

export const SEQUENCES: Room = {
  name: 'sequences',
  finds: [{ kind: 'sequence', table: 'sequence', label: 'name', at: '/programs/sequences/' }],
  ticks: [{ everyMs: 200, run: runDue, wakes: true, follows: true }],
  queues: [TRIAL_QUEUE, DATES_QUEUE],
  waysOut: [STUCK_ENROLMENTS],
  consumers: [SEQUENCES_FOLLOW],
  restored: restoreSequences,
  api: SEQUENCES_API,
  merge: (scope, of) => mergeEnrolments(scope, of),
  unmerge: (scope, { goneId }, moved) =>
    giveBackEnrolments(scope, goneId, (moved as string[] | undefined) ?? []),
  erasures: [`delete from enrolment where ${OF_ERASED}`, `delete from trial where ${OF_ERASED}`],
};
