import { readFileSync } from 'node:fs';
import pg from 'pg';
import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { must } from '@/services/testing/people';
import { broadcastTo, round, Scripted } from '@/services/testing/sending';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { closeReader, openReader, readReaders } from './readers';

let world: World;
let reader: { role: string; password: string };
let client: pg.Client;
beforeEach(async () => {
  world = await makeWorld();
  reader = await openReader(world.ctx, { id: world.workspaceId, slug: 'juniper-gap' });
  client = await connect();
});
afterEach(async () => {
  await client.end();
  // Roles are the cluster’s: they outlive the database of a test.
  await closeReader(world.ctx, world.workspaceId, reader.role);
  await world.close();
});

async function connect(): Promise<pg.Client> {
  const url = new URL(world.databaseUrl);
  Object.assign(url, { username: reader.role, password: reader.password });
  const made = new pg.Client({ connectionString: url.href });
  await made.connect();
  return made;
}
const rows = async (sql: string) => (await client.query<Record<string, unknown>>(sql)).rows;

describe('a reader', () => {
  it('sees its workspace by views, and none of another', async () => {
    await broadcastTo(world, 2);
    await round(world, new Scripted());
    await world.texts(phone(0), 'What is the dome?');
    const other = await world.another();
    expect(await rows(`select send, state from messages where send is not null`)).toEqual(
      Array(2).fill({ send: 'B', state: 'submitted' }),
    );
    expect(await rows(`select body from replies where meaning = 'reply'`)).toHaveLength(1);
    expect(await rows(`select program, state from consents`)).toHaveLength(2);
    expect(await rows(`select id from programs`)).toHaveLength(1);
    const theirs = await world.within(
      (scope) => scope.rows(`select id from program where workspace_id = :workspace`),
      other.id,
    );
    expect(await rows(`select id from programs`)).not.toEqual(theirs);
    expect(await rows(`select sum(credits)::int as left from credits`)).toEqual([{ left: 100_000 - 4 }]);
  });

  it('changes nothing and reads nothing else', async () => {
    for (const sql of [
      `select * from public.person`,
      `select * from public.account`,
      `select * from public.reader`,
      `delete from reading.people`,
      `set default_transaction_read_only = off; update reading.people set first_name = 'x'`,
      `create table public.mine (n int)`,
    ])
      await expect(rows(sql), sql).rejects.toThrow(/permission denied|read-only/);
  });

  it('is taken away', async () => {
    expect((await readReaders(world.ctx, world.workspaceId)).map(({ role }) => role)).toEqual([reader.role]);
    must(await closeReader(world.ctx, world.workspaceId, reader.role));
    await expect(connect()).rejects.toThrow(/authentication|does not exist/);
    expect(await closeReader(world.ctx, world.workspaceId, 'wren_reads_none')).toMatchObject({ ok: false });
    reader = await openReader(world.ctx, { id: world.workspaceId, slug: 'juniper-gap' });
  });

  it('finds every column told of in its document, and no other', async () => {
    const told = new Map(
      [...readFileSync('docs/formats/reading.md', 'utf8').matchAll(/^\| `(\w+)` .*\| (.*) \|$/gm)].map(
        ([, view, columns]) => [view!, [...columns!.matchAll(/`(\w+)`/g)].map(([, name]) => name)],
      ),
    );
    const there = await rows(
      `select table_name as view, array_agg(column_name::text order by ordinal_position) as columns from information_schema.columns where table_schema = 'reading' group by 1`,
    );
    expect(there.length).toBe(10);
    for (const { view, columns } of there) expect(told.get(view as string), String(view)).toEqual(columns);
  });
});
