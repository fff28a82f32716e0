import type { Channel } from '@/core/message/channel';
import { RECORDED_STATES } from '@/core/consent/ledger';
import type { Scope } from '@/db/kit/scope';
import { whereOf, type Cut } from './cut';

/**
 * Everybody who ever joined a program, whatever became of it: clearance says of each why they get a message or
 * not, so that those who left stand in the report and not just outside it. E-mail may go to members by text too.
 */
export async function audiencePage(
  scope: Scope,
  { programId, channel }: { programId: string; channel: Channel },
  after: string,
  most: number,
): Promise<string[]> {
  // One walk for each state: the index is in the order of the people within a state.
  const rows = await scope.rows<{ person_id: string }>(
    `select distinct of_state.person_id from unnest(:states::text[]) as s (state) cross join unnest(:channels::text[]) as h (channel) cross join lateral (
       select c.person_id from consent_state c join person p on p.id = c.person_id and p.merged_into is null and p.erased_at is null
        where c.workspace_id = :workspace and c.program_id = :programId and c.channel = h.channel and c.current and c.state = s.state
          and (c.was_in or c.state = 'asked') and c.person_id > :after
        order by c.person_id limit :most) as of_state
      order by of_state.person_id limit :most`,
    { programId, channels: JOINED_BY[channel], after, most, states: RECORDED_STATES },
  );
  return rows.map((row) => row.person_id);
}

/** By which channels people joined whom a channel may reach; whether it may is for clearance to say. */
const JOINED_BY: Record<Channel, readonly Channel[]> = { sms: ['sms'], email: ['sms', 'email'] };

/** People of a cut in the order of their ids. */
export async function cutPage(scope: Scope, cut: Cut, after: string, most: number): Promise<string[]> {
  const { where, values } = whereOf(cut);
  const rows = await scope.rows<{ id: string }>(
    `select p.id from person p where ${where} and p.id > :after order by p.id limit :most`,
    { ...values, after, most },
  );
  return rows.map((row) => row.id);
}

/** Whether one person is in a cut. */
export async function isInCut(scope: Scope, cut: Cut, personId: string): Promise<boolean> {
  const { where, values } = whereOf(cut);
  const rows = await scope.rows(`select 1 from person p where ${where} and p.id = :personId`, {
    ...values,
    personId,
  });
  return rows.length > 0;
}

/** Writes down whom a broadcast means at the moment it begins. */
export async function freezeAudience(scope: Scope, broadcastId: string, cut: Cut): Promise<number> {
  const { where, values } = whereOf(cut);
  return scope.run(
    `insert into broadcast_person (workspace_id, broadcast_id, person_id)
     select :workspace, :broadcastId, p.id from person p where ${where} on conflict do nothing`,
    { ...values, broadcastId },
  );
}

export async function frozenPage(
  scope: Scope,
  broadcastId: string,
  after: string,
  most: number,
): Promise<string[]> {
  const rows = await scope.rows<{ person_id: string }>(
    `select person_id from broadcast_person where workspace_id = :workspace and broadcast_id = :broadcastId and person_id > :after order by person_id limit :most`,
    { broadcastId, after, most },
  );
  return rows.map((row) => row.person_id);
}
