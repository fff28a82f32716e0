import type { Day } from '@/core/audience/days';
import { firstKept, PUT_AWAY_CHOICES } from '@/core/delivery/bundle';
import { DAY, SECOND } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import {
  bringBack,
  lookAgainAt,
  nextBundle,
  oldMonths,
  putAwayDue,
  putAwaySlice,
  type OldMonth,
} from '@/db/delivery/bundles';
import { announce } from '@/db/delivery/texts';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import type { MikroORM } from '@mikro-orm/postgresql';
import { lockWorkspace } from '@/services/access/change-workspace';
import { writeAudit } from '@/services/kit/audit';
import { IsStamp } from '@/services/kit/checks';
import type { Context } from '@/services/kit/context';
import { asDue, type Queue } from '@/services/kit/trouble';
import { IsIn, IsOptional, overtaken, type Refusal } from '@/services/kit/validation';

export class PutAwayInput {
  /** As it was read: when somebody saved since, nothing is overwritten. */
  @IsStamp()
  stamp!: number;

  /** Whole months that stay as they are; null: nothing is put away, and what was comes back. */
  @IsOptional()
  @IsIn([...PUT_AWAY_CHOICES], {
    message: `must be one of ${PUT_AWAY_CHOICES.join(', ')} months, or nothing.`,
  })
  months?: number | null;
}

/** Says from which age on messages are put away. What stands otherwise is put away, or brought back, from now on. */
export async function changePutAway(
  ctx: Context,
  scope: Scope,
  input: PutAwayInput,
  actor: string,
): Promise<Result<Workspace, Refusal>> {
  const workspace = await lockWorkspace(scope);
  if (input.stamp !== workspace.stamp) return overtaken();
  const [from, to] = [workspace.putAwayMonths, input.months ?? null];
  workspace.putAwayMonths = to;
  workspace.putAwayAt = new Date(ctx.now());
  workspace.stamp += 1;
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'put-away.changed', workspace.id, { from, to });
  await announce(scope, true);
  return ok(workspace);
}

/** Every month stays. */
const ALL: Day = '0001-01-01';

const keptSince = ({ putAwayMonths: months }: Workspace, now: number): Day =>
  months === null ? ALL : firstKept(new Date(now), months);

/** One step towards what the workspace wants: a bundle back that should not be one, or the next messages away. */
async function step(ctx: Context, scope: Scope): Promise<boolean> {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId }, { refresh: true });
  const since = keptSince(workspace, ctx.now());
  if (await bringBack(scope, since)) return true;
  const looked = await putAwaySlice(scope, {
    ...{ after: workspace.putAwayAfter, before: since, at: new Date(ctx.now()) },
    newId: () => ctx.id('bun'),
  });
  if (looked > 0) return true;
  await lookAgainAt(scope, new Date(ctx.now() + DAY));
  await announce(scope, false);
  return false;
}

/** Puts away messages of months long past, some thousands at a time, and brings back what should stay after all. */
export const PUT_AWAY_QUEUE: Queue = {
  name: 'put-away',
  rows: {
    named: `(select name from workspace w where w.id = x.row_id)`,
    waits: `exists (select 1 from workspace w where w.id = x.row_id)`,
  },
  everyMs: 5 * SECOND,
  untilDone: true,
  due: async (reading, untroubled, at) => asDue(await putAwayDue(reading, untroubled('w.id'), at)),
  work: (ctx, { id }) => inWorkspace(ctx.orm, id, (scope) => step(ctx, scope)),
  giveUp: async (ctx, scope) => ok(await lookAgainAt(scope, new Date(ctx.now() + 30 * DAY))),
};

export interface PutAwayScreen {
  months: number | null;
  stamp: number;
  rows: (OldMonth & { goes: boolean })[];
  /** The worker is still at it. */
  goesOn: boolean;
}

export async function readPutAway(scope: Scope, now: number): Promise<PutAwayScreen> {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const since = keptSince(workspace, now);
  const rows = (await oldMonths(scope)).map((row) => ({ ...row, goes: row.month < since }));
  return {
    ...{ months: workspace.putAwayMonths, stamp: workspace.stamp, rows },
    goesOn:
      workspace.putAwayAt.getTime() <= now &&
      (workspace.putAwayMonths !== null || rows.some(({ away }) => away > 0)),
  };
}

/** A month that was put away, as one file of gzipped lines of JSON; null: nothing of it is. */
export async function bundleFile(
  orm: MikroORM,
  workspaceId: string,
  month: Day,
): Promise<ReadableStream<Uint8Array> | null> {
  const next = (after: string) => inWorkspace(orm, workspaceId, (scope) => nextBundle(scope, month, after));
  let bundle = await next('');
  if (!bundle) return null;
  return new ReadableStream({
    async pull(controller) {
      if (!bundle) return controller.close();
      controller.enqueue(bundle.content);
      bundle = await next(bundle.first);
    },
  });
}
