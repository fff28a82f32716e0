import { OF_ERASED } from '@/db/kit/erasure';
import { giveBackAskings, moveAskings } from '@/db/questions/askings';
import type { Room } from '@/services/kit/room';
import { ASKING_QUEUE, QUESTIONS_FOLLOW, restoreAskings } from './after-silence';
import { QUESTIONS_API } from './api';

export const QUESTIONS: Room = {
  name: 'questions',
  queues: [ASKING_QUEUE],
  consumers: [QUESTIONS_FOLLOW],
  restored: restoreAskings,
  api: QUESTIONS_API,
  merge: (scope, of) => moveAskings(scope, of),
  unmerge: (scope, { goneId }, moved) =>
    giveBackAskings(scope, goneId, (moved as { askings?: string[]; links?: string[] } | undefined) ?? {}),
  erasures: [`delete from personal_link where ${OF_ERASED}`, `delete from asking where ${OF_ERASED}`],
};
