import type { MikroORM } from '@mikro-orm/postgresql';
import { runMigrations } from 'graphile-worker';
import { refreshPlaces } from './refresh-places';

/** Brings the database to the current schema: ours and the job queue's. Safe to run again. */
export async function migrate(orm: MikroORM, databaseUrl: string): Promise<void> {
  await orm.getMigrator().up();
  await refreshPlaces(orm);
  await runMigrations({ connectionString: databaseUrl });
}
