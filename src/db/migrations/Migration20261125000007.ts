import { Migration } from '@mikro-orm/migrations';

/** The house by rooms: what a merge moved is remembered room by room. */
export class Migration20261125000007 extends Migration {
  override up(): void {
    this.addSql(
      `update merge set moved = moved - 'texts' - 'inbound' - 'labels' || jsonb_build_object('rooms', jsonb_build_object(
         'delivery', moved -> 'texts', 'inbox', moved -> 'inbound', 'people', moved -> 'labels')) where not moved ? 'rooms'`,
    );
  }

  override down(): void {
    this.addSql(
      `update merge set moved = moved - 'rooms' || jsonb_build_object('texts', moved -> 'rooms' -> 'delivery',
         'inbound', moved -> 'rooms' -> 'inbox', 'labels', moved -> 'rooms' -> 'people') where moved ? 'rooms'`,
    );
  }
}
