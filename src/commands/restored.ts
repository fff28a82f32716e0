import { getOrm } from '@/db/kit/orm';
import { makeContext } from '@/services/context';
import { makeHarmless, release } from '@/services/delivery/installation';
import { openClock, soon } from '@/services/kit/settings';

/** `npm run restored`: makes a restored copy harmless and lists what fell due since. `-- --go`: it sends from now on. */
const clock = await soon(openClock());
const orm = getOrm();
const ctx = makeContext(orm, clock.now);
if (process.argv.includes('--go')) {
  await release(ctx);
  console.log('This installation sends from now on.');
} else {
  const { due, stopped } = await makeHarmless(ctx);
  for (const [what, count] of Object.entries(stopped))
    if (count > 0 && what !== 'departures') console.log(`${count} ${what}`);
  console.log(
    due.length === 0 ? 'Nothing fell due since the copy was made.' : 'Fell due since the copy was made:',
  );
  for (const { workspace, kind, name, due: at } of due)
    console.log(
      `  ${at.toISOString()}  ${workspace}  ${kind === 'texts' ? `${name} texts that waited` : `${kind} “${name}”`}`,
    );
  console.log('\nNothing is sent until you run: npm run restored -- --go');
}
clock.stop();
await orm.close(true);
process.exit(0);
