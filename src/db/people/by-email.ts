import { whoHas } from '@/db/people/addresses';
import type { Person } from '@/db/people/entities';
import { lockPerson } from '@/db/people/locks';
import type { Scope } from '@/db/kit/scope';

/** The person with this e-mail address, of several the first; made when there is none. Locked. */
export async function lockPersonByEmail(
  scope: Scope,
  made: { id: string; email: string; source: string; at: Date },
): Promise<Person> {
  // Two letters of one newcomer at a time make one person of them.
  await scope.rows(`select pg_advisory_xact_lock(hashtextextended(:workspace || ' ' || :email, 1))`, {
    email: made.email,
  });
  const [known] = await whoHas(scope, 'email', made.email);
  const here = known === undefined ? null : await lockPerson(scope, known);
  if (here) return here;
  await scope.run(
    `insert into person (id, workspace_id, email, source, created_at) values (:id, :workspace, :email, :source, :at)`,
    made,
  );
  return (await lockPerson(scope, made.id))!;
}
