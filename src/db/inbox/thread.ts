import type { WaitsWhy } from '@/core/inbox/waiting';
import type { DutyHours } from '@/core/inquiry/on-duty';
import type { Channel } from '@/core/message/channel';
import { withWords } from '@/db/delivery/bundles';
import type { Crossing, Scope } from '@/db/kit/scope';

/** What came from people, as far as it says why they wait. */
export interface CameRow {
  id: string;
  person_id: string;
  meaning: string;
  body: string;
  near_keyword: string | null;
  channel: Channel;
  sender_id: string | null;
  at: Date;
  files: number;
  after_channel: string | null;
  after_body: string | null;
  program_id: string | null;
  /** Whether a human still has to look. */
  waits: boolean;
}

export async function whatCame(scope: Scope, ids: readonly string[]): Promise<CameRow[]> {
  const rows = await scope.rows<CameRow & { after_id: string | null; bundle_id: string | null }>(
    `select i.id, i.person_id, i.meaning, i.body, i.near_keyword, i.channel, i.sender_id, i.at, m.channel as after_channel, m.id as after_id, m.body as after_body, m.bundle_id, m.program_id,
            (select count(*)::int from media_file f where f.workspace_id = i.workspace_id and f.arrived_as = i.carrier_id) as files, p.waiting_since is not null as waits
       from inbound_text i join person p on p.workspace_id = i.workspace_id and p.id = i.person_id left join message m on m.workspace_id = i.workspace_id and m.id = i.after_text_id
      where i.workspace_id = :workspace and i.id = any(:ids::text[]) order by i.at, i.id`,
    { ids: [...ids] },
  );
  const after = rows.flatMap(({ after_id: id, after_body: body, bundle_id }) =>
    id === null ? [] : [{ id, body: body ?? '', bundle_id }],
  );
  const words = new Map((await withWords(scope, after, 'tell')).map(({ id, body }) => [id, body]));
  return rows.map(({ after_id: id, bundle_id: _, ...row }) => ({
    ...row,
    after_body: id === null ? null : words.get(id)!,
  }));
}

export interface WhyRow {
  personId: string;
  why: WaitsWhy | null;
  at: Date;
  channel: Channel;
  senderId: string | null;
  programId: string | null;
}

/** Keeps why people wait, and what they last wrote on; what they wrote to and under stays where it is not known anew. */
export const keepWhy = (scope: Scope, rows: readonly WhyRow[]): Promise<number> =>
  scope.run(
    `insert into thread (workspace_id, person_id, why, why_at, channel, sender_id, program_id)
     select :workspace, u.* from unnest(:people::text[], :whys::text[], :ats::timestamptz[], :channels::text[], :senders::text[], :programs::text[]) as u
     on conflict (workspace_id, person_id) do update set why = excluded.why, why_at = excluded.why_at, channel = excluded.channel,
        sender_id = coalesce(excluded.sender_id, thread.sender_id), program_id = coalesce(excluded.program_id, thread.program_id)`,
    {
      people: rows.map(({ personId }) => personId),
      whys: rows.map(({ why }) => why),
      ats: rows.map(({ at }) => at),
      channels: rows.map(({ channel }) => channel),
      senders: rows.map(({ senderId }) => senderId),
      programs: rows.map(({ programId }) => programId),
    },
  );

/** Who waits, and of whom nobody knows why yet: by what they wrote last, or by an inquiry after it. Some of each workspace. */
export const withoutWhy = (
  crossing: Crossing,
  most: number,
): Promise<{ workspace_id: string; person_id: string; inbound_id: string | null; inquired: boolean }[]> =>
  crossing.rows(
    `select p.workspace_id, p.id as person_id, i.id as inbound_id, coalesce(q.at > coalesce(i.at, '-infinity'), false) as inquired
       from person p left join thread t on t.workspace_id = p.workspace_id and t.person_id = p.id
       left join lateral (select id, at from inbound_text where workspace_id = p.workspace_id and person_id = p.id and meaning <> 'automatic' order by at desc, id desc limit 1) i on true
       left join lateral (select at from inquiry where workspace_id = p.workspace_id and person_id = p.id order by at desc limit 1) q on true
      where p.waiting_since is not null and t.why is null and p.merged_into is null and p.erased_at is null
      order by row_number() over (partition by p.workspace_id order by p.id), p.workspace_id limit :most`,
    { most },
  );

/** Answers by hand that did not arrive, of these messages. */
export const answersLost = (
  scope: Scope,
  ids: readonly string[],
): Promise<{ person_id: string; channel: Channel; sender_id: string | null; program_id: string }[]> =>
  scope.rows(
    `select person_id, channel, sender_id, program_id from message where workspace_id = :workspace and id = any(:ids::text[]) and kind = 'answer' and state = 'failed' order by id`,
    { ids: [...ids] },
  );

/** A human is to look at them. */
export const letWait = (scope: Scope, people: readonly string[], at: Date): Promise<number> =>
  scope.run(
    `update person set waiting_since = coalesce(waiting_since, :at) where workspace_id = :workspace and id = any(:people::text[]) and erased_at is null`,
    { people: [...people], at },
  );

/** Nothing waits and nothing is put off; `at`: a human is through with it, null: nobody was. */
export const settleWhy = (scope: Scope, personId: string, at: Date | null): Promise<number> =>
  scope.run(
    `insert into thread (workspace_id, person_id, done_at) values (:workspace, :personId, :at)
     on conflict (workspace_id, person_id) do update set why = null, why_at = null, later_until = null, later_why = null, later_since = null, later_told = false,
        done_at = coalesce(:at, thread.done_at)`,
    { personId, at },
  );

/** Whose a thread is from now on; null: nobody’s but whom the person belongs to. */
export const giveTo = (
  scope: Scope,
  people: readonly string[],
  accountId: string | null,
  at: Date,
): Promise<number> =>
  scope.run(
    `insert into thread (workspace_id, person_id, account_id, given_at) select :workspace, u, :accountId, :at from unnest(:people::text[]) as u
     on conflict (workspace_id, person_id) do update set account_id = :accountId, given_at = :at`,
    { people: [...people], accountId, at },
  );

/** Everything of one teammate that waits or is put off is another’s. Gives how many. */
export const handOverAll = async (
  scope: Scope,
  { from, to, at }: { from: string; to: string; at: Date },
): Promise<string[]> => {
  const rows = await scope.rows<{ person_id: string }>(
    `insert into thread (workspace_id, person_id, account_id, given_at)
     select p.workspace_id, p.id, :to, :at from person p left join thread t on t.workspace_id = p.workspace_id and t.person_id = p.id
      where p.workspace_id = :workspace and coalesce(t.account_id, p.owner_id) = :from and (p.waiting_since is not null or t.later_until is not null)
     on conflict (workspace_id, person_id) do update set account_id = :to, given_at = :at returning person_id`,
    { from, to, at },
  );
  return rows.map(({ person_id: id }) => id);
};

export const putOffUntil = (
  scope: Scope,
  personId: string,
  { until, why, at }: { until: Date; why: 'later' | 'no-answer'; at: Date },
): Promise<number> =>
  scope.run(
    `insert into thread (workspace_id, person_id, later_until, later_why, later_since) values (:workspace, :personId, :until, :why, :at)
     on conflict (workspace_id, person_id) do update set later_until = :until, later_why = :why, later_since = :at, later_told = false`,
    { personId, until, why, at },
  );

/** Teammates who answer, with how many wait for each, and who got the last thread that was given in turn. */
export const answerers = (
  scope: Scope,
): Promise<{ id: string; hours: DutyHours[]; away_until: Date | null; open: number }[]> =>
  scope.rows(
    `select m.account_id as id, m.duty as hours, m.away_until,
            (select count(*)::int from thread t join person p on p.workspace_id = t.workspace_id and p.id = t.person_id and p.waiting_since is not null
              where t.workspace_id = m.workspace_id and t.account_id = m.account_id) as open
       from membership m where m.workspace_id = :workspace and m.role <> 'counter' order by m.account_id`,
  );

export const lastGiven = async (scope: Scope): Promise<string | null> =>
  (
    await scope.rows<{ account_id: string }>(
      `select account_id from thread where workspace_id = :workspace and account_id is not null order by given_at desc nulls last limit 1`,
    )
  )[0]?.account_id ?? null;

/** Workspaces in which threads are back from being put off, and nobody was told yet. */
export const backIn = async (crossing: Crossing, at: Date): Promise<string[]> =>
  (
    await crossing.rows<{ workspace_id: string }>(
      `select distinct workspace_id from thread where later_until <= :at and not later_told`,
      { at },
    )
  ).map((row) => row.workspace_id);

/** Threads that are back from being put off, and of which nobody was told yet. */
export const comesBack = (
  scope: Scope,
  at: Date,
): Promise<{ person_id: string; account_id: string | null }[]> =>
  scope.rows(
    `update thread t set later_told = true from person p
      where t.workspace_id = :workspace and t.later_until <= :at and not t.later_told and p.workspace_id = t.workspace_id and p.id = t.person_id
      returning t.person_id, coalesce(t.account_id, p.owner_id) as account_id`,
    { at },
  );

/** Who else writes an answer to somebody now. */
export const othersWriting = (
  scope: Scope,
  { personId, accountId, since }: { personId: string; accountId: string; since: Date },
): Promise<{ name: string }[]> =>
  scope.rows(
    `select a.name from unfinished u join account a on a.id = u.account_id
      where u.workspace_id = :workspace and u.place = 'answer:' || :personId and u.account_id <> :accountId and u.at > :since order by a.name`,
    { personId, accountId, since },
  );

/** Answers by others that the writer of one had not seen. */
export const answeredSince = async (
  scope: Scope,
  { personId, accountId, since }: { personId: string; accountId: string | null; since: Date },
): Promise<string | null> =>
  (
    await scope.rows<{ name: string }>(
      `select a.name from message m join account a on a.id = m.created_by
        where m.workspace_id = :workspace and m.person_id = :personId and m.kind = 'answer' and m.state <> 'cancelled' and m.created_at > :since and m.created_by is distinct from :accountId::text
        order by m.created_at desc limit 1`,
      { personId, accountId, since },
    )
  )[0]?.name ?? null;

/** An answer that has not left yet and can be taken back by who wrote it. */
export const answerOnItsWay = async (
  scope: Scope,
  { personId, accountId, at }: { personId: string; accountId: string; at: Date },
): Promise<{ id: string; not_before: Date; body: string } | null> =>
  (
    await scope.rows<{ id: string; not_before: Date; body: string }>(
      `select id, not_before, body from message where workspace_id = :workspace and person_id = :personId and kind = 'answer' and state = 'queued' and created_by = :accountId
          and not_before > :at order by created_at desc limit 1`,
      { personId, accountId, at },
    )
  )[0] ?? null;

export interface NoteRow {
  id: string;
  body: string;
  at: Date;
  account_id: string | null;
  account: string | null;
}

export const notesOf = (scope: Scope, personId: string): Promise<NoteRow[]> =>
  scope.rows<NoteRow>(
    `select n.id, n.body, n.at, n.account_id, a.name as account from thread_note n left join account a on a.id = n.account_id
      where n.workspace_id = :workspace and n.person_id = :personId order by n.at desc limit 200`,
    { personId },
  );

/** Notes and turns go along when somebody is merged; of two threads the kept one's stands. */
export async function moveThread(scope: Scope, keptId: string, goneId: string): Promise<string[]> {
  const moved = await scope.rows<{ id: string }>(
    `update thread_note set person_id = :keptId where workspace_id = :workspace and person_id = :goneId returning id`,
    { keptId, goneId },
  );
  await scope.run(
    `insert into thread (workspace_id, person_id, account_id, given_at, why, why_at, channel, sender_id, program_id)
     select workspace_id, :keptId, account_id, given_at, why, why_at, channel, sender_id, program_id from thread where workspace_id = :workspace and person_id = :goneId
     on conflict (workspace_id, person_id) do update set account_id = coalesce(thread.account_id, excluded.account_id), why = coalesce(thread.why, excluded.why)`,
    { keptId, goneId },
  );
  return moved.map(({ id }) => id);
}

export const giveBackNotes = (scope: Scope, goneId: string, ids: readonly string[]): Promise<number> =>
  scope.run(
    `update thread_note set person_id = :goneId where workspace_id = :workspace and id = any(:ids::text[])`,
    {
      goneId,
      ids: [...ids],
    },
  );
