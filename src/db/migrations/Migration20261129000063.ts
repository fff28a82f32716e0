import { Migration } from '@mikro-orm/migrations';

/**
 * What is settled is written beside where it stood, without a new entry in each of a message's indexes (PostgreSQL's
 * heap-only tuples): no index says anything of the state any more, and each page keeps room. Two indexes of what is open
 * said so; whoever looks for what was silent walks each stretch of time once, and does not need them.
 */
export class Migration20261129000063 extends Migration {
  override up(): void {
    this.addSql(`drop index message_chat_open`);
    this.addSql(`drop index message_voicemail_open`);
    this.addSql(`alter table message set (fillfactor = 60)`);
    this.addSql(`alter table text_part set (fillfactor = 80)`);
  }

  override down(): void {
    this.addSql(`alter table text_part reset (fillfactor)`);
    this.addSql(`alter table message reset (fillfactor)`);
    this.addSql(
      `create index message_voicemail_open on message (submitted_at) where channel = 'voicemail' and state = 'submitted'`,
    );
    this.addSql(
      `create index message_chat_open on message (submitted_at) where channel = 'chat' and state = 'submitted'`,
    );
  }
}
