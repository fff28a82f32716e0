import type { MikroORM } from '@mikro-orm/postgresql';
import { migrate } from '@/services/migrate';

/** What a command ends with that could not bring the database up to date. */
const NOT_UP_TO_DATE = 3;

/** Brings the database up to date, which a start does in the first command it runs; says so, or why not and ends. */
export async function bringUpToDate(orm: MikroORM): Promise<void> {
  try {
    const steps = await migrate(orm);
    if (steps > 0)
      console.log(`The database has been brought up to date (${steps} ${steps === 1 ? 'step' : 'steps'}).`);
  } catch (error) {
    console.error((error as Error).message);
    process.exit(NOT_UP_TO_DATE);
  }
}
