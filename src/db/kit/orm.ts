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

/** `WREN_DB_CONNECTIONS`: the most connections of this process; null: as many as it takes usually. */
function wantedConnections(): number | null {
  const text = process.env.WREN_DB_CONNECTIONS;
  if (!text) return null;
  const wanted = Number(text);
  if (!Number.isInteger(wanted) || wanted < 4 || wanted > 500)
    throw new Error(`WREN_DB_CONNECTIONS must be a number of connections from 4 to 500, not "${text}".`);
  return wanted;
}

/** The process's connection to the database. Opens no connection until the first query. */
export function getOrm(url: string = databaseUrl(), connections?: number): MikroORM {
  if (holder.wrenOrm?.url !== url)
    holder.wrenOrm = {
      url,
      orm: MikroORM.initSync(ormConfig(url, wantedConnections() ?? connections)) as MikroORM,
    };
  return holder.wrenOrm.orm;
}
