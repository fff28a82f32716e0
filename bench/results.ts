import { MikroORM } from '@mikro-orm/postgresql';
import { ormConfig } from '@/db/kit/config';
import { acrossWorkspaces, inWorkspace, type Scope } from '@/db/kit/scope';
import { cameSums, howOften, staySums } from '@/db/results/keeping';
import { markAllSumsDue } from '@/db/results/sums';
import { addSenderNumber, createWorkspace } from '@/services/access/create-workspace';
import { makeContext, type Context } from '@/services/context';
import { workThrough } from '@/services/kit/trouble';
import { migrate } from '@/services/migrate';
import { createProgram } from '@/services/programs/create-program';
import { readAsked, type Asked } from '@/services/results/asked';
import { putSumsTogether, SUMS_QUEUE } from '@/services/results/count-sums';
import { readOverview } from '@/services/results/screen';
import { must } from '@/services/testing/people';
import { scratchDatabase } from '../e2e/support/app';
import { quantile, round, say } from './report';

const PEOPLE = 200_000;
const MESSAGES = 1_000_000;
const SLICES = 20;

/** Kept sums against counting anew: what they save whoever reads, and what they cost whoever sends. */
export async function benchResults(): Promise<void> {
  const orm = MikroORM.initSync(ormConfig(await scratchDatabase('bench_results'))) as MikroORM;
  try {
    await migrate(orm);
    const ctx = makeContext(orm, () => Date.now());
    const { id } = await createWorkspace(ctx, {
      ...{ name: 'Bench', business: 'Bench', contact: 'bench', zone: 'America/Denver', weeklyCap: null },
      ...{ slug: 'bench', credits: 10_000_000 },
    });
    const within = <T>(work: (scope: Scope) => Promise<T>) => inWorkspace(orm, id, work);
    const programId = await within((scope) => furnish(ctx, scope));
    for (let slice = 0; slice < SLICES; slice++) await within((scope) => fill(scope, programId, slice));
    while ((await putSumsTogether(ctx)) > 0);
    await acrossWorkspaces(orm, (crossing) => crossing.run('analyze'));
    const asked = await within(async (scope) => must(await readAsked(scope, { days: 364 }, ctx.now())));
    await overview(within, asked);
    await cohorts(within, asked);
    await anew(ctx, within);
    // Last: what it does without the sums is not in them.
    await keeping(orm, within);
  } finally {
    await orm.close(true);
  }
}

type Within = <T>(work: (scope: Scope) => Promise<T>) => Promise<T>;

async function furnish(ctx: Context, scope: Scope): Promise<string> {
  await addSenderNumber(ctx, scope, {
    ...{ number: '+17195550110', kind: 'local', registration: 'registered', partsPerSecond: 10 },
  });
  const input = {
    name: 'Alerts',
    purpose: 'recurring' as const,
    promise: { count: 6, period: 'month' as const },
  };
  const { id } = must(
    await createProgram(ctx, scope, { ...input, sender_numbers: ['+17195550110'] }, 'bench'),
  );
  await scope.run(
    `insert into person (id, workspace_id, first_name, source, created_at) select 'per_' || i, :workspace, 'P', 'bench', now() from generate_series(1, ${PEOPLE}) i`,
  );
  await scope.run(
    `insert into consent_event (id, workspace_id, person_id, program_id, channel, address, kind, method, evidence, at)
     select 'con_' || i, :workspace, 'per_' || i, :id, 'sms', 'a' || i, 'opted-in', 'keyword', '{}', now() - (i % 360) * interval '1 day' - interval '1 hour' from generate_series(1, ${PEOPLE}) i`,
    { id },
  );
  return id;
}

/** A share of the year's messages with what came back: one in twenty answers, one in two hundred goes. */
async function fill(scope: Scope, programId: string, slice: number): Promise<void> {
  const each = MESSAGES / SLICES;
  const values = { programId, from: slice * each };
  await scope.run(
    `insert into message (id, workspace_id, person_id, program_id, channel, kind, address, sender_id, body, body_hash, alphabet, parts, credits, state, failure, priority, created_at, submitted_at, settled_at)
     select 'txt_' || lpad((:from::int + i)::text, 9, '0'), :workspace, 'per_' || (1 + (:from::int + i) % ${PEOPLE}), :programId, 'sms', 'broadcast', 'a', (select id from sender_number limit 1), 'x', 'x', 'GSM-7', 1, 1,
            case when i % 50 = 0 then 'failed' else 'delivered' end, case when i % 50 = 0 then 'unreachable' end, 5, at, at, at
       from generate_series(1, ${each}) i cross join lateral (select now() - ((:from::int + i) % 525600) * interval '1 minute' - interval '2 hours' as at) t`,
    values,
  );
  await scope.run(
    `insert into inbound_text (id, workspace_id, person_id, channel, sender_id, from_number, body, meaning, rule, evidence, after_text_id, at)
     select 'inb_' || id, :workspace, person_id, 'sms', sender_id, 'a', 'x', 'reply', 'x', 'x', id, submitted_at + interval '20 minutes' from message
      where workspace_id = :workspace and id > 'txt_' || lpad(:from::text, 9, '0') and id <= 'txt_' || lpad((:from::int + ${each})::text, 9, '0') and right(id, 2) in ('01', '21', '41', '61', '81')`,
    { from: values.from },
  );
  await scope.run(
    `insert into consent_event (id, workspace_id, person_id, program_id, channel, address, kind, method, evidence, at)
     select 'out_' || id, :workspace, person_id, program_id, 'sms', 'a', 'opted-out', 'reply', jsonb_build_object('afterTextId', id), submitted_at + interval '10 minutes' from message
      where workspace_id = :workspace and id > 'txt_' || lpad(:from::text, 9, '0') and id <= 'txt_' || lpad((:from::int + ${each})::text, 9, '0') and right(id, 3) in ('007', '207', '407', '607', '807')`,
    { from: values.from },
  );
}

async function timed(work: () => Promise<unknown>, times: number): Promise<number[]> {
  const took: number[] = [];
  for (let i = 0; i < times; i++) {
    const began = performance.now();
    await work();
    took.push(performance.now() - began);
  }
  return took;
}

/** The same numbers from the rows themselves, as somebody would write it by hand. */
const BY_HAND = `select
  (select count(*) from message where workspace_id = :workspace and submitted_at >= :from and submitted_at < :until and state in ('submitting', 'submitted', 'delivered', 'failed', 'no-receipt', 'unconfirmed'))::int as sent,
  (select count(*) from message where workspace_id = :workspace and submitted_at >= :from and submitted_at < :until and state = 'delivered')::int as delivered,
  (select count(*) from message where workspace_id = :workspace and submitted_at >= :from and submitted_at < :until and state = 'failed')::int as failed,
  (select count(*) from inbound_text where workspace_id = :workspace and at >= :from and at < :until and meaning in ('reply', 'unclear'))::int as replied,
  (select count(distinct i.after_text_id) from inbound_text i join message m on m.id = i.after_text_id where i.workspace_id = :workspace and m.submitted_at >= :from and m.submitted_at < :until and i.meaning in ('reply', 'unclear'))::int as answered,
  (select count(*) from consent_event where workspace_id = :workspace and at >= :from and at < :until and comes)::int as joined,
  (select count(*) from consent_event where workspace_id = :workspace and at >= :from and at < :until and leaves)::int as "left",
  (select sum(credits) from message where workspace_id = :workspace and submitted_at >= :from and submitted_at < :until)::int as spent`;

async function overview(within: Within, asked: Asked): Promise<void> {
  const [from, until] = await within(async (scope) => {
    const [row] = await scope.rows<{ from: Date; until: Date }>(
      `select :from::timestamp at time zone zone as from, :until::timestamp at time zone zone as until from workspace where id = :workspace`,
      { from: asked.span.from, until: asked.span.until },
    );
    return [row!.from, row!.until];
  });
  const kept = await timed(() => within((scope) => readOverview(scope, asked)), 20);
  const byHand = await timed(() => within((scope) => scope.rows(BY_HAND, { from, until })), 3);
  const { lines } = await within((scope) => readOverview(scope, asked));
  const [counted] = await within((scope) => scope.rows<Record<string, number>>(BY_HAND, { from, until }));
  const differs = Object.entries(counted!).filter(([name, n]) => lines[name as keyof typeof lines].now !== n);
  say('overview of a year, kept sums against counting', {
    ...{
      messages: MESSAGES,
      kept_p50_ms: round(quantile(kept, 0.5)),
      kept_p95_ms: round(quantile(kept, 0.95)),
    },
    ...{
      by_hand_p50_ms: round(quantile(byHand, 0.5)),
      times_faster: round(quantile(byHand, 0.5) / quantile(kept, 0.5)),
    },
    differs: differs.map(([name]) => name),
  });
}

async function cohorts(within: Within, { today }: Asked): Promise<void> {
  const since = '2020-01-01';
  const curves = await timed(
    () => within(async (scope) => [await cameSums(scope, since, null), await staySums(scope, since, null)]),
    20,
  );
  const until = new Date(`${today}T00:00:00Z`);
  const often = await timed(
    () => within((scope) => howOften(scope, new Date(until.getTime() - 91 * 86_400_000), until, 10)),
    3,
  );
  say('who stays', {
    ...{ people: PEOPLE, curves_p95_ms: round(quantile(curves, 0.95)) },
    how_often_p50_ms: round(quantile(often, 0.5)),
  });
}

/** A message's life in slices of 500, with the sums and without them. */
async function keeping(orm: MikroORM, within: Within): Promise<void> {
  const life = (slice: number) =>
    within(async (scope) => {
      for (const state of ['submitting', 'submitted', 'delivered'])
        await scope.run(
          `update message set state = :state, submitted_at = :at where workspace_id = :workspace and id > 'txt_' || lpad(:from::text, 9, '0') and id <= 'txt_' || lpad((:from::int + 500)::text, 9, '0')`,
          { state, from: slice * 500, at: new Date() },
        );
    });
  const without = (which: 'disable' | 'enable') =>
    acrossWorkspaces(orm, (crossing) => crossing.run(`alter table message ${which} trigger tally_changed`));
  await timed(() => life(0), 5);
  const [kept, alone]: [number[], number[]] = [[], []];
  for (let i = 1; i <= 40; i++) {
    kept.push(...(await timed(() => life(2 * i), 1)));
    await without('disable');
    alone.push(...(await timed(() => life(2 * i + 1), 1)));
    await without('enable');
  }
  say('what keeping sums costs a slice of 500 through three states', {
    ...{ with_ms: round(quantile(kept, 0.5)), without_ms: round(quantile(alone, 0.5)) },
    ratio: round(quantile(kept, 0.5) / quantile(alone, 0.5)),
  });
}

async function anew(ctx: Context, within: Within): Promise<void> {
  const sums = () =>
    within((scope) =>
      scope.rows(
        `select about, id, channel, day, nth, what, reason, sum(n) as n from tally where workspace_id = :workspace and about not in ('send', 'sender') group by 1, 2, 3, 4, 5, 6, 7 having sum(n) <> 0 order by 1, 2, 3, 4, 5, 6, 7`,
      ),
    );
  const before = JSON.stringify(await sums());
  await acrossWorkspaces(ctx.orm, markAllSumsDue);
  const slices: number[] = [];
  for (let more = 1; more > 0;) [more] = await counted(() => workThrough(ctx, SUMS_QUEUE), slices);
  const after = JSON.stringify(await sums());
  say('all sums counted anew, a month at a time', {
    ...{ slices: slices.length - 1, whole_s: round(slices.reduce((a, b) => a + b, 0) / 1_000) },
    ...{ longest_slice_ms: round(Math.max(...slices)), equal: before === after },
  });
}

async function counted(work: () => Promise<number>, slices: number[]): Promise<[number]> {
  const began = performance.now();
  const n = await work();
  slices.push(performance.now() - began);
  return [n];
}
