import { Migration } from '@mikro-orm/migrations';

const begins = (tells: string): string =>
  `create or replace function happening_begin() returns boolean language plpgsql as $$
     begin
       if current_setting('wren.quiet', true) = 'on' then return false; end if;
       if current_setting('wren.telling', true) is distinct from 'on' then
         perform pg_advisory_xact_lock_shared((7302::bigint << 40) | (select case when is_called then last_value else 0 end from happening_seq_seq));
         perform set_config('wren.telling', 'on', true);${tells}
       end if;
       return true;
     end $$`;

/** Who follows what happens is woken as it commits, instead of looking for it several times a second. */
export class Migration20261129000064 extends Migration {
  override up(): void {
    this.addSql(begins(` perform pg_notify('wren_happened', '');`));
  }

  override down(): void {
    this.addSql(begins(''));
  }
}
