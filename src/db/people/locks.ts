import { Person } from './entities';
import type { Scope } from '@/db/kit/scope';

/** Holds these people until the transaction ends, always in the order of their ids. What is read after is how they are now. */
export const lockPeople = (scope: Scope, ids: readonly string[]): Promise<object[]> =>
  scope.rows(
    `select id from person where workspace_id = :workspace and id = any(:ids::text[]) order by id for update`,
    { ids },
  );

/** One person, held; null: there is none. */
export async function lockPerson(scope: Scope, id: string): Promise<Person | null> {
  await lockPeople(scope, [id]);
  return scope.em.findOne(Person, { id }, { refresh: true });
}
