import { Migration } from '@mikro-orm/migrations';

/**
 * What follows from a row is looked up by key, for each row of a statement. The first few of a statement decide how the
 * rest of it is looked up, and where the table holds hardly anything by then, that was: from its beginning to its end.
 * The first import of 25,000 people took five times as long as the next of as many.
 */
const BY_KEY = [
  ...[
    'copy_addresses',
    'give_back_credits',
    'settle_enrolment',
    'tally_consent',
    'tally_consent_gone',
    'tally_engaged',
  ],
  ...[
    'tally_heard',
    'tally_inbound',
    'tally_lost',
    'tally_messages',
    'tell_after_send',
    'tell_coming',
    'tell_engaged_send',
  ],
  ...['tell_first_click', 'tell_firsts', 'tell_label_put', 'tell_label_taken'],
];

export class Migration20261201000068 extends Migration {
  override up(): void {
    for (const name of BY_KEY)
      this.addSql(`alter function ${name}() set enable_seqscan = off set enable_mergejoin = off`);
  }

  override down(): void {
    for (const name of BY_KEY)
      this.addSql(`alter function ${name}() reset enable_seqscan reset enable_mergejoin`);
  }
}
