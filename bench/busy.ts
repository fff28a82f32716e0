import { MikroORM } from '@mikro-orm/postgresql';
import { UNCHECKED } from '@/core/wording/settings';
import { ormConfig } from '@/db/kit/config';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { addSenderNumber, createWorkspace } from '@/services/access/create-workspace';
import { makeContext, type Context } from '@/services/context';
import { migrate } from '@/services/migrate';
import { createProgram } from '@/services/programs/create-program';
import { createBroadcast, sendBroadcast } from '@/services/sends/broadcasts';
import { addCrowd } from '@/services/testing/crowd';
import { must } from '@/services/testing/people';
import { scratchDatabase, startApp, until, type App } from '../e2e/support/app';
import { ask } from './ask';

/** As many as there are fictional numbers: a broadcast of a hundred thousand has no more of them. */
const CROWD = 36_000;
export const ME = { name: 'bench', accountId: null };
/** The crowd's number, and one that whatever else is measured has for itself. */
const CROWDED = '+17195550110';
export const FREE = '+17195550111';

/** The application with a crowd that a broadcast can leave to while something else is measured. */
export interface Busy {
  app: App;
  ctx: Context;
  databaseUrl: string;
  within<T>(work: (scope: Scope) => Promise<T>): Promise<T>;
  /** Begins the broadcast, and gives when it is well under way. */
  leave(): Promise<void>;
  /** How many of it have not left. */
  waiting(): Promise<number>;
  close(): Promise<void>;
}

export async function startBusy(port: number, name: string): Promise<Busy> {
  const databaseUrl = await scratchDatabase(name);
  const orm = MikroORM.initSync(ormConfig(databaseUrl)) as MikroORM;
  await migrate(orm);
  // A broadcast leaves by day: the world's clock stands at noon of the mountains, whenever this runs.
  const ahead = Math.ceil((new Date().setUTCHours(43, 0, 0, 0) - Date.now()) / 60_000) % 1_440;
  const ctx = makeContext(orm, () => Date.now() + ahead * 60_000);
  const { id } = await createWorkspace(ctx, {
    ...{ name: 'Bench', business: 'Bench', contact: 'bench', zone: 'America/Denver', weeklyCap: null },
    ...{ slug: 'bench', credits: 10_000_000, wording: UNCHECKED },
  });
  const within = <T>(work: (scope: Scope) => Promise<T>) => inWorkspace(orm, id, work);
  await within((scope) => furnish(ctx, scope));
  const app = await startApp(port, databaseUrl, { WREN_NO_DEMO: '1' });
  await app.bench.advance(`PT${ahead}M`);
  const count = async (which: string) =>
    (
      await ask<{ n: number }>(
        databaseUrl,
        `select count(*)::int as n from message where kind = 'broadcast' and ${which}`,
      )
    )[0]!.n;
  return {
    ...{ app, ctx, databaseUrl, within },
    leave: async () => {
      await within(async (scope) => {
        const input = { program: 'Sky', name: 'Many', body: 'Bench: clear tonight.' };
        const made = must(await createBroadcast(ctx, scope, input, ME));
        must(await sendBroadcast(ctx, scope, made.id, {}, ME));
      });
      await until(
        () => count('submitted_at is not null'),
        (n) => n > 1_000,
        300_000,
        500,
      );
    },
    waiting: () => count(`state in ('queued', 'submitting')`),
    close: async () => {
      await app.stop();
      await orm.close(true);
    },
  };
}

async function furnish(ctx: Context, scope: Scope): Promise<void> {
  for (const number of [CROWDED, FREE])
    await addSenderNumber(ctx, scope, {
      ...{ number, kind: 'short-code', registration: 'registered', partsPerSecond: 1_000 },
    });
  const input = { name: 'Sky', purpose: 'recurring' as const, sender_numbers: [CROWDED] };
  const sky = must(await createProgram(ctx, scope, input, 'bench'));
  await addCrowd(scope, sky.id, CROWD);
}

/** Begins each of so many at a pace, however long the ones before take. */
export async function atPace<T>(
  count: number,
  aSecond: number,
  act: (i: number) => Promise<T>,
): Promise<T[]> {
  const all: Promise<T>[] = [];
  const began = performance.now();
  for (let i = 0; i < count; i += 1) {
    const wait = began + (i * 1_000) / aSecond - performance.now();
    if (wait > 0) await new Promise((resolve) => setTimeout(resolve, wait));
    all.push(act(i));
  }
  return Promise.all(all);
}
