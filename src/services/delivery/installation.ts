import { HOUR, MINUTE, type Millis } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import {
  beatInstallation,
  dueBetween,
  holdInstallation,
  insertInstallation,
  lockInstallation,
  ownMark,
  ownsAll,
  readInstallation,
  releaseInstallation,
  stopEverything,
  type DueRow,
  type HeldBecause,
} from '@/db/delivery/installation';
import { someoneSends } from '@/db/delivery/silence';
import { Workspace } from '@/db/access/entities';
import { acrossWorkspaces, inWorkspace, type Crossing, type Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import type { Room } from '@/services/kit/room';
import { conflict, type Refusal } from '@/services/kit/validation';

/** Away for longer than this with something due meanwhile: it may be an old copy, and nothing is sent on a guess. */
const GAP: Millis = HOUR;

/** What is due at this very moment is nothing that was missed. */
const JUST_NOW: Millis = 10 * MINUTE;

export const HELD_WORDS: Record<HeldBecause, string> = {
  copy: 'This database is a copy of another installation’s. Were both to send, people would be texted twice.',
  gap: 'Nothing was running for a while, and things fell due meanwhile. Perhaps this is an old copy, perhaps it was only switched off.',
  restored: 'This copy was made harmless after a restore: what was to go out by itself is stopped.',
};

export interface Hold {
  because: HeldBecause;
  since: Date;
  /** Until when it had been alive. */
  awaySince: Date;
}

/**
 * Whether this installation may send. Asked when a worker starts, before it speaks to the carrier: a copy is told by
 * another's mark, an old state of the same database by the time that passed. Null: it may.
 *
 * `moved`: the clock may be moved by hand. Then a worker that runs meanwhile saw the time pass, and one that starts
 * beside it missed nothing. With the machine's own clock all of them may have been frozen together.
 */
export const openInstallation = (ctx: Context, moved = false): Promise<Hold | null> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    const at = new Date(ctx.now());
    const mark = await ownMark(crossing);
    const row = await lockInstallation(crossing);
    if (!row) await insertInstallation(crossing, mark, at);
    else if (row.held_since === null) {
      const because =
        row.mark !== mark
          ? 'copy'
          : !(moved && (await someoneSends(crossing))) && (await missedSomething(crossing, row.alive_at, at))
            ? 'gap'
            : null;
      if (because) await holdInstallation(crossing, because, row.mark, at);
      else await beatInstallation(crossing, at);
    }
    return holdOf(crossing);
  });

async function missedSomething(crossing: Crossing, from: Date, at: Date): Promise<boolean> {
  if (at.getTime() - from.getTime() < GAP) return false;
  return (await dueBetween(crossing, from, new Date(at.getTime() - JUST_NOW))).length > 0;
}

async function holdOf(crossing: Crossing): Promise<Hold | null> {
  const row = await readInstallation(crossing);
  return row?.held_since && row.held_because
    ? { because: row.held_because, since: row.held_since, awaySince: row.away_since ?? row.alive_at }
    : null;
}

export const readHold = (ctx: Context): Promise<Hold | null> => acrossWorkspaces(ctx.orm, holdOf);

/**
 * Says that it lives. Null: it goes on. With the machine's own clock (`steady`) a jump means that the process was frozen
 * and woken, as in a snapshot: then it is as if it had just been started.
 */
export async function keepAlive(ctx: Context, steady: boolean): Promise<Hold | null> {
  if (steady) return openInstallation(ctx);
  await acrossWorkspaces(ctx.orm, (crossing) => beatInstallation(crossing, new Date(ctx.now())));
  return readHold(ctx);
}

export interface Missed {
  hold: Hold;
  due: DueRow[];
}

/** What fell due since it was last alive. Null: it is not held. */
export const readMissed = (ctx: Context): Promise<Missed | null> =>
  acrossWorkspaces(ctx.orm, async (crossing) => {
    const hold = await holdOf(crossing);
    return hold && { hold, due: await dueBetween(crossing, hold.awaySince, new Date(ctx.now())) };
  });

/**
 * Makes a restored copy harmless: nothing in it begins or leaves by itself any more, and it stays held until somebody
 * says go. What each room stops follows, workspace by workspace; done again, it goes on where it was. Gives what fell due since the
 * copy, and what was stopped.
 */
export async function makeHarmless(
  ctx: Context,
  rooms: readonly Pick<Room, 'restored'>[],
): Promise<{ due: DueRow[]; stopped: Record<string, number> }> {
  const made = await acrossWorkspaces(ctx.orm, async (crossing) => {
    const at = new Date(ctx.now());
    const mark = await ownMark(crossing);
    await insertInstallation(crossing, mark, at);
    const row = await lockInstallation(crossing);
    const due = await dueBetween(crossing, row!.away_since ?? row!.alive_at, at);
    const stopped = await stopEverything(crossing, at);
    await holdInstallation(crossing, 'restored', mark, at);
    return { due, stopped };
  });
  for (const { id } of await ctx.orm.em.fork().find(Workspace, {}, { orderBy: { id: 'asc' } }))
    await inWorkspace(ctx.orm, id, async (scope) => {
      for (const room of rooms)
        for (const [what, n] of Object.entries((await room.restored?.(ctx, scope)) ?? {}))
          made.stopped[what] = (made.stopped[what] ?? 0) + n;
    });
  return made;
}

/** From now on it sends. */
export const release = (ctx: Context): Promise<number> =>
  acrossWorkspaces(ctx.orm, async (crossing) =>
    releaseInstallation(crossing, await ownMark(crossing), new Date(ctx.now())),
  );

/**
 * An owner's word after a gap: what waited goes out now. A copy is only released by who runs the installation (`npm run
 * restored`), and so is a gap in which something of somebody else's fell due.
 */
export async function releaseAfterGap(
  ctx: Context,
  scope: Scope,
  accountId: string,
): Promise<Result<null, Refusal>> {
  const missed = await readMissed(ctx);
  if (!missed) return ok(null);
  const workspaces = missed.due.map((row) => row.workspace_id);
  if (missed.hold.because !== 'gap' || !(await ownsAll(scope, accountId, workspaces)))
    return conflict(
      'state',
      'state: only who runs this installation can start it again, with “npm run restored” (see operations).',
    );
  await release(ctx);
  await writeAudit(ctx, scope, accountId, 'installation.released', scope.workspaceId);
  return ok(null);
}
