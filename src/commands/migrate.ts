import { getOrm } from '@/db/kit/orm';
import { migrate } from '@/services/migrate';

const orm = getOrm();
try {
  const steps = await migrate(orm);
  if (steps > 0)
    console.log(`The database has been brought up to date (${steps} ${steps === 1 ? 'step' : 'steps'}).`);
  await orm.close(true);
  process.exit(0);
} catch (error) {
  console.error((error as Error).message);
  process.exit(1);
}
