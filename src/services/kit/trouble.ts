import { log } from '@/log/log';
import { pauseAfter } from '@/core/work/backoff';
import type { Result } from '@/core/shared/result';
import type { QueueName } from '@/core/work/queues';
import { cutText } from '@/core/shared/clean-text';
import {
  countTrouble,
  deleteTrouble,
  postpone,
  troubledIds,
  untroubled,
  type StuckRows,
} from '@/db/kit/trouble';
import {
  acrossWorkspaces,
  codeOf,
  reading,
  TookTooLong,
  type Crossing,
  type Reading,
  type Scope,
} from '@/db/kit/scope';
import type { Context } from './context';
import type { Refusal } from './validation';
import { Trouble } from '@/db/kit/entities';

/** A row that waits for the worker. */
export interface Due {
  id: string;
  workspaceId: string | null;
  /** It could not be worked on before. */
  troubled?: boolean;
}

/** Rows of a question to the database as what is due. */
export const asDue = (rows: readonly { id: string; workspace_id: string | null }[]): Due[] =>
  rows.map(({ id, workspace_id: workspaceId }) => ({ id, workspaceId }));

/** What a human may do about a row that is stuck. */
export interface WaysOut {
  name: QueueName;
  /** How the row is found, in SQL. */
  rows: StuckRows;
  /** Gives it up: what that means is the queue's to say. */
  giveUp(ctx: Context, scope: Scope, id: string, actor: string): Promise<Result<unknown, Refusal>>;
  /** What trying it again now takes beside forgetting its trouble. */
  tryAgain?(scope: Scope, id: string, now: Date): Promise<unknown>;
  /** The row stands in its trouble and nowhere else: that stays until it was worked on. */
  keepsTrouble?: true;
}

/** A queue of rows: which are due, and what is done to one. */
export interface Queue extends WaysOut {
  /** How often it is looked through. */
  everyMs: number;
  /** So many at once, for rows that take long; left out: one after the other. */
  lanes?: number;
  /** So many at the same time, where each waits mostly for the database; left out: one. */
  atOnce?: number;
  /** Looked through again at once as long as something was done. */
  untilDone?: true;
  /** What it makes may be sent at once. */
  wakes?: true;
  /** Looked through at once when something is told on this channel of the database. */
  channel?: string;
  /** Rows that may be worked on now, few for each workspace, so that none holds up another. */
  due: (reading: Reading, untroubled: (id: string) => string, at: Date) => Promise<Due[]>;
  /** Works on one row, in transactions of its own. False: there was nothing to do after all. Throws when it cannot. */
  work(ctx: Context, due: Due): Promise<boolean>;
}

/** It cannot be worked on as it is, and trying again will not help: it is set aside at once, with this sentence. */
export class Unworkable extends Error {}

/** The rows of a queue that may be worked on now. */
export async function dueRows(ctx: Context, queue: Queue, ask = reading(ctx.orm)): Promise<Due[]> {
  const due = await queue.due(ask, untroubled(queue.name), new Date(ctx.now()));
  const troubled = due.length > 0 ? await troubledIds(ask, queue.name) : new Set();
  return due.map((row) => ({ ...row, troubled: troubled.has(row.id) }));
}

/** Works on every row that is due, each by itself. Gives how many were worked on. `ask`: what is due is asked so. */
export async function workThrough(ctx: Context, queue: Queue, ask?: Reading): Promise<number> {
  const { atOnce = 1 } = queue;
  const due = await dueRows(ctx, queue, ask);
  let done = 0;
  for (let from = 0; from < due.length; from += atOnce) {
    const together = due.slice(from, from + atOnce).map((row) => workOn(ctx, queue, row));
    done += (await Promise.all(together)).filter(Boolean).length;
  }
  return done;
}

/** Works on one row; false when nothing was done, or it could not be and was put back with its problem. */
export async function workOn(ctx: Context, queue: Queue, due: Due): Promise<boolean> {
  const began = performance.now();
  try {
    if (!(await queue.work(ctx, due))) return false;
    log.info({ job: queue.name, row: due.id, ms: Math.round(performance.now() - began) }, 'done');
  } catch (error) {
    await noteTrouble(ctx, queue.name, due, error);
    return false;
  }
  if (due.troubled)
    await acrossWorkspaces(ctx.orm, (crossing) => deleteTrouble(crossing, queue.name, due.id));
  return true;
}

/**
 * Notes that a row could not be worked on: when it is tried again, or that it is set aside. Gives the next try; null
 * for none. An outage of the database is nobody's fault and is thrown on.
 */
export async function noteTrouble(
  ctx: Context,
  queue: QueueName,
  { id, workspaceId }: Due,
  error: unknown,
  detail?: unknown,
): Promise<Date | null> {
  return acrossWorkspaces(ctx.orm, (crossing) =>
    noteTroubleIn(crossing, ctx, queue, { id, workspaceId }, error, detail),
  );
}

/** The same as part of a transaction that goes on. */
export async function noteTroubleIn(
  crossing: Crossing,
  ctx: Context,
  queue: QueueName,
  { id, workspaceId }: Due,
  error: unknown,
  detail?: unknown,
): Promise<Date | null> {
  if (isOutage(error)) throw error;
  const at = new Date(ctx.now());
  log.error({ err: error, job: queue, row: id }, 'A row could not be worked on.');
  const row = { queue, id, workspaceId, problem: cutText(problemOf(error), 300), at };
  const tries = await countTrouble(crossing, row);
  const pause = error instanceof Unworkable ? null : pauseAfter(tries);
  const next = pause === null ? null : new Date(at.getTime() + pause);
  await postpone(crossing, { queue, id, next, at, detail });
  return next;
}

/** What is wrong, for who owns the row: what the database said without the statement it said it of. */
function problemOf(error: unknown): string {
  const message = error instanceof Error ? error.message : String(error);
  if (error instanceof Unworkable || error instanceof TookTooLong) return message;
  return /^[0-9A-Z]{5}$/.test(codeOf(error) ?? '')
    ? `The database refused it: ${message.split(' - ').at(-1)}.`
    : `A fault in the program: ${message}.`;
}

/** The database cannot be reached, ends, or has no room: the row is as good as it was. */
const isOutage = (error: unknown): boolean => /^(08|57P|53|ECONN|EPIPE|ETIMEDOUT)/.test(codeOf(error) ?? '');

/** The row is tried again at once, or needs no trying any more. */
export const forgetTrouble = (scope: Scope, queue: QueueName, id: string): Promise<number> =>
  scope.em.nativeDelete(Trouble, { queue, rowId: id });
