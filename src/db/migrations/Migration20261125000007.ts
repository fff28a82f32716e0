import { Migration } from '@mikro-orm/migrations';

/**
 * The walls: one message for every channel, the send it belongs to in a table of its own, and what a merge moved
 * remembered room by room.
 */
export class Migration20261125000007 extends Migration {
  override up(): void {
    for (const statement of [...MERGES, ...SENDS, ...MESSAGES]) this.addSql(statement);
  }

  override down(): void {
    for (const statement of BACK) this.addSql(statement);
  }
}

const MERGES = [
  `update merge set moved = moved - 'texts' - 'inbound' - 'labels' || jsonb_build_object('rooms', jsonb_build_object(
     'delivery', moved -> 'texts', 'inbox', moved -> 'inbound', 'people', moved -> 'labels')) where not moved ? 'rooms'`,
];

/** A send is whatever sends many: its messages ask one row whether it goes on, whoever owns it. */
const SENDS = [
  `create table send (
     id text primary key, workspace_id text not null references workspace, kind text not null check (kind in ('broadcast', 'batch', 'sequence', 'stack')),
     goes text not null check (goes in ('on', 'waits', 'over')), began_at timestamptz, unique (workspace_id, id))`,
  `insert into send (id, workspace_id, kind, goes, began_at)
     select id, workspace_id, 'broadcast', case when state in ('preparing', 'sending', 'finished') then 'on' when state = 'paused' then 'waits' else 'over' end,
            coalesce(resumed_at, begun_at) from broadcast`,
  `alter table broadcast drop column resumed_at`,
];

const INDEXES = [
  ['text_pkey', 'message_pkey'],
  ['text_due', 'message_due'],
  ['text_left', 'message_left'],
  ['text_person', 'message_person'],
  ['text_program', 'message_program'],
  ['text_step', 'message_step'],
  ['text_lost_number', 'message_lost_address'],
];

const MESSAGES = [
  `alter table text rename to message`,
  `alter table message rename column number to address`,
  `alter table message rename column broadcast_id to send_id`,
  // What only a text knows is empty in the row of any other message.
  `alter table message alter alphabet drop not null, alter parts drop not null, add column channel text not null default 'sms'
     check (channel in ('sms', 'chat', 'voicemail', 'email')),
     add constraint message_text check (channel <> 'sms' or (alphabet is not null and parts is not null))`,
  `alter table message alter channel drop default`,
  // Kinds are a table of the program's own (core/message/kinds.ts), which grows with the channels.
  `alter table message drop constraint text_kind_check`,
  `alter table message drop constraint text_workspace_id_broadcast_id_fkey,
     add constraint message_send foreign key (workspace_id, send_id) references send (workspace_id, id)`,
  ...INDEXES.map(([from, to]) => `alter index ${from} rename to ${to}`),
  `alter table text_event rename to message_event`,
  `alter table message_event rename column text_id to message_id`,
  `alter index text_event_pkey rename to message_event_pkey`,
];

const BACK = [
  `alter index message_event_pkey rename to text_event_pkey`,
  `alter table message_event rename column message_id to text_id`,
  `alter table message_event rename to text_event`,
  ...INDEXES.map(([from, to]) => `alter index ${to} rename to ${from}`),
  `alter table message drop constraint message_send, drop constraint message_text`,
  `delete from message where channel <> 'sms'`,
  `alter table message drop column channel, alter alphabet set not null, alter parts set not null`,
  `alter table message rename column send_id to broadcast_id`,
  `alter table message rename column address to number`,
  `alter table message rename to text`,
  `alter table text add constraint text_kind_check check (kind in ('broadcast', 'confirmation', 'question', 'opt-out-confirmation', 'help', 'answer')),
     add foreign key (workspace_id, broadcast_id) references broadcast (workspace_id, id)`,
  `alter table broadcast add column resumed_at timestamptz`,
  `update broadcast b set resumed_at = s.began_at from send s where s.id = b.id and s.began_at > b.begun_at`,
  `drop table send`,
  `update merge set moved = moved - 'rooms' || jsonb_build_object('texts', moved -> 'rooms' -> 'delivery',
     'inbound', moved -> 'rooms' -> 'inbox', 'labels', moved -> 'rooms' -> 'people') where moved ? 'rooms'`,
];
