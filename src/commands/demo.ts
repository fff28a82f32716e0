import { existsSync } from 'node:fs';
import { getOrm } from '@/db/kit/orm';
import { acrossWorkspaces, inWorkspace } from '@/db/kit/scope';
import { Account, Workspace } from '@/db/access/entities';
import { readDemo } from '@/demo/file';
import { openNetwork, openPortals, openRegistrar, openVoices } from '@/demo/network';
import { furnishRoom } from '@/demo/room';
import { scheduleEvening, textTonight } from '@/demo/tonight';
import { makeContext } from '@/services/context';
import { refreshPlaces } from '@/services/people/refresh-places';
import { benchUrl, openClock } from '@/services/kit/settings';

/** `demo load`: loads the shipped demo into an empty database; leaves any other alone. */
const FILE = new URL('../demo/juniper-gap.jsonl.br', import.meta.url);

const orm = getOrm();
const [{ n }] = (await acrossWorkspaces(orm, (crossing) =>
  crossing.rows<{ n: number }>(`select count(*)::int as n from workspace`),
)) as [{ n: number }];
if (n === 0 && existsSync(FILE)) {
  console.log('Loading the demo ...');
  const clock = await openClock();
  await readDemo(orm, FILE.pathname, clock.now());
  await openNetwork(orm, benchUrl());
  await openRegistrar(orm, benchUrl());
  await openPortals(orm, benchUrl());
  await openVoices(orm, benchUrl());
  await refreshPlaces(orm);
  const ctx = makeContext(orm, clock.now);
  const workspace = await orm.em.fork().findOneOrFail(Workspace, { slug: 'juniper-gap' });
  const manager = await orm.em.fork().findOneOrFail(Account, { email: 'marek@juniper-gap.example.org' });
  await inWorkspace(orm, workspace.id, (scope) => scheduleEvening(ctx, scope, manager.id, workspace.zone));
  await furnishRoom(ctx, workspace.id, manager.id);
  await inWorkspace(orm, workspace.id, (scope) => textTonight(scope, benchUrl()!));
  clock.stop();
}
await orm.close(true);
process.exit(0);
