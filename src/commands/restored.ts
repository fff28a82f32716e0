import { missedWords } from '@/core/work/missed';
import { getOrm } from '@/db/kit/orm';
import { makeContext } from '@/services/context';
import { makeHarmless, release } from '@/services/delivery/installation';
import { ROOMS } from '@/services/rooms';
import { openClock, soon } from '@/services/kit/settings';

/** `npm run restored`: makes a restored copy harmless and lists what fell due since. `-- --go`: it sends from now on. */
const UNSAID = ['departures', 'sends'];

const clock = await soon(openClock());
const orm = getOrm();
const ctx = makeContext(orm, clock.now);
if (process.argv.includes('--go')) {
  await release(ctx);
  console.log('This installation sends from now on.');
} else {
  const { due, stopped } = await makeHarmless(ctx, ROOMS);
  for (const [what, n] of Object.entries(stopped))
    if (n > 0 && !UNSAID.includes(what)) console.log(`${what}: ${n}`);
  console.log(
    due.length === 0 ? 'Nothing fell due since the copy was made.' : 'Fell due since the copy was made:',
  );
  for (const row of due) console.log(`  ${row.due.toISOString()}  ${row.workspace}  ${missedWords(row)}`);
  console.log('\nNothing is sent until you run: npm run restored -- --go');
}
clock.stop();
await orm.close(true);
process.exit(0);
