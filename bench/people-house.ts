import { MikroORM } from '@mikro-orm/postgresql';
import pg from 'pg';
import areaCodes from '@/core/phone/area-codes.json';
import { ormConfig } from '@/db/kit/config';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { makeContext, type Context } from '@/services/context';
import { createProgram } from '@/services/programs/create-program';
import { addSenderNumber, createWorkspace } from '@/services/access/create-workspace';
import { findOrMakeLabel } from '@/services/people/labels';
import { migrate } from '@/services/migrate';
import { hasDatabase, scratchDatabase } from '../e2e/support/app';

export const PEOPLE = Number(process.env.WREN_BENCH_PEOPLE ?? 1_000_000);
export const TEXTS_EACH = 5;

export interface House {
  ctx: Context;
  client: pg.Client;
  workspaceId: string;
  program: string;
  broadcasts: string[];
  tags: string[];
}

const BROADCASTS = Array.from({ length: TEXTS_EACH + 1 }, (_, i) => `brc_bench${i}`);

/**
 * The house in a database of its own. With WREN_BENCH_KEEP=1 it is built once and copied for each run after, which
 * makes minutes of work on one part bearable.
 */
export async function openHouse(): Promise<House & { close(): Promise<void> }> {
  const template = process.env.WREN_BENCH_KEEP ? `house_${PEOPLE}` : null;
  const built = template !== null && (await hasDatabase(template));
  if (template && !built) await fill(await scratchDatabase(template));
  const databaseUrl = await scratchDatabase('bench_people', template ?? undefined);
  if (!template) await fill(databaseUrl);
  const orm = MikroORM.initSync(ormConfig(databaseUrl)) as MikroORM;
  await migrate(orm);
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  const ids = async (sql: string) => (await client.query<{ id: string }>(sql)).rows.map(({ id }) => id);
  const [workspaceId] = await ids(`select id from workspace`);
  const [program] = await ids(`select id from program`);
  const tags = await ids(`select id from label order by id`);
  return {
    ...{ ctx: makeContext(orm, () => Date.now()), client, tags, broadcasts: BROADCASTS },
    ...{ workspaceId: workspaceId!, program: program! },
    async close() {
      await client.end();
      await orm.close(true);
    },
  };
}

async function fill(databaseUrl: string): Promise<void> {
  const orm = MikroORM.initSync(ormConfig(databaseUrl)) as MikroORM;
  const client = new pg.Client({ connectionString: databaseUrl });
  try {
    await migrate(orm);
    await client.connect();
    await furnish(
      makeContext(orm, () => Date.now()),
      client,
    );
  } finally {
    await client.end();
    await orm.close(true);
  }
}

/** People, tags, membership and texts, straight into the tables: the services would take hours. */
async function furnish(ctx: Context, client: pg.Client): Promise<void> {
  const workspace = await createWorkspace(ctx, {
    slug: 'b',
    name: 'B',
    business: 'B',
    contact: 'x',
    zone: 'America/Denver',
    weeklyCap: null,
    credits: 1,
  });
  const within = <T>(work: (scope: Scope) => Promise<T>) => inWorkspace(ctx.orm, workspace.id, work);
  await within((scope) =>
    addSenderNumber(ctx, scope, {
      number: '+17195550110',
      kind: 'local',
      registration: 'registered',
      partsPerSecond: 10,
    }),
  );
  const made = await within((scope) =>
    createProgram(ctx, scope, { name: 'Clear Sky Alerts', purpose: 'recurring' }, 'bench'),
  );
  if (!made.ok) throw new Error('refused');
  const program = made.value.id;
  const tags: string[] = [];
  for (let i = 0; i < 20; i++) {
    const tag = await within((scope) => findOrMakeLabel(ctx, scope, 'tag', `tag ${i}`, 'bench'));
    if (tag.ok) tags.push(tag.value.id);
  }
  const codes = Object.keys(areaCodes.codes);
  const regions = codes.map((code) => (areaCodes.codes as Record<string, { region: string }>)[code]!.region);
  const run = (sql: string, values: unknown[] = []) => client.query(sql, values);
  await run(`set session_replication_role = replica`);
  for (const id of BROADCASTS)
    await run(
      `insert into broadcast (id, workspace_id, program_id, name, channel, body, state, created_at, updated_at) values ($1, $2, $3, $1, 'sms', 'x', 'finished', now(), now())`,
      [id, workspace.id, program],
    );
  // Numbers of the fictional exchange do not suffice for a million: these are made up beyond any real plan.
  await run(
    `insert into person (id, workspace_id, number, first_name, last_name, email, postal_code, source, place_region, place_zones, fields, created_at, last_wrote_at)
     select 'per_' || lpad(i::text, 9, '0'), $1, '+1' || ($2::text[])[1 + i % cardinality($2::text[])] || lpad((i / cardinality($2::text[]))::text, 7, '0'),
            'First' || (i::bigint * 7919 % 5003), 'Last' || (i::bigint * 104729 % 50021), case when i % 3 = 0 then 'p' || (i % 900000) || '@example.org' end,
            case when i % 2 = 0 then lpad((10000 + i % 30000)::text, 5, '0') end, case when i % 5 = 0 then 'import' else 'keyword' end,
            ($3::text[])[1 + i % cardinality($3::text[])], array['America/Denver'], jsonb_build_object('visits', (i % 40)::text),
            now() - (i % 400) * interval '1 day', case when i % 6 = 0 then now() - (i % 300) * interval '1 day' end
       from generate_series(1, $4::int) i`,
    [workspace.id, codes, regions, PEOPLE],
  );
  for (const shift of [0, 7])
    await run(
      `insert into person_label (workspace_id, label_id, person_id, at) select $1, ($2::text[])[1 + (i * 31 + $3) % 20], 'per_' || lpad(i::text, 9, '0'), now() from generate_series(1, $4::int) i`,
      [workspace.id, tags, shift, PEOPLE],
    );
  await run(
    `insert into address (workspace_id, person_id, kind, rank, value, since)
     select workspace_id, id, 'number', 0, number, now() from person union all select workspace_id, id, 'email', 0, email, now() from person where email is not null`,
  );
  await run(
    `insert into consent_state (workspace_id, person_id, program_id, channel, address, state, method, since, event_id, was_in)
     select $1, p.id, $2, 'sms', p.number, case when right(p.id, 9)::int % 11 = 0 then 'out' else 'in' end, 'keyword', now(), 'x', true from person p`,
    [workspace.id, program],
  );
  await run(
    `insert into message (id, workspace_id, person_id, program_id, send_id, channel, kind, address, body, body_hash, alphabet, parts, credits, state, priority, created_at, submitted_at)
     select 'txt_' || b || '_' || lpad(i::text, 9, '0'), $1, 'per_' || lpad(i::text, 9, '0'), $2, 'brc_bench' || ((i + b) % ${TEXTS_EACH + 1}), 'sms', 'broadcast', '+1', 'Clear tonight.', 'x', 'GSM-7', 1, 1,
            case when (i + b) % 29 = 0 then 'failed' else 'delivered' end, 1, now() - b * interval '20 days', now() - b * interval '20 days'
       from generate_series(1, $3::int) i, generate_series(1, ${TEXTS_EACH}) b`,
    [workspace.id, program, PEOPLE],
  );
  await run(
    `insert into last_text (person_id, workspace_id, at) select 'per_' || lpad(i::text, 9, '0'), $1, now() - (i % 90) * interval '1 day' from generate_series(1, $2::int) i where i % 4 <> 0`,
    [workspace.id, PEOPLE],
  );
  await run(`set session_replication_role = origin`);
  await run(`vacuum analyze`);
}
