import { addAddress, whoHas } from '@/db/people/addresses';
import type { Person } from '@/db/people/entities';
import { lockPerson } from '@/db/people/locks';
import type { Scope } from '@/db/kit/scope';

interface Made {
  id: string;
  chatId: string;
  /** The chat id where it is a phone number. */
  number: string | null;
  firstName: string | null;
  lastName: string | null;
  language: string | null;
  source: string;
  at: Date;
}

/** The person with this chat id, else with the number it is; made when there is none. Locked. */
export async function lockPersonByChat(scope: Scope, made: Made): Promise<Person> {
  // Two messages of one newcomer at a time make one person of them.
  await scope.rows(`select pg_advisory_xact_lock(hashtextextended(:workspace || ' chat ' || :chatId, 2))`, {
    chatId: made.chatId,
  });
  for (;;) {
    const [known] = await whoHas(scope, 'chat', made.chatId);
    const here = known === undefined ? null : await lockPerson(scope, known);
    if (here) return here;
    const [theirs] = made.number === null ? [] : await whoHas(scope, 'number', made.number);
    const id = theirs ?? made.id;
    if (theirs === undefined)
      await scope.run(
        `insert into person (id, workspace_id, first_name, last_name, language, source, created_at)
         values (:id, :workspace, :firstName, :lastName, :language, :source, :at)`,
        made as unknown as Record<string, string | Date | null>,
      );
    await addAddress(scope, { personId: id, kind: 'chat', value: made.chatId, at: made.at });
  }
}
