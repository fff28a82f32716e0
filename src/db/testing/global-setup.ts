import { MikroORM } from '@mikro-orm/postgresql';
import { ormConfig } from '@/db/kit/config';
import { migratorOf } from '@/db/kit/migrator';
import { prepareTemplate, testCluster } from './database';

export default async function setup(): Promise<void> {
  const cluster = testCluster();
  process.env.WREN_TEST_CLUSTER = cluster;
  await prepareTemplate(cluster, async (url) => {
    const orm = MikroORM.initSync(ormConfig(url));
    await migratorOf(orm).up();
    await orm.close(true);
  });
}
