import { getOrm } from '@/db/kit/orm';
import { migrate } from '@/services/migrate';

const orm = getOrm();
await migrate(orm);
await orm.close(true);
process.exit(0);
