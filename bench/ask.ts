import pg from 'pg';

/** Asks the database of a benchmark, by a connection of its own. */
export async function ask<T extends object>(databaseUrl: string, sql: string): Promise<T[]> {
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    return (await client.query<T>(sql)).rows;
  } finally {
    await client.end();
  }
}
