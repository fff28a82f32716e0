import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest';
import { migratorOf } from './kit/migrator';
import { acrossWorkspaces } from './kit/scope';
import { claimDueTexts } from '@/services/delivery/send-due-texts';
import { storeAnswers } from '@/services/delivery/store-answers';
import { broadcastTo, sent } from '@/services/testing/sending';
import { makeWorld, type World } from '@/services/testing/world';

let world: World;
beforeEach(async () => {
  world = await makeWorld();
  // The migrator tells of each step.
  vi.spyOn(console, 'log').mockImplementation(() => {});
});
afterEach(async () => {
  vi.restoreAllMocks();
  await world.close();
});

const rows = <T extends object>(sql: string) =>
  acrossWorkspaces(world.ctx.orm, (crossing) => crossing.rows<T>(sql));

/** Every table, column, index and check of our schema, in words. */
const shape = () =>
  rows<{ said: string }>(
    `select said from (
       select format('%s.%s %s %s', table_name, column_name, data_type, is_nullable) as said from information_schema.columns where table_schema = 'public'
       union all select indexdef from pg_indexes where schemaname = 'public'
       union all select format('%s %s', conrelid::regclass, pg_get_constraintdef(oid)) from pg_constraint where connamespace = 'public'::regnamespace) all_of
      where said not like 'migration%' order by 1`,
  );

describe('migrations', () => {
  it('can each be undone and done again, and lead to the same schema', async () => {
    const migrator = migratorOf(world.ctx.orm);
    const before = await shape();
    expect(before.length).toBeGreaterThan(200);
    await acrossWorkspaces(world.ctx.orm, (crossing) => crossing.run(`truncate workspace, account cascade`));
    const done = await migrator.getExecutedMigrations();
    for (const { name } of [...done].reverse()) await migrator.down({ migrations: [name] });
    expect(await migrator.getExecutedMigrations()).toEqual([]);
    await migrator.up();
    expect(await shape()).toEqual(before);
  });

  it('leave no function behind that a change calls for each row and that may read a whole table for it', async () => {
    const found = await rows<{ named: string; by_key: boolean }>(
      `select p.proname as named, coalesce('enable_seqscan=off' = any(p.proconfig), false) as by_key from pg_proc p
        where p.pronamespace = 'public'::regnamespace and p.prorettype = 'trigger'::regtype and exists (
          select from pg_class t where t.relnamespace = p.pronamespace and t.relkind = 'r' and p.prosrc ~ ('\\m(from|join|update|using) ' || t.relname || '\\M'))
        order by 1`,
    );
    expect(found.length).toBeGreaterThan(10);
    expect(found.filter((one) => !one.by_key)).toEqual([]);
  });

  it('keep every text through the change of how they wait: what a worker was sending is unconfirmed', async () => {
    await broadcastTo(world, 4);
    const [one, two] = await claimDueTexts(world.ctx, 1, 2);
    await storeAnswers(
      world.ctx,
      [{ text: one!, parts: [{ kind: 'taken', carrierId: 'a' }] }],
      [{ carrierId: 'a', stat: 'DELIVRD', err: '000', number: one!.number, userReference: null }],
    );
    const migrator = migratorOf(world.ctx.orm);
    await migrator.down({ to: 'Migration20261124000005' });
    // As the version before left it: a worker ended while it was sending.
    await rows(`update text set state = 'submitting' where id = '${two!.id}'`);
    await migrator.up();
    expect((await sent(world)).map(({ id, state }) => [id, state])).toEqual(
      (await sent(world)).map(({ id }) => [
        id,
        id === one!.id ? 'delivered' : id === two!.id ? 'unconfirmed' : 'queued',
      ]),
    );
    const events = await rows(
      `select event, detail from message_event where message_id = '${two!.id}' order by id`,
    );
    expect(events).toMatchObject([{ event: 'write' }, { event: 'lose', detail: 'worker ended' }]);
    expect(await claimDueTexts(world.ctx, 1, 10)).toHaveLength(2);
  });
});
