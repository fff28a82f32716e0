import type { MikroORM } from '@mikro-orm/postgresql';
import { refreshPlaces } from './people/refresh-places';

/** Brings the database to the current schema. Safe to run again. */
export async function migrate(orm: MikroORM): Promise<void> {
  await orm.getMigrator().up();
  await refreshPlaces(orm);
}
