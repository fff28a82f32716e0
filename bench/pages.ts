import { MikroORM } from '@mikro-orm/postgresql';
import { UNCHECKED } from '@/core/wording/settings';
import { DAY, HOUR, type Millis } from '@/core/shared/instant';
import { ormConfig } from '@/db/kit/config';
import { acrossWorkspaces, inWorkspace, type Crossing, type Scope } from '@/db/kit/scope';
import { putTogether } from '@/db/results/results';
import { broadcastsBetween, promiseUses } from '@/db/sends/calendar';
import { addSenderNumber, createWorkspace } from '@/services/access/create-workspace';
import { makeContext } from '@/services/context';
import { migrate } from '@/services/migrate';
import { readNumbers } from '@/services/numbers/screen';
import { createProgram } from '@/services/programs/create-program';
import { PROGRAM_COUNT_QUEUE } from '@/services/programs/figures';
import { readPrograms, readProgramScreen } from '@/services/programs/screen';
import { workThrough } from '@/services/kit/trouble';
import { readAsked } from '@/services/results/asked';
import { readOverview } from '@/services/results/screen';
import { readSend, readSends } from '@/services/sends/screen';
import { readRibbon } from '@/services/shell/screen';
import { addCrowd } from '@/services/testing/crowd';
import { readToday } from '@/services/today/screen';
import { scratchDatabase } from '../e2e/support/app';
import { quantile, say } from './report';

const PEOPLE = 36_000;
const BROADCASTS = 5_000;
const EACH = 1_000;
/** They went over half a year. */
const SINCE_DAYS = 180;
const LOOKS = 40;

/** What the pages that count ask, with five thousand broadcasts and five million texts behind them. */
export async function benchPages(): Promise<void> {
  const orm = MikroORM.initSync(ormConfig(await scratchDatabase('bench_pages'))) as MikroORM;
  await migrate(orm);
  const now = Date.now();
  const ctx = makeContext(orm, () => now);
  const { id } = await createWorkspace(ctx, {
    ...{ name: 'Bench', business: 'Bench', contact: 'bench', zone: 'America/Denver', weeklyCap: null },
    ...{ slug: 'pages', credits: 10_000_000, wording: UNCHECKED },
  });
  await inWorkspace(orm, id, async (scope) => {
    await addSenderNumber(ctx, scope, {
      ...{ number: '+17195550110', kind: 'short-code', registration: 'registered', partsPerSecond: 2_000 },
    });
    const program = await createProgram(ctx, scope, { name: 'Sky', purpose: 'recurring' }, 'bench');
    if (!program.ok) throw new Error('refused');
    await addCrowd(scope, program.value.id, PEOPLE, { name: 'pages' });
  });
  await fill(orm, id, now);
  await workThrough(ctx, PROGRAM_COUNT_QUEUE);
  for (const [page, look] of Object.entries(PAGES)) {
    const times: number[] = [];
    for (let i = 0; i < LOOKS; i++) {
      const from = performance.now();
      await inWorkspace(orm, id, (scope) => look(scope, now - (i % 4) * HOUR));
      times.push(performance.now() - from);
    }
    say(`page with ${BROADCASTS} broadcasts and ${BROADCASTS * EACH} texts`, {
      ...{ page, p50_ms: Math.round(quantile(times, 0.5)), p95_ms: Math.round(quantile(times, 0.95)) },
      asked_p95_ms: 150,
    });
  }
  await orm.close(true);
}

const PAGES: Record<string, (scope: Scope, now: Millis) => Promise<unknown>> = {
  today: (scope, now) => readToday(scope, now, 'America/Denver', 'acc_nobody'),
  ribbon: readRibbon,
  sends: (scope) => readSends(scope, '', 60),
  'one send': (scope, now) => readSend(scope, `bct_${String(4_000 + (now % 7)).padStart(6, '0')}`, now),
  calendar: async (scope, now) => [
    await broadcastsBetween(scope, new Date(now - 14 * DAY), new Date(now + 14 * DAY)),
    await promiseUses(scope, { month: new Date(now).toISOString().slice(0, 7), zone: 'America/Denver' }),
  ],
  results: async (scope: Scope, now: number) => {
    const asked = await readAsked(scope, { days: 364 }, now);
    return asked.ok ? readOverview(scope, asked.value) : null;
  },
  numbers: readNumbers,
  programs: readPrograms,
  'a program': async (scope, now) =>
    readProgramScreen(
      scope,
      (await scope.rows<{ id: string }>(`select id from program where workspace_id = :workspace`))[0]!.id,
      now,
    ),
};

/** The past is written set by set, as delivery would have left it; keys to other tables are not looked up anew for each row. */
const fill = (orm: MikroORM, workspace: string, now: Millis): Promise<void> =>
  acrossWorkspaces(orm, async (crossing) => {
    const values = { workspace, now: new Date(now) };
    await crossing.run(
      `insert into broadcast (id, workspace_id, program_id, channel, name, body, state, send_at, begun_at, finished_at, created_at, updated_at)
       select 'bct_' || lpad(i::text, 6, '0'), :workspace, (select id from program), 'sms', 'B' || i, 'Clear tonight.', 'finished', at, at, at + interval '1 hour', at, at
         from generate_series(1, ${BROADCASTS}) i cross join lateral (select :now - interval '1 day' * ${SINCE_DAYS} * (${BROADCASTS} - i) / ${BROADCASTS} as at) x`,
      values,
    );
    await withoutIndexes(crossing, async () => {
      for (let from = 0; from < BROADCASTS; from += 500) {
        await crossing.run(
          `insert into message (id, workspace_id, person_id, program_id, send_id, kind, channel, address, sender_id, body, body_hash, alphabet, parts, credits, state,
                                priority, failure, submitted_at, settled_at, created_at)
           select 'txt_' || lpad(b.i::text, 6, '0') || lpad(k::text, 4, '0'), :workspace, 'per_pages' || lpad((1 + (b.i * ${EACH} + k) % ${PEOPLE})::text, 8, '0'), b.program_id, b.id,
                  'broadcast', 'sms', '+1', (select id from sender_number), 'Clear tonight.', 'h' || b.i, 'GSM-7', 1, 1, case when k % 50 = 0 then 'failed' else 'delivered' end,
                  3, case when k % 50 = 0 then 'unreachable' end, b.begun_at, b.begun_at, b.begun_at
             from (select *, right(id, 6)::int as i from broadcast) b cross join generate_series(1, ${EACH}) k where b.i > :from and b.i <= :from + 500`,
          { ...values, from },
        );
        await putTogether(crossing);
      }
    });
    await crossing.run(
      `insert into inbound_text (id, workspace_id, person_id, channel, sender_id, from_number, carrier_id, body, meaning, rule, evidence, after_text_id, after_send_id, at)
       select 'in_' || id, workspace_id, person_id, 'sms', sender_id, '+1', 'c' || id, 'Lovely', case when right(id, 2) = '07' then 'opt-out' else 'reply' end, 'none', '', id, send_id, submitted_at + interval '5 minutes'
         from message where right(id, 2) in ('07', '31', '63')`,
    );
    await crossing.run(
      `insert into engagement (workspace_id, person_id, kind, text_id, send_id, at)
       select workspace_id, person_id, 'clicked', id, send_id, submitted_at + interval '3 minutes' from message where right(id, 2) in ('11', '22')`,
    );
    await crossing.run('analyze');
  });

/** Rows go in without the indexes of the table, which are made again behind them. */
async function withoutIndexes(crossing: Crossing, work: () => Promise<void>): Promise<void> {
  const indexes = await crossing.rows<{ name: string; made: string }>(
    `select i.indexname as name, i.indexdef as made from pg_indexes i where i.tablename = 'message'
        and not exists (select 1 from pg_constraint c where c.conname = i.indexname)`,
  );
  for (const { name } of indexes) await crossing.run(`drop index ${name}`);
  await crossing.run(`alter table message disable trigger all`);
  await crossing.run(`alter table message enable trigger tally_fresh`);
  await work();
  await crossing.run(`alter table message enable trigger all`);
  await crossing.run(`set local maintenance_work_mem = '512MB'`);
  for (const { made } of indexes) await crossing.run(made);
}
