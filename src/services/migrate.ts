import type { MikroORM } from '@mikro-orm/postgresql';
import { migratorOf } from '@/db/kit/migrator';
import { refreshPlaces } from './people/refresh-places';

/** The database was used by a version that is newer than this one, which does not know what stands in it. */
export class NewerDatabase extends Error {
  constructor(readonly migrations: readonly string[]) {
    super(
      `This database was brought up to date by a newer version of the application (${migrations.at(-1)}). Start that version, or restore a backup from before it.`,
    );
  }
}

/** Brings the database to the current schema: how many steps it took. Safe to run again. Throws `NewerDatabase` and changes nothing. */
export async function migrate(orm: MikroORM): Promise<number> {
  const migrator = migratorOf(orm);
  const known = new Set((orm.config.get('migrations').migrationsList ?? []).map(nameOf));
  const newer = (await migrator.getExecutedMigrations())
    .map(({ name }) => name)
    .filter((name) => !known.has(name));
  if (newer.length > 0) throw new NewerDatabase(newer);
  const steps = await migrator.up();
  await refreshPlaces(orm);
  return steps.length;
}

const nameOf = (migration: unknown): string => (migration as { name: string }).name;
