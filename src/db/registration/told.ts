import type { ProgramFile } from '@/core/registration/file';
import { isCountedOn } from '@/core/registration/life';
import type { Scope } from '@/db/kit/scope';
import { Registration } from './entities';

/** What was told last; a change that is being judged was told after what is registered. */
export const lastTold = ({ told, change }: Registration): Registration['told'] => change?.told ?? told;

/** What reviewers were told of programs and count on, by program. Left out `id`: of all of them. */
export async function toldOfPrograms(
  scope: Scope,
  id?: string,
): Promise<{ id: string; state: Registration['state']; told: ProgramFile }[]> {
  const rows = await scope.em.find(Registration, {
    ...{ about: 'program', told: { $ne: null } },
    ...(id === undefined ? {} : { subject: id }),
  });
  return rows
    .filter(({ state }) => isCountedOn(state))
    .map((row) => ({ id: row.subject, state: row.state, told: lastTold(row) as ProgramFile }));
}
