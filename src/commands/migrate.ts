import { getOrm } from '@/db/kit/orm';
import { migrate } from '@/services/migrate';

const orm = getOrm();
try {
  await migrate(orm);
  await orm.close(true);
  process.exit(0);
} catch (error) {
  console.error((error as Error).message);
  process.exit(1);
}
