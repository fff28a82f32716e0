import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { createWorkspace } from '@/services/access/create-workspace';
import { checkConsent } from '@/services/consent/check-consent';
import { refusalOf } from '@/services/kit/database-refusal';
import { makeWorld, type World } from '@/services/testing/world';
import { Person } from '@/db/people/entities';
import { Program } from '@/db/programs/entities';
import { TookTooLong, WorkspaceForgotten } from './scope';

let world: World;
let other: string;
beforeAll(async () => {
  world = await makeWorld();
  other = (
    await createWorkspace(world.ctx, {
      slug: 'other',
      name: 'Other',
      business: 'Other',
      contact: 'x',
      zone: 'America/Denver',
      weeklyCap: null,
      credits: 0,
    })
  ).id;
  await world.texts('+13035550120', 'sky');
});
afterAll(() => world.close());

describe('a scope', () => {
  it('takes back what an attempt wrote, and goes on', async () => {
    const made = await world.within(async (scope) => {
      const failed = await scope.attempt(async () => {
        await scope.run(`update person set first_name = 'x' where workspace_id = :workspace`);
        await scope.rows(`select 1 / 0 as n where :workspace <> ''`);
      });
      const good = await scope.attempt(() =>
        scope.run(`update person set last_name = 'y' where workspace_id = :workspace`),
      );
      return { failed: failed.ok, good: good.ok };
    });
    expect(made).toEqual({ failed: false, good: true });
    expect(await world.within((scope) => scope.em.find(Person, {}))).toMatchObject([
      { firstName: null, lastName: 'y' },
    ]);
  });

  it('stores whatever text it is given, as far as PostgreSQL can hold it', async () => {
    await world.within((scope) =>
      scope.run(
        `update person set last_name = :name, first_name = (:names::text[])[1] where workspace_id = :workspace`,
        {
          ...{ name: 'a\0b \ud83d', names: ['\udc1e', null] },
        },
      ),
    );
    expect(await world.within((scope) => scope.em.find(Person, {}))).toMatchObject([
      { lastName: 'ab \ufffd', firstName: '\ufffd' },
    ]);
  });

  it('reads an instant that nobody knows as null', async () => {
    expect(
      await world.within((scope) =>
        scope.rows(`select 'infinity'::timestamptz as at where :workspace <> ''`),
      ),
    ).toEqual([{ at: null }]);
  });

  it('gives a question up that takes too long, which is told as a refusal', async () => {
    const error = await world
      .within(async (scope) => {
        await scope.rows(`select set_config('statement_timeout', '50', true) where :workspace <> ''`);
        await scope.rows(`select pg_sleep(5) where :workspace <> ''`);
      })
      .catch((thrown: unknown) => thrown);
    expect(error).toBeInstanceOf(TookTooLong);
    expect(refusalOf(error)).toMatchObject({
      reason: { code: 'invalid', problems: [{ message: expect.stringContaining('too long to work out') }] },
    });
  });
});

describe('a workspace', () => {
  it('refuses SQL that does not name it', async () => {
    await expect(world.within((scope) => scope.rows(`select * from person`))).rejects.toBeInstanceOf(
      WorkspaceForgotten,
    );
    await expect(world.within((scope) => scope.run(`delete from person`))).rejects.toBeInstanceOf(
      WorkspaceForgotten,
    );
  });

  it('filters every entity, and throws where no workspace is set', async () => {
    expect(await world.within((scope) => scope.em.find(Person, {}))).toHaveLength(1);
    expect(await world.within((scope) => scope.em.find(Person, {}), other)).toHaveLength(0);
    await expect(world.ctx.orm.em.fork().find(Person, {})).rejects.toThrow(/workspace/);
  });

  it('cannot point at a row of another workspace', async () => {
    const [program] = await world.within((scope) => scope.em.find(Program, {}));
    await expect(
      world.within(
        (scope) =>
          scope.run(
            `insert into keyword (id, workspace_id, program_id, word, created_at) values ('k', :workspace, :program, 'x', now())`,
            { program: program!.id },
          ),
        other,
      ),
    ).rejects.toThrow(/foreign key/);
  });
});

describe('the ledgers', () => {
  it.each(['consent_event', 'message_event', 'credit_entry', 'audit_entry'])(
    '%s takes no change',
    async (table) => {
      await world.within(async (scope) => {
        const [{ n }] = (await scope.rows<{ n: number }>(
          `select count(*)::int as n from ${table} where workspace_id = :workspace`,
        )) as [{ n: number }];
        if (n === 0)
          await scope.run(
            `insert into message_event (workspace_id, message_id, event, at) values (:workspace, 't', 'write', now())`,
          );
      });
      await expect(
        world.within((scope) => scope.run(`update ${table} set at = now() where workspace_id = :workspace`)),
      ).rejects.toThrow(/append-only/);
      await expect(
        world.within((scope) => scope.run(`delete from ${table} where workspace_id = :workspace`)),
      ).rejects.toThrow(/append-only/);
    },
  );

  it('fold to what is stored, and the check says where they do not', async () => {
    expect(await checkConsent(world.ctx, world.workspaceId)).toEqual({ people: 1, differences: [] });
    await world.within((scope) =>
      scope.run(`update consent_state set state = 'out' where workspace_id = :workspace`),
    );
    expect((await checkConsent(world.ctx, world.workspaceId)).differences).toMatchObject([
      { ledger: 'in', stored: 'out' },
    ]);
  });
});
