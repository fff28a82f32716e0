import { PEOPLE_ERASURES } from '@/db/people/erase';
import { PEOPLE_OWNED } from '@/db/people/owned';
import { giveBackLabels, moveLabels } from '@/db/people/merge';
import type { Room } from '@/services/kit/room';
import { tellDatesReached } from './dates';
import { PEOPLE_API } from './api';
import { DUPLICATE_QUEUE } from './duplicates';

export const PEOPLE: Room = {
  name: 'people',
  finds: [
    {
      kind: 'person',
      table: 'person',
      at: '/people/',
      label: `coalesce(nullif(trim(coalesce(first_name, '') || ' ' || coalesce(last_name, '')), ''), number)`,
      where: 'merged_into is null and erased_at is null',
      fits: `(search like '%' || lower(:search) || '%' or (:digits <> '' and search like '%' || :digits || '%'))`,
    },
  ],
  queues: [DUPLICATE_QUEUE],
  ticks: [{ everyMs: 30_000, run: tellDatesReached }],
  api: PEOPLE_API,
  merge: (scope, of) => moveLabels(scope, of),
  unmerge: (scope, of, moved) => giveBackLabels(scope, of, moved as string[]),
  erasures: PEOPLE_ERASURES,
  owned: [PEOPLE_OWNED],
};
