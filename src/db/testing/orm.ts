import { MikroORM } from '@mikro-orm/postgresql';
import { ormConfig } from '@/db/kit/config';
import { createTestDatabase } from './database';

interface TestOrm {
  orm: MikroORM;
  url: string;
  close(): Promise<void>;
}

/** ORMs that no test has at the moment, by the database each is made for. */
const free: { orm: MikroORM; name: string }[] = [];

/**
 * A fresh database and an ORM on it. To find out what all entities are takes an ORM longer than the rest of what a test
 * begins with, so one goes from a test to the next, and the databases it is given are one after the other of one name.
 */
export async function openTestOrm(): Promise<TestOrm> {
  const known = free.pop();
  const { url, name, drop } = await createTestDatabase(known?.name);
  const made = known?.orm ?? (MikroORM.initSync(ormConfig(url)) as MikroORM);
  await made.connect();
  // Of its own for each test: what is kept beside an ORM, as waiting work is, belongs to one database.
  const orm = Object.create(made) as MikroORM;
  return {
    orm,
    url,
    async close() {
      await made.close(true);
      await drop();
      free.push({ orm: made, name });
    },
  };
}
