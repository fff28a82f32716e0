import { MikroORM } from '@mikro-orm/postgresql';
import { afterEach, beforeEach, expect, it, vi } from 'vitest';
import { ormConfig } from '@/db/kit/config';
import { migratorOf } from '@/db/kit/migrator';
import { acrossWorkspaces } from '@/db/kit/scope';
import { createTestDatabase } from '@/db/testing/database';
import { readDemo } from './file';

let database: Awaited<ReturnType<typeof createTestDatabase>>;
let orm: MikroORM;
beforeEach(async () => {
  database = await createTestDatabase();
  orm = MikroORM.initSync(ormConfig(database.url)) as MikroORM;
  // The migrator tells of each step.
  vi.spyOn(console, 'log').mockImplementation(() => {});
});
afterEach(async () => {
  vi.restoreAllMocks();
  await orm.close(true);
  await database.drop();
});

const rows = (sql: string, values = {}) =>
  acrossWorkspaces(orm, (crossing) => crossing.rows<{ id: string; n: number }>(sql, values));

/** What must survive: every message with what became of it, and to which send it belongs. */
const messages = (except: string[]) =>
  rows(
    `select m.id, m.person_id, m.send_id, m.channel, m.address, m.kind, m.state, m.parts, s.goes from message m left join send s on s.id = m.send_id where m.channel = 'sms' and not m.id = any(:except::text[]) order by m.id`,
    { except },
  );

/** What people told each program by text; and where they are reached. */
const consents = () =>
  rows(
    `select c.person_id, c.program_id, c.state, c.address, p.number, a.value, a.state as address_state from consent_state c join person p on p.id = c.person_id
       left join address a on a.person_id = p.id and a.kind = 'number' and a.rank = 0
      where c.channel = 'sms' order by c.person_id, c.program_id`,
  );

/** The database looks after large new tables by itself, and a table cannot be changed and counted at once. */
const leaveAlone = () =>
  rows(
    `do $$ declare t text; begin for t in select tablename from pg_tables where schemaname = 'public' loop
       execute format('alter table %I set (autovacuum_enabled = off)', t); end loop; end $$`,
  );

it('what is written after the demo was loaded gets no number that a row of it has', async () => {
  await readDemo(orm, 'demo/juniper-gap.jsonl.br', Date.now());
  const numbered = await rows(
    `select table_name as id, column_name as column from information_schema.columns where table_schema = 'public' and is_identity = 'YES'`,
  );
  const taken: string[] = [];
  for (const { id: table, column } of numbered as unknown as { id: string; column: string }[]) {
    const [next] = await rows(
      `select nextval(pg_get_serial_sequence('${table}', '${column}'))::int - coalesce(max(${column}), 0)::int as n from "${table}"`,
    );
    if (next!.n <= 0) taken.push(`${table}.${column}`);
  }
  expect(taken).toEqual([]);
  expect(numbered.length).toBeGreaterThan(7);
});

it('the demo’s database goes from the last version to this one with every message, send and history', async () => {
  await readDemo(orm, 'demo/juniper-gap.jsonl.br', Date.now());
  const ofTexts = `select count(*)::int as n from message_event e join message m on m.id = e.message_id where m.channel = 'sms'`;
  // The last version knew no sequences, no answers of later or to calls, no questions: what was sent stays, as other messages of no send.
  const series = (
    await rows(
      `select id from message where channel = 'sms' and (enrolment_id is not null or kind in ('late-answer', 'notice', 'asking', 'asking-again', 'call-text', 'call-answer'))`,
    )
  ).map(({ id }) => id);
  expect(series.length).toBeGreaterThan(500);
  const [before, told, events] = [await messages(series), await consents(), await rows(ofTexts)];
  expect(before.length).toBeGreaterThan(10_000);
  expect(await rows(`select 1 from happening limit 1`)).toEqual([]);
  await leaveAlone();
  const migrator = migratorOf(orm);
  await migrator.down({ to: 'Migration20261125000007' });
  // As the last version had it: texts, each of a broadcast or of none, to a number.
  const [old] = await rows(
    `select count(*)::int as n, count(broadcast_id)::int as broadcast, count(number)::int as numbers from text`,
  );
  expect(old).toMatchObject({ n: before.length + series.length, numbers: before.length + series.length });
  await migrator.up();
  expect(await messages(series)).toEqual(before);
  expect(await rows(ofTexts)).toEqual(events);
  expect(await consents()).toEqual(told);
  // What was there before is no news: nothing is told of it now.
  expect(await rows(`select 1 from happening limit 1`)).toEqual([]);
});
