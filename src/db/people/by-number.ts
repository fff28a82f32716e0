import { whoHas } from '@/db/people/addresses';
import type { Person } from '@/db/people/entities';
import { lockPerson } from '@/db/people/locks';
import type { Scope } from '@/db/kit/scope';

/** The person with this number, whichever of theirs it is, made when there is none; locked so that their texts are taken one by one. */
export async function lockPersonByNumber(
  scope: Scope,
  made: {
    id: string;
    number: string;
    source: string;
    at: Date;
    region: string | null;
    zones: readonly string[];
  },
): Promise<Person> {
  for (;;) {
    const [id] = await whoHas(scope, 'number', made.number);
    if (id === undefined) {
      await scope.run(
        `insert into person (id, workspace_id, number, source, created_at, place_region, place_zones)
         values (:id, :workspace, :number, :source, :at, :region, :zones::text[])
         on conflict (workspace_id, number) do nothing`,
        made,
      );
      continue;
    }
    const person = await lockPerson(scope, id);
    // While we waited they may have been merged: the number is somebody else's then.
    if (person && (await whoHas(scope, 'number', made.number))[0] === id) return person;
  }
}
