import { getOrm } from '@/db/kit/orm';
import { makeContext } from '@/services/context';
import { openFirstDoor } from '@/services/team/first-door';

/** `first-door` prints the address at which the first owner moves in, once; nothing where somebody has. */
const orm = getOrm();
const link = await openFirstDoor(makeContext(orm, () => Date.now()));
if (link) console.log(link);
await orm.close(true);
process.exit(0);
