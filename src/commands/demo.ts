import { existsSync } from 'node:fs';
import { getOrm } from '@/db/kit/orm';
import { acrossWorkspaces, inWorkspace } from '@/db/kit/scope';
import { Account, Workspace } from '@/db/access/entities';
import { lookAfterFromNowOn, readDemo } from '@/demo/file';
import { openNetwork, openPortals, openRegistrar, openVoices } from '@/demo/network';
import { furnishRoom } from '@/demo/room';
import { scheduleEvening, textTonight } from '@/demo/tonight';
import { makeContext } from '@/services/context';
import { refreshPlaces } from '@/services/people/refresh-places';
import { benchUrl, openClock } from '@/services/kit/settings';
import { bringUpToDate } from './up-to-date';

/**
 * `demo load`: brings the database up to date and loads the shipped demo into an empty one; leaves any other alone. Its two
 * halves by themselves: `demo fill` makes the database, which may be copied; `demo open` tells a bench of what is in it, from
 * where on it lives.
 */
const FILE = new URL('../demo/juniper-gap.jsonl.br', import.meta.url);

const orm = getOrm();
await bringUpToDate(orm);
const clock = await openClock();
const ctx = makeContext(orm, clock.now);

async function isEmpty(): Promise<boolean> {
  const [found] = await acrossWorkspaces(orm, (crossing) =>
    crossing.rows<{ n: number }>(`select count(*)::int as n from workspace`),
  );
  return found!.n === 0;
}

async function whoseDemo() {
  const workspace = await orm.em.fork().findOneOrFail(Workspace, { slug: 'juniper-gap' });
  const manager = await orm.em.fork().findOneOrFail(Account, { email: 'marek@juniper-gap.example.org' });
  return { workspace, manager };
}

async function fill(): Promise<void> {
  console.log('Loading the demo ...');
  await readDemo(orm, FILE.pathname, clock.now());
  await refreshPlaces(orm);
  const { workspace, manager } = await whoseDemo();
  await furnishRoom(ctx, workspace.id, manager.id);
}

async function open(): Promise<void> {
  await lookAfterFromNowOn(orm);
  await openNetwork(orm, benchUrl());
  await openRegistrar(orm, benchUrl());
  await openPortals(orm, benchUrl());
  await openVoices(orm, benchUrl());
  const { workspace, manager } = await whoseDemo();
  await inWorkspace(orm, workspace.id, (scope) => scheduleEvening(ctx, scope, manager.id, workspace.zone));
  await inWorkspace(orm, workspace.id, (scope) => textTonight(scope, benchUrl()!));
}

const asked = process.argv[2];
if (asked === 'open') await open();
else if (existsSync(FILE) && (await isEmpty())) {
  await fill();
  if (asked !== 'fill') await open();
}
clock.stop();
await orm.close(true);
process.exit(0);
