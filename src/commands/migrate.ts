import { getOrm } from '@/db/kit/orm';
import { bringUpToDate } from './up-to-date';

const orm = getOrm();
await bringUpToDate(orm);
await orm.close(true);
process.exit(0);
