import { MikroORM } from '@mikro-orm/postgresql';
import pg from 'pg';
import { BOXES } from '@/core/inbox/waiting';
import { ormConfig } from '@/db/kit/config';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { makeContext } from '@/services/context';
import { createProgram } from '@/services/programs/create-program';
import { addAccount, addSenderNumber, createWorkspace } from '@/services/access/create-workspace';
import { findThreads, readBox, type InboxFilters } from '@/services/inbox/screen';
import { migrate } from '@/services/migrate';
import { must } from '@/services/testing/people';
import { hasDatabase, scratchDatabase } from '../e2e/support/app';
import { quantile, round, say } from './report';

const THREADS = Number(process.env.WREN_BENCH_THREADS ?? 1_000_000);
/** Of each: two that came, three that were answered. */
const MESSAGES = 5 * THREADS;
/** Nobody lets more wait at once. */
const WAIT = THREADS / 500;
const PUT_OFF = 1_000;
const TIMES = 20;

/** The first page of every box, whatever it is narrowed by, and words looked for among five million messages. */
export async function benchInbox(): Promise<void> {
  // With WREN_BENCH_KEEP=1 the house is built once.
  const name = `inbox_${THREADS}`;
  const kept = process.env.WREN_BENCH_KEEP !== undefined && (await hasDatabase(name));
  const databaseUrl = kept
    ? (process.env.WREN_TEST_CLUSTER ?? '').replace(/\/postgres$/, `/${name}`)
    : await scratchDatabase(name);
  const orm = MikroORM.initSync(ormConfig(databaseUrl)) as MikroORM;
  try {
    if (!kept) {
      await migrate(orm);
      await furnish(orm, databaseUrl);
    }
    const client = new pg.Client({ connectionString: databaseUrl });
    await client.connect();
    const ids = async (sql: string) => (await client.query<{ id: string }>(sql)).rows.map(({ id }) => id);
    const [workspaceId] = await ids(`select id from workspace`);
    const [accountId] = await ids(`select id from account order by id offset 1 limit 1`);
    const [program] = await ids(`select id from program`);
    const [sender] = await ids(`select id from sender_number`);
    await client.end();
    const within = <T>(work: (scope: Scope) => Promise<T>) => inWorkspace(orm, workspaceId!, work);
    await pages(within, accountId!, { program: program!, sender: sender! });
    await words(within);
  } finally {
    await orm.close(true);
  }
}

type Within = <T>(work: (scope: Scope) => Promise<T>) => Promise<T>;

async function furnish(orm: MikroORM, databaseUrl: string): Promise<void> {
  const ctx = makeContext(orm, () => Date.now());
  const { id } = await createWorkspace(ctx, {
    ...{ name: 'Bench', business: 'Bench', contact: 'bench', zone: 'America/Denver', weeklyCap: null },
    ...{ slug: 'bench', credits: 1 },
  });
  for (const who of ['a', 'b', 'c'])
    await addAccount(ctx, id, {
      ...{ email: `${who}@example.org`, name: who, password: `bench ${who} bench`, role: 'teammate' },
    });
  const programId = await inWorkspace(orm, id, async (scope) => {
    await addSenderNumber(ctx, scope, {
      ...{ number: '+17195550110', kind: 'local', registration: 'registered', partsPerSecond: 10 },
    });
    return must(await createProgram(ctx, scope, { name: 'Sky', purpose: 'recurring' }, 'bench')).id;
  });
  const client = new pg.Client({ connectionString: databaseUrl });
  await client.connect();
  const run = (sql: string, values: unknown[] = []) => client.query(sql, values);
  // Straight into the tables: the services would take days.
  await run(`set session_replication_role = replica`);
  await run(`set maintenance_work_mem = '512MB'`);
  await run(
    `insert into person (id, workspace_id, number, first_name, last_name, source, created_at, last_wrote_at, waiting_since, unclear_since)
     select 'per_' || i, $1, '+1719' || lpad(i::text, 7, '0'), 'First' || (i::bigint * 7919 % 5003), 'Last' || (i::bigint * 104729 % 50021), 'keyword', now() - interval '400 days',
            now() - (i % 300) * interval '1 day', case when i <= $2::int then now() - (i % 5000) * interval '1 minute' end, case when i <= $2::int and i % 50 = 0 then now() - (i % 5000) * interval '1 minute' end
       from generate_series(1, $3::int) i`,
    [id, WAIT, THREADS],
  );
  await run(
    `insert into address (workspace_id, person_id, kind, rank, value, since) select workspace_id, id, 'number', 0, number, now() from person`,
  );
  await run(
    `insert into thread (workspace_id, person_id, account_id, given_at, why, why_at, channel, sender_id, program_id, later_until, later_why, later_since, done_at)
     select $1, 'per_' || i, case when i % 3 > 0 then (select array_agg(id order by id) from account)[1 + i % 3] end, now(), (array['question', 'reply', 'answer', 'near-miss', 'file'])[1 + i % 5], now(),
            (array['sms', 'sms', 'chat', 'email'])[1 + i % 4], (select id from sender_number), $2, case when i % ${THREADS / PUT_OFF} = 7 then now() + interval '2 days' end, case when i % ${THREADS / PUT_OFF} = 7 then 'later' end,
            case when i % ${THREADS / PUT_OFF} = 7 then now() end, case when i % 100 = 3 then now() - (i % 20) * interval '1 day' end
       from generate_series(1, $3::int) i`,
    [id, programId, THREADS],
  );
  // Some words stand in every fourth text, most in a handful: as in a language.
  const said = (seed: string) =>
    `(select string_agg('w' || floor(20000 * power(random(), 4))::int, ' ') from generate_series(1, 7) g where ${seed} > 0)`;
  const slices = 10;
  for (let slice = 0; slice < slices; slice++) {
    const [from, to] = [(slice * THREADS) / slices + 1, ((slice + 1) * THREADS) / slices];
    await run(
      `insert into inbound_text (id, workspace_id, person_id, channel, sender_id, from_number, body, meaning, rule, evidence, at)
       select 'inb_' || b || '_' || i, $1, 'per_' || i, 'sms', (select id from sender_number), 'a', ${said('i')}, 'reply', 'x', 'x', now() - (i % 300) * interval '1 day' - b * interval '1 hour'
         from generate_series($2::int, $3::int) i, generate_series(1, 2) b`,
      [id, from, to],
    );
    await run(
      `insert into message (id, workspace_id, person_id, program_id, channel, kind, address, body, body_hash, alphabet, parts, credits, state, priority, created_at, submitted_at, settled_at)
       select 'txt_' || b || '_' || i, $1, 'per_' || i, $4, 'sms', 'answer', 'a', ${said('i')}, 'x', 'GSM-7', 1, 1, 'delivered', 1, at, at, at
         from generate_series($2::int, $3::int) i, generate_series(1, 3) b cross join lateral (select now() - (i % 300) * interval '1 day' - b * interval '2 hours' as at) t`,
      [id, from, to, programId],
    );
  }
  await run(`set session_replication_role = origin`);
  await run(`vacuum analyze`);
  await client.end();
}

async function timed(work: () => Promise<unknown>): Promise<number[]> {
  await work();
  const took: number[] = [];
  for (let i = 0; i < TIMES; i++) {
    const began = performance.now();
    await work();
    took.push(performance.now() - began);
  }
  return took;
}

const NOTHING: InboxFilters = { program: null, channel: null, sender: null, source: null, why: null };

async function pages(
  within: Within,
  accountId: string,
  { program, sender }: { program: string; sender: string },
): Promise<void> {
  const narrowed: Record<string, Partial<InboxFilters>> = {
    all: {},
    program: { program },
    channel: { channel: 'chat' },
    number: { sender },
    why: { why: 'question' },
    source: { source: 'src_none' },
  };
  for (const box of BOXES)
    for (const [by, filters] of Object.entries(narrowed)) {
      const ask = () =>
        within((scope) =>
          readBox(scope, {
            ...{ box, accountId, page: 0, now: Date.now() },
            filters: { ...NOTHING, ...filters },
          }),
        );
      const { rows } = await ask();
      const took = await timed(ask);
      say('inbox, first page', {
        ...{ threads: THREADS, messages: MESSAGES, wait: WAIT, box, by, rows: rows.length },
        ...{ p50_ms: round(quantile(took, 0.5)), p95_ms: round(quantile(took, 0.95)), asked_ms: 150 },
      });
    }
}

async function words(within: Within): Promise<void> {
  const looked: Record<string, string> = {
    rare: 'w19999',
    middling: 'w5000',
    frequent: 'w0',
    'two words': 'w12 w300',
    phrase: '"w0 w1"',
    'none of them': 'never',
    'a name': 'First77',
  };
  for (const [kind, typed] of Object.entries(looked)) {
    const ask = () => within((scope) => findThreads(scope, typed));
    const found = await ask();
    const took = await timed(ask);
    say('inbox, words looked for', {
      ...{ messages: MESSAGES, kind, found: found.length },
      ...{ p50_ms: round(quantile(took, 0.5)), p95_ms: round(quantile(took, 0.95)), asked_ms: 200 },
    });
  }
}
