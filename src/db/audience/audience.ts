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
  { programId, channels }: { programId: string; channels: readonly Channel[] },
  after: string,
  most: number,
): Promise<string[]> {
  const rows = await scope.rows<{ person_id: string }>(
    `select distinct person_id from (${walks(channels)}) as joined order by person_id limit :most`,
    { programId, after, most },
  );
  return rows.map((row) => row.person_id);
}

/** How many there are of them. */
export async function countAudience(
  scope: Scope,
  { programId, channels }: { programId: string; channels: readonly Channel[] },
): Promise<number> {
  const [row] = await scope.rows<{ n: number }>(
    `select count(distinct c.person_id)::int as n from consent_state c join person p on p.id = c.person_id
      where c.workspace_id = :workspace and c.program_id = :programId and c.channel = any(:by) and c.current
        and (c.state = 'asked' or c.was_in) and p.merged_into is null and p.erased_at is null`,
    { programId, by: joinedBy(channels) },
  );
  return row!.n;
}

const joinedBy = (channels: readonly Channel[]): Channel[] => [
  ...new Set(channels.flatMap((channel) => JOINED_BY[channel])),
];

/**
 * One walk for each state and channel: the index is in the order of the people within them. They stand there as words,
 * so that the planner knows which are rare, and whether somebody still counts is asked one by one: joined, both
 * tables would be walked whole for every page.
 */
const walks = (channels: readonly Channel[]): string =>
  joinedBy(channels)
    .flatMap((by) =>
      RECORDED_STATES.map(
        (state) => `(select c.person_id from consent_state c
          where c.workspace_id = :workspace and c.program_id = :programId and c.channel = '${by}' and c.current and c.state = '${state}'
            and ${state === 'asked' ? 'true' : 'c.was_in'} and c.person_id > :after
            and (select p.merged_into is null and p.erased_at is null from person p where p.id = c.person_id)
          order by c.person_id limit :most)`,
      ),
    )
    .join(' union all ');

/** By which channels people joined whom a channel may reach; whether it may is for clearance to say. */
const JOINED_BY: Record<Channel, readonly Channel[]> = {
  sms: ['sms'],
  email: ['sms', 'email', 'chat'],
  chat: ['chat'],
  voicemail: ['voicemail'],
};

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

/** Of these people, who are in a program by a channel and, where there is one, in a cut. */
export async function membersAmong(
  scope: Scope,
  {
    ids,
    programId,
    channel,
    cut,
  }: { ids: readonly string[]; programId: string; channel: Channel; cut: Cut | null },
): Promise<string[]> {
  const { where, values } = cut ? whereOf(cut) : { where: 'p.workspace_id = :workspace', values: {} };
  const rows = await scope.rows<{ id: string }>(
    `select p.id from person p where ${where} and p.id = any(:among::text[]) and exists (
       select 1 from consent_state c where c.workspace_id = :workspace and c.person_id = p.id and c.program_id = :ofProgram
          and c.channel = :byChannel and c.current and c.state = 'in')`,
    { ...values, among: ids, ofProgram: programId, byChannel: channel },
  );
  return rows.map(({ id }) => id);
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
