import type { ConsentState, Method } from '@/core/consent/ledger';
import { rings, type Channel } from '@/core/message/channel';
import { KIND_OF, type AddressState, type LineType } from '@/core/people/address';
import { PREFERRED } from '@/db/people/addresses';
import { kindsThat, type MessageKind } from '@/core/message/kinds';
import type { Registration, SenderKind } from '@/core/clearance/sender';
import type { OwnValues } from '@/core/people/values';
import type { Scope } from '@/db/kit/scope';
import { TEXTS_BY_PROGRAM } from '@/db/delivery/texts';
import { sqlList } from '@/db/kit/sql';

export interface PersonFactRow {
  id: string;
  /** The number they prefer, which tells where they may be. */
  number: string | null;
  /** Where a message to them goes on this channel. */
  address: string | null;
  address_state: AddressState | null;
  line_type: LineType | null;
  /** That phone takes no picture messages, as far as it showed. */
  no_pictures: boolean | null;
  no_voicemail: boolean | null;
  first_name: string | null;
  /** What they inquired last. */
  asked: { kind: string; words: string; source: string } | null;
  last_name: string | null;
  email: string | null;
  region: string | null;
  postal_code: string | null;
  zone: string | null;
  fields: OwnValues;
  unclear_since: Date | null;
  unread_since: Date | null;
  paused_until: Date | null;
  last_wrote_at: Date | null;
  consent_state: Exclude<ConsentState, 'none'> | null;
  consent_method: Method | null;
  consent_since: Date | null;
  consent_event: string | null;
  /** The opt-out that speaks for them, where they are written to at another address; null: there is none. */
  left_since: Date | null;
  left_method: Method | null;
  left_event: string | null;
  /** Since when nothing that rings goes to them, of whatever program; null: it may, or this does not ring. */
  stopped_at: Date | null;
  member_elsewhere: boolean;
  /** BCP 47, as far as it is known. */
  language: string | null;
  /** By account, how things stand with their chat id; null: asked for another channel, or never written. */
  windows: Record<string, { wrote: string | null; begun: string | null }> | null;
  assigned_sender: string | null;
}

/** Since when a text of theirs waits, to any of their numbers, that could not be worked on. Mostly there is none at all, which is asked once. */
const UNREAD_SINCE = `case when exists (select 1 from unread_text) then
  (select min(u.at) from address m join unread_text u on u.from_number = m.value and u.holds and (u.workspace_id = :workspace or u.workspace_id is null)
    where m.workspace_id = :workspace and m.person_id = p.id and m.kind = 'number') end`;

/** The same of chat: something they wrote came and was not worked on yet. */
const UNREAD_CHAT = `(select min(u.at) from chat_told u where u.workspace_id = :workspace and u.due_at is not null and u.who = w.value)`;

const UNREAD: Record<Channel, string> = {
  sms: UNREAD_SINCE,
  email: UNREAD_SINCE,
  chat: `least(${UNREAD_SINCE}, ${UNREAD_CHAT})`,
  voicemail: UNREAD_SINCE,
};

/** Since when it is in doubt whether they leave: by a reply, or because a teammate is opting them out. Mostly nobody is, which is asked once. */
const UNCLEAR_SINCE = `case when exists (select 1 from leaving) then
  coalesce(p.unclear_since, (select l.asked_at from leaving l where l.workspace_id = :workspace and l.person_id = p.id)) else p.unclear_since end`;

/**
 * The people of a slice with their consent to one program and the number they know, in the order of `ids`. `addresses`
 * lies beside them: where the message was queued for (null: it goes to the address that speaks for them).
 * `offset 0`, here and below: asked person by person, whatever the planner thinks of a table that just begins to fill; and
 * their addresses by no index of the workspace's, which was read whole for each of them after a large import.
 */
export const personFacts = (
  scope: Scope,
  { programId, channel, ids, addresses }: FactsAsked,
): Promise<PersonFactRow[]> =>
  scope.rows<PersonFactRow>(
    `select p.id, p.number, w.value as address, w.state as address_state, w.line_type, w.no_pictures, w.no_voicemail, p.first_name, p.last_name, p.email, p.region, p.postal_code, p.zone,
            p.asked, p.fields, ${UNCLEAR_SINCE} as unclear_since, ${UNREAD[channel]} as unread_since, p.paused_until, p.last_wrote_at, c.state as consent_state, c.method as consent_method,
            c.since as consent_since, c.event_id as consent_event, l.since as left_since, l.method as left_method, l.event_id as left_event,
            ${rings(channel) ? 'p.stopped_at' : 'null::timestamptz'} as stopped_at, ${MEMBER_ELSEWHERE[channel]} as member_elsewhere, a.sender_id as assigned_sender,
            p.language, ${WINDOWS[channel]} as windows
       from unnest(:ids::text[], :addresses::text[]) as asked (id, address)
      cross join lateral (select * from person p where p.workspace_id = :workspace and p.id = asked.id offset 0) as p
       left join consent_state c on c.person_id = p.id and c.program_id = :programId and c.channel = '${channel}'
         and (c.address = asked.address or (asked.address is null and c.current))
       left join lateral (
         select o.since, o.method, o.event_id from consent_state o where asked.address is not null and o.person_id = p.id and o.program_id = :programId
            and o.channel = '${channel}' and o.current and o.state = 'out' limit 1) l on true
       left join lateral (
         select * from address a where texteq(a.workspace_id, p.workspace_id) and a.person_id = p.id and a.kind = '${KIND_OF[channel]}'
            and a.value = coalesce(asked.address, c.address, ${PREFERRED[KIND_OF[channel]]}) offset 0) w on true
       left join sender_assignment a on a.person_id = p.id and a.program_id = :programId`,
    { programId, ids, addresses: addresses ?? ids.map(() => null) },
  );

interface FactsAsked {
  programId: string;
  channel: Channel;
  ids: readonly string[];
  addresses?: readonly (string | null)[];
}

/** Whether they are in the program by another channel, where that is asked. */
const MEMBER_ELSEWHERE: Record<Channel, string> = {
  sms: 'false',
  chat: 'false',
  voicemail: 'false',
  email: `exists (select 1 from consent_state o where o.person_id = p.id and o.program_id = :programId and o.channel <> 'email' and o.current and o.state = 'in')`,
};

const NO_WINDOWS = 'null::jsonb';

/** How things stand between the accounts of the workspace and somebody’s chat id. */
const WINDOWS: Record<Channel, string> = {
  sms: NO_WINDOWS,
  email: NO_WINDOWS,
  voicemail: NO_WINDOWS,
  chat: `(select jsonb_object_agg(x.account_id, jsonb_build_object('wrote', x.wrote_at, 'begun', x.begun_at)) from chat_window x
    where x.workspace_id = :workspace and x.address = w.value)`,
};

export interface PastTextRow {
  person_id: string;
  program_id: string;
  kind: MessageKind;
  body_hash: string;
  at: Date;
}

/** Kinds of message that count towards what was promised. */
const COUNTING = sqlList(kindsThat(({ counts }) => counts));

/**
 * Texts that count against a new one: broadcasts of the last 30 days, and any with the same body.
 * `hashes` lies beside `ids` (null: wording not known). `except`: texts that are being decided themselves.
 */
export const pastTexts = (
  scope: Scope,
  values: {
    ids: readonly string[];
    hashes: readonly (string | null)[];
    except: readonly string[];
    since: Date;
  },
): Promise<PastTextRow[]> =>
  scope.rows<PastTextRow>(
    `select t.person_id, t.program_id, t.kind, t.body_hash, coalesce(t.submitted_at, case when isfinite(t.not_before) then t.not_before end, t.created_at) as at
       from unnest(:ids::text[], :hashes::text[]) as asked (person_id, body_hash) cross join lateral (
         select * from message t
          where t.workspace_id = :workspace and t.person_id = asked.person_id and t.kind in (${COUNTING})
            and (t.created_at > :since or t.body_hash = asked.body_hash)
            and t.state not in ('blocked', 'cancelled', 'failed')
            and not t.id = any(:except) offset 0) as t`,
    values,
  );

export interface SenderFactRow {
  id: string;
  number: string;
  kind: SenderKind;
  sms: boolean;
  mms: boolean;
  voice: boolean;
  registration: Registration;
  daily_cap: number | null;
  parts_per_second: number;
  carrier_id: string;
  resting: boolean;
  /** It is brought back since, to so many a day. */
  back_at: Date | null;
  usual_a_day: number | null;
  sent_today: number;
  in_program: boolean;
}

/** The workspace's sender numbers, those of the program marked, with the parts the carrier took from them in the last day (counted only under a cap). */
export const programSenders = (scope: Scope, programId: string, dayAgo: Date): Promise<SenderFactRow[]> =>
  scope.rows<SenderFactRow>(
    `select s.id, s.number, s.kind, s.sms, s.mms, s.voice, s.registration, s.daily_cap, s.parts_per_second, s.carrier_id, s.rested_at is not null as resting, s.back_at, s.usual_a_day,
            case when s.daily_cap is null and s.back_at is null then 0 else
              (select coalesce(sum(t.parts), 0)::int from ${TEXTS_BY_PROGRAM}
                where g.workspace_id = :workspace and t.sender_id = s.id and t.submitted_at > :dayAgo)
            end as sent_today,
            exists (select 1 from program_sender ps where ps.sender_id = s.id and ps.program_id = :programId) as in_program
       from sender_number s where s.workspace_id = :workspace and s.released_at is null
      order by s.id`,
    { programId, dayAgo },
  );
