import { MikroORM } from '@mikro-orm/postgresql';
import { ormConfig } from '@/db/kit/config';
import { acrossWorkspaces, inWorkspace, type Scope } from '@/db/kit/scope';
import { UNCHECKED } from '@/core/wording/settings';
import { addSenderNumber, createWorkspace } from '@/services/access/create-workspace';
import { reportClearance } from '@/services/clearance/report-clearance';
import { makeContext, type Context } from '@/services/context';
import { migrate } from '@/services/migrate';
import { createProgram } from '@/services/programs/create-program';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { beginDueBroadcasts, prepareBroadcast } from '@/services/sends/prepare-broadcast';
import { addCrowd } from '@/services/testing/crowd';
import { scratchDatabase } from '../e2e/support/app';
import { round, say } from './report';

/** As many fictional numbers as there are. */
const PEOPLE = 36_000;
const BODY =
  'Bench: Hi {$person.first_name :wren:field fallback=friend}, clear tonight. https://sky.example.org/tonight';

/** Making the messages of a large broadcast, held against the same rows inserted by one statement; and its report. */
export async function benchSending(): Promise<void> {
  const orm = MikroORM.initSync(ormConfig(await scratchDatabase('bench_sending'))) as MikroORM;
  await migrate(orm);
  const ctx = makeContext(orm, () => Date.now());
  const { id } = await createWorkspace(ctx, {
    ...{ name: 'Bench', business: 'Bench', contact: 'bench', zone: 'America/Denver', weeklyCap: null },
    ...{ slug: 'bench', credits: 10_000_000, wording: UNCHECKED },
  });
  await inWorkspace(orm, id, (scope) => furnish(ctx, scope));
  await acrossWorkspaces(orm, (crossing) => crossing.run(`analyze`));
  await report(ctx, orm, id);
  const [people, seconds, grown] = await prepare(ctx, orm, id);
  const byHand = await insertedByHand(orm, id);
  say('messages of a broadcast made, links and all', {
    ...{ people, people_per_second: Math.round(people / seconds), asked_per_second: 8_000 },
    ...{ times_one_insert: round(seconds / byHand), asked_times: 4, memory_grown_mb: grown },
  });
  await orm.close(true);
}

async function furnish(ctx: Context, scope: Scope): Promise<void> {
  await addSenderNumber(ctx, scope, {
    ...{ number: '+17195550110', kind: 'short-code', registration: 'registered', partsPerSecond: 2_000 },
  });
  const program = await createProgram(ctx, scope, { name: 'Sky', purpose: 'recurring' }, 'bench');
  if (!program.ok) throw new Error('refused');
  await addCrowd(scope, program.value.id, PEOPLE);
}

const timed = async (work: () => Promise<unknown>): Promise<number> => {
  const from = performance.now();
  await work();
  return (performance.now() - from) / 1_000;
};

async function report(ctx: Context, orm: MikroORM, workspaceId: string): Promise<void> {
  const question = { program: 'Sky', body: BODY, at: ctx.now(), senderName: null, personId: null };
  let told: number[] = [];
  const watch = { tell: () => void told.push(performance.now()), signal: new AbortController().signal };
  const ask = () => inWorkspace(orm, workspaceId, (scope) => reportClearance(scope, question, watch));
  await ask();
  told = [];
  const from = performance.now();
  const seconds = round(await timed(ask));
  const first = told[0] === undefined ? null : round((told[0] - from) / 1_000);
  say('clearance report while writing', { people: PEOPLE, seconds, first_figures_after_seconds: first });
}

async function prepare(
  ctx: Context,
  orm: MikroORM,
  workspaceId: string,
): Promise<[people: number, seconds: number, grown: number]> {
  const id = await inWorkspace(orm, workspaceId, async (scope) => {
    const me = { name: 'bench', accountId: null };
    const made = await createBroadcast(ctx, scope, { program: 'Sky', name: 'B', body: BODY }, me);
    if (!made.ok || !(await sendBroadcast(ctx, scope, made.value.id, {}, me)).ok) throw new Error('refused');
    return made.value.id;
  });
  await beginDueBroadcasts(ctx);
  const before = process.memoryUsage().rss;
  const seconds = await timed(() => prepareBroadcast(ctx, workspaceId, id));
  const grown = Math.round((process.memoryUsage().rss - before) / 1_048_576);
  const [row] = await acrossWorkspaces(orm, (crossing) =>
    crossing.rows<{ n: number }>(`select count(*)::int as n from message`),
  );
  return [row!.n, seconds, grown];
}

/** The same rows, taken out and put back by one statement each. */
const insertedByHand = async (orm: MikroORM, workspaceId: string): Promise<number> =>
  inWorkspace(orm, workspaceId, async (scope) => {
    await scope.run(`create temp table kept as select * from message where workspace_id = :workspace`);
    await scope.run(`create temp table links as select * from short_link where workspace_id = :workspace`);
    await scope.run(`delete from short_link where workspace_id = :workspace`);
    await scope.run(`delete from message where workspace_id = :workspace`);
    return timed(async () => {
      await scope.run(`insert into message select * from kept where workspace_id = :workspace`);
      await scope.run(`insert into short_link select * from links where workspace_id = :workspace`);
    });
  });
