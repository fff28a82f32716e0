import { MikroORM } from '@mikro-orm/postgresql';
import { ormConfig } from './config';

/** Next evaluates server modules more than once per process: the connection pool lives on `globalThis`. */
const holder = globalThis as unknown as { wrenOrm?: { url: string; orm: MikroORM } };

export class DatabaseUrlMissing extends Error {
  constructor() {
    super('DATABASE_URL is not set. Start the application with `npm start`, or name a PostgreSQL database.');
  }
}

export function databaseUrl(): string {
  const url = process.env.DATABASE_URL;
  if (!url) throw new DatabaseUrlMissing();
  return url;
}

/** The process's connection to the database. Opens no connection until the first query. */
export function getOrm(url: string = databaseUrl(), connections?: number): MikroORM {
  if (holder.wrenOrm?.url !== url)
    holder.wrenOrm = { url, orm: MikroORM.initSync(ormConfig(url, connections)) as MikroORM };
  return holder.wrenOrm.orm;
}
