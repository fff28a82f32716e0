import type { Reading, Scope } from '../kit/scope';

/** Trials whose moment has come, those that wait longest first. */
export const dueTrials = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ id: string; workspace_id: string }[]> =>
  reading.rows(
    `select t.id, t.workspace_id from trial t where t.look_at <= :at and ${untroubled} order by t.look_at limit 100`,
    { at },
  );

/** What became of a message that a trial waits for. */
export interface TrialMessage {
  waits: boolean;
  submitted_at: Date | null;
  because: string | null;
}

export const trialMessage = async (scope: Scope, id: string): Promise<TrialMessage | null> => {
  const [row] = await scope.rows<TrialMessage>(
    `select not_before is not null or state = 'submitting' as waits, submitted_at,
            (select r ->> 'code' from jsonb_array_elements(clearance -> 'reasons') r where r ->> 'effect' = case state when 'blocked' then 'block' else 'hold' end limit 1) as because
       from message where workspace_id = :workspace and id = :id`,
    { id },
  );
  return row ?? null;
};

/** Somebody whose number this is, whether it is their first or another. */
export const personOfNumber = async (scope: Scope, number: string): Promise<string | null> => {
  const [row] = await scope.rows<{ person_id: string }>(
    `select a.person_id from address a join person p on p.id = a.person_id
      where a.workspace_id = :workspace and a.kind = 'number' and a.value = :number and p.merged_into is null and p.erased_at is null order by a.rank limit 1`,
    { number },
  );
  return row?.person_id ?? null;
};
