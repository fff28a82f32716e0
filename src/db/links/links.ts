import type { Channel } from '@/core/message/channel';
import type { Device, RobotSign } from '@/core/link/visit';
import { HERE } from '../delivery/text-moves';
import type { Crossing, Scope } from '../kit/scope';

/** Our own addresses for the links of a letter, by what they lead to. Asked again, they are the same. */
export async function linksFor(
  scope: Scope,
  messageId: string,
  links: readonly { code: string; url: string }[],
): Promise<Map<string, string>> {
  if (links.length === 0) return new Map();
  await scope.run(
    `insert into short_link (code, workspace_id, message_id, url)
     select u.code, :workspace, :messageId, u.url from unnest(:codes::text[], :urls::text[]) as u (code, url) on conflict do nothing`,
    { messageId, codes: links.map(({ code }) => code), urls: links.map(({ url }) => url) },
  );
  const rows = await scope.rows<{ code: string; url: string }>(
    `select code, url from short_link where workspace_id = :workspace and message_id = :messageId`,
    { messageId },
  );
  return new Map(rows.map(({ code, url }) => [url, code]));
}

/** The targets of a send by what was written, each made once. Where one was changed since, the row is the same. */
export async function targetsFor(
  scope: Scope,
  sendId: string,
  wanted: readonly { id: string; url: string }[],
  at: Date,
): Promise<Map<string, string>> {
  if (wanted.length === 0) return new Map();
  const urls = wanted.map(({ url }) => url);
  await scope.run(
    `insert into link_target (id, workspace_id, send_id, written, url, created_at)
     select u.id, :workspace, :sendId, u.url, u.url, :at from unnest(:ids::text[], :urls::text[]) as u (id, url) on conflict do nothing`,
    { sendId, at, ids: wanted.map(({ id }) => id), urls },
  );
  const rows = await scope.rows<{ id: string; written: string }>(
    `select id, written from link_target where workspace_id = :workspace and send_id = :sendId and written = any(:urls::text[])`,
    { sendId, urls },
  );
  return new Map(rows.map(({ id, written }) => [written, id]));
}

/** Codes of messages that were queued. One whose message was not (somebody has it already) is left out. */
export const insertCodes = (
  scope: Scope,
  codes: readonly { code: string; messageId: string; targetId: string }[],
): Promise<number> =>
  scope.run(
    `insert into short_link (code, workspace_id, message_id, target_id)
     select u.code, :workspace, u.message_id, u.target_id from unnest(:codes::text[], :messages::text[], :targets::text[]) as u (code, message_id, target_id)
      where exists (select 1 from message t where t.id = u.message_id and ${HERE})`,
    {
      codes: codes.map(({ code }) => code),
      messages: codes.map(({ messageId }) => messageId),
      targets: codes.map(({ targetId }) => targetId),
    },
  );

export interface LinkRow {
  code: string;
  url: string;
  workspace_id: string;
  message_id: string;
  person_id: string;
  channel: Channel;
  submitted_at: Date | null;
}

/** Where codes lead, and whose they are. One that is none's is not among them. */
export const linksByCode = (crossing: Crossing, codes: readonly string[]): Promise<LinkRow[]> =>
  crossing.rows<LinkRow>(
    `select l.code, coalesce(t.url, l.url) as url, l.workspace_id, l.message_id, m.person_id, m.channel, m.submitted_at
       from short_link l join message m on m.id = l.message_id left join link_target t on t.id = l.target_id where l.code = any(:codes::text[])`,
    { codes },
  );

export interface NewVisit {
  link: LinkRow;
  device: Device;
  robot: RobotSign | null;
}

/** Keeps visits; those that are somebody's count as theirs. */
export const insertVisits = (crossing: Crossing, visits: readonly NewVisit[], at: Date): Promise<number> =>
  crossing.run(
    `with came as (select * from unnest(:codes::text[], :workspaces::text[], :messages::text[], :people::text[], :devices::text[], :robots::text[])
       as u (code, workspace_id, message_id, person_id, device, robot)),
     kept as (insert into link_visit (workspace_id, code, message_id, at, device, robot)
       select workspace_id, code, message_id, :at, device, robot from came)
     insert into engagement (workspace_id, person_id, kind, text_id, at)
     select workspace_id, person_id, 'clicked', message_id, :at from came where robot is null`,
    {
      at,
      codes: visits.map(({ link }) => link.code),
      workspaces: visits.map(({ link }) => link.workspace_id),
      messages: visits.map(({ link }) => link.message_id),
      people: visits.map(({ link }) => link.person_id),
      devices: visits.map(({ device }) => device),
      robots: visits.map(({ robot }) => robot),
    },
  );

export interface TargetRow {
  id: string;
  written: string;
  url: string;
  /** Messages with it that left. */
  sent: number;
  people: number;
  visits: number;
  phones: number;
  tablets: number;
  computers: number;
  robots: number;
}

/** The links of a send, with who came by them. */
export const targetsOf = (scope: Scope, sendId: string): Promise<TargetRow[]> =>
  scope.rows<TargetRow>(
    `select t.id, t.written, t.url, count(distinct l.message_id) filter (where m.submitted_at is not null)::int as sent,
            count(distinct l.message_id) filter (where v.robot is null and v.id is not null)::int as people,
            count(v.id) filter (where v.robot is null)::int as visits,
            count(v.id) filter (where v.robot is null and v.device = 'phone')::int as phones,
            count(v.id) filter (where v.robot is null and v.device = 'tablet')::int as tablets,
            count(v.id) filter (where v.robot is null and v.device in ('computer', 'unknown'))::int as computers,
            count(v.id) filter (where v.robot is not null)::int as robots
       from link_target t join short_link l on l.target_id = t.id join message m on m.id = l.message_id left join link_visit v on v.message_id = l.message_id and v.code = l.code
      where t.workspace_id = :workspace and t.send_id = :sendId group by t.id order by t.created_at, t.id`,
    { sendId },
  );

/** What was written about somebody's links. */
export const LINKS_ERASURES = ['link_visit', 'short_link'].map(
  (table) =>
    `delete from ${table} where workspace_id = :workspace and message_id in (select id from message where workspace_id = :workspace and person_id = any(:ids::text[]))`,
);
