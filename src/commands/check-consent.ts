import { getOrm } from '@/db/kit/orm';
import { Workspace } from '@/db/access/entities';
import { checkConsent } from '@/services/consent/check-consent';
import { makeContext } from '@/services/context';

/** Recomputes everybody's consent from the ledger and reports differences. Exit 1 when there is one. */
const orm = getOrm();
const ctx = makeContext(orm, () => Date.now());
let differences = 0;
for (const workspace of await orm.em.fork().find(Workspace, {})) {
  const result = await checkConsent(ctx, workspace.id);
  console.log(
    `${workspace.slug}: ${result.people} people with entries, ${result.differences.length} differences`,
  );
  for (const difference of result.differences) console.log(`  ${JSON.stringify(difference)}`);
  differences += result.differences.length;
}
await orm.close(true);
process.exit(differences === 0 ? 0 : 1);
