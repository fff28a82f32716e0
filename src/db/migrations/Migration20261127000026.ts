import { Migration } from '@mikro-orm/migrations';

/** Files that go along with texts, kept in pieces; pictures become such files. Picture messages. */
export class Migration20261127000026 extends Migration {
  override up(): void {
    for (const sql of [
      // key: the file's id, or with ".small" what picture messages carry of it. Only where the database keeps the bytes.
      `create table media_piece (
         workspace_id text not null references workspace, key text not null, piece integer not null, bytes bytea not null, primary key (key, piece))`,
      `insert into media_piece (workspace_id, key, piece, bytes) select workspace_id, id, 0, bytes from picture`,
      `alter table picture rename to media_file`,
      // arrived_as: the carrier's id of the message somebody sent it in; null: the business keeps it.
      `alter table media_file add column kind text not null default 'picture', add column alt text not null default '',
         add column size integer not null default 0, add column small_type text, add column small_size integer,
         add column arrived_as text, add column hidden_at timestamptz, alter column width drop not null, alter column height drop not null`,
      `update media_file set size = length(bytes)`,
      `alter table media_file drop column bytes, alter column kind drop default, alter column size drop default`,
      // Files whose rows are gone and whose bytes are to go, wherever they lie.
      `create table media_gone (id text primary key, workspace_id text not null references workspace, at timestamptz not null)`,
      `create index media_file_arrived on media_file (workspace_id, arrived_as, id) where arrived_as is not null`,
      `create index media_file_kept on media_file (workspace_id, made_at) where arrived_as is null`,
      `alter table sender_number add column mms boolean not null default false`,
      `alter table address add column no_pictures boolean not null default false`,
      `alter table workspace add column credits_per_picture integer not null default 3`,
      `alter table broadcast add column media text[]`,
      // The files it carries; null: it is words.
      `alter table message add column media text[]`,
      // A picture message is told by its files, and has no alphabet.
      `alter table message drop constraint message_text, add constraint message_text check (channel <> 'sms' or media is not null or (alphabet is not null and parts is not null))`,
      `drop index message_due`,
      `create index message_due on message (sender_id, priority, not_before) where not_before is not null and media is null`,
      `create index picture_due on message (sender_id, priority, not_before) where not_before is not null and media is not null`,
    ])
      this.addSql(sql);
  }

  override down(): void {
    for (const sql of [
      `drop index picture_due`,
      `drop index message_due`,
      `create index message_due on message (sender_id, priority, not_before) where not_before is not null`,
      `update message set alphabet = 'GSM-7' where media is not null and alphabet is null`,
      `alter table message drop constraint message_text, add constraint message_text check (channel <> 'sms' or (alphabet is not null and parts is not null))`,
      `alter table message drop column media`,
      `alter table broadcast drop column media`,
      `alter table workspace drop column credits_per_picture`,
      `alter table address drop column no_pictures`,
      `alter table sender_number drop column mms`,
      `drop index media_file_kept`,
      `drop index media_file_arrived`,
      `alter table media_file add column bytes bytea`,
      `update media_file m set bytes = (select string_agg(p.bytes, '' order by p.piece) from media_piece p where p.key = m.id)`,
      // What was no picture, or lies elsewhere, cannot go back.
      `delete from media_file where bytes is null or kind <> 'picture' or arrived_as is not null or width is null or height is null`,
      `alter table media_file alter column bytes set not null, alter column width set not null, alter column height set not null,
         drop column hidden_at, drop column arrived_as, drop column small_size, drop column small_type, drop column size, drop column alt, drop column kind`,
      `alter table media_file rename to picture`,
      `drop table media_gone`,
      `drop table media_piece`,
    ])
      this.addSql(sql);
  }
}
