import type { EntityManager, Knex, MikroORM, PostgreSqlConnection } from '@mikro-orm/postgresql';
import { cutText } from '@/core/shared/clean-text';

export type SqlValue =
  | string
  | number
  | boolean
  | null
  | Date
  | readonly (string | number | null | boolean | Date)[];
export type Row = Record<string, unknown>;

/** Raised when SQL does not name the workspace: a bug, found by the first test that runs the query. */
export class WorkspaceForgotten extends Error {
  constructor(sql: string) {
    super(`This query does not name :workspace: ${cutText(sql.trim(), 120)}`);
  }
}

interface Attempting {
  /**
   * Work that may fail without ending the transaction: what it wrote is taken back, the rest goes on. Anything read
   * through the entity manager before is read anew after a failure. A deadlock and a lost connection still end it.
   */
  attempt<T>(work: () => Promise<T>): Promise<Attempt<T>>;
}

export type Attempt<T> = { ok: true; value: T } | { ok: false; error: Error };

/** The database gave a question up: it took longer than it may (`statement_timeout`). */
export class TookTooLong extends Error {}

/**
 * The database as one workspace sees it, inside one transaction. Entities are filtered; SQL must name
 * `:workspace`, or it is refused before it runs. There is no other way to the tables of a workspace.
 */
export interface Scope extends Attempting {
  readonly workspaceId: string;
  readonly em: EntityManager;
  /** Runs SQL with named parameters (`:name`) and gives the rows. */
  rows<T extends object = Row>(sql: string, values?: Record<string, SqlValue>): Promise<T[]>;
  /** The same for a statement that changes rows: how many it changed. */
  run(sql: string, values?: Record<string, SqlValue>): Promise<number>;
}

/** Work in one workspace: everything inside commits together or not at all. */
export async function inWorkspace<T>(
  orm: MikroORM,
  workspaceId: string,
  work: (scope: Scope) => Promise<T>,
): Promise<T> {
  return transact(orm, (em) => {
    em.setFilterParams('workspace', { workspaceId });
    return work(scopeOf(em, workspaceId));
  });
}

const DEADLOCK = '40P01';
const TIMED_OUT = '57014';
const MOST_TRIES = 5;

/** One transaction. PostgreSQL resolves a deadlock by ending one side, which then simply runs again. */
async function transact<T>(orm: MikroORM, work: (em: EntityManager) => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await orm.em.fork().transactional(work);
    } catch (error) {
      if (codeOf(error) !== DEADLOCK || tries >= MOST_TRIES) throw error;
    }
  }
}

/** Questions across workspaces. */
export interface Reading {
  rows<T extends object = Row>(sql: string, values?: Record<string, SqlValue>): Promise<T[]>;
}

/**
 * Asks across workspaces outside of any transaction, each question by itself: what a worker asks several times a second takes
 * one way to the database instead of three. Nothing is locked, and two answers may be of different moments.
 */
export const reading = (orm: MikroORM): Reading => ({
  rows: async <T extends object>(sql: string, values?: Record<string, SqlValue>) => {
    const { text, bound } = statementOf(sql, values);
    return (await answerTo(() => (orm.em.getConnection() as PostgreSqlConnection).getKnex().raw(text, bound)))
      .rows as T[];
  },
});

/** A change across workspaces that is one statement, and so a transaction by itself: one way to the database instead of three. */
export const changeAtOnce = async (
  orm: MikroORM,
  sql: string,
  values: Record<string, SqlValue>,
): Promise<void> => void (await reading(orm).rows(sql, values));

/** What the worker and sign-in use: the few questions that are asked before a workspace is known. */
export interface Crossing extends Attempting, Reading {
  readonly em: EntityManager;
  run(sql: string, values?: Record<string, SqlValue>): Promise<number>;
  /** The same transaction, seen as one workspace. */
  within(workspaceId: string): Scope;
}

/** Work across workspaces, in one transaction. Only the worker, sign-in and maintenance commands need it. */
export async function acrossWorkspaces<T>(
  orm: MikroORM,
  work: (crossing: Crossing) => Promise<T>,
): Promise<T> {
  return transact(orm, (em) =>
    work({
      em,
      attempt: (tried) => attempt(em, tried),
      rows: async <R extends object>(sql: string, values?: Record<string, SqlValue>) =>
        (await execute(em, sql, values)).rows as R[],
      run: async (sql, values) => (await execute(em, sql, values)).rowCount,
      within(workspaceId) {
        em.setFilterParams('workspace', { workspaceId });
        return scopeOf(em, workspaceId);
      },
    }),
  );
}

function scopeOf(em: EntityManager, workspaceId: string): Scope {
  const guarded = (sql: string, values: Record<string, SqlValue> | undefined): Promise<Answer> => {
    if (!/:workspace\b/.test(sql)) throw new WorkspaceForgotten(sql);
    return execute(em, sql, { ...values, workspace: workspaceId });
  };
  return {
    workspaceId,
    em,
    attempt: (tried) => attempt(em, tried),
    rows: async <R extends object>(sql: string, values?: Record<string, SqlValue>) =>
      (await guarded(sql, values)).rows as R[],
    run: async (sql, values) => (await guarded(sql, values)).rowCount,
  };
}

async function attempt<T>(em: EntityManager, work: () => Promise<T>): Promise<Attempt<T>> {
  await execute(em, 'savepoint attempt');
  try {
    const value = await work();
    await em.flush();
    await execute(em, 'release savepoint attempt');
    return { ok: true, value };
  } catch (error) {
    // The whole transaction runs again: see `transact`.
    if (codeOf(error) === DEADLOCK) throw error;
    await execute(em, 'rollback to savepoint attempt');
    em.clear();
    return { ok: false, error: error instanceof Error ? error : new Error(String(error)) };
  }
}

/** PostgreSQL's five letters for what went wrong; undefined where it was not PostgreSQL that spoke. */
export const codeOf = (error: unknown): string | undefined => (error as { code?: string } | null)?.code;

interface Answer {
  rows: Row[];
  rowCount: number;
  fields: { name: string; dataTypeID: number }[];
}

const TIMESTAMPTZ = 1184;
const INT8 = 20;

/** The ORM leaves instants and bigints as text for its own mapping; here they become Dates and numbers. */
function readTypes({ rows, fields }: Answer): void {
  for (const { name, dataTypeID } of fields ?? []) {
    if (dataTypeID !== TIMESTAMPTZ && dataTypeID !== INT8) continue;
    for (const row of rows) {
      const value = row[name];
      if (typeof value !== 'string') continue;
      row[name] = dataTypeID === INT8 ? Number(value) : instantOf(value);
    }
  }
}

/** `infinity` is no instant a Date could hold: nobody knows when, which is null. */
const instantOf = (value: string): Date | null =>
  value.endsWith('infinity') ? null : new Date(value.replace(' ', 'T').replace(/([+-]\d\d)$/, '$1:00'));

/** What PostgreSQL's text can hold. Raw text is cleaned where it comes in; this is the last door, so that none stops a statement. */
const storable = <V extends SqlValue>(value: V): V => {
  if (typeof value === 'string')
    return (fits(value) ? value : value.toWellFormed().replaceAll('\0', '')) as V;
  if (Array.isArray(value) && value.some((one) => typeof one === 'string' && !fits(one)))
    return (value as (string | null)[]).map(storable) as unknown as V;
  return value;
};

const fits = (text: string): boolean => text.isWellFormed() && !text.includes('\0');

const lastOf = new WeakMap<Knex.Transaction, Promise<unknown>>();

/** A connection answers one question at a time: what is asked meanwhile waits for its turn. */
function inTurn<T>(transaction: Knex.Transaction, ask: () => PromiseLike<T>): Promise<T> {
  const answer = (lastOf.get(transaction) ?? Promise.resolve()).then(ask);
  lastOf.set(
    transaction,
    answer.catch(() => undefined),
  );
  return answer;
}

/** A parameter in SQL of ours: `:name`, where no cast is. */
export const NAMED = /(?<!:):([a-z][A-Za-z0-9]*)\b/g;

/** Named parameters to bound ones; an array is bound as one PostgreSQL array. */
function statementOf(
  sql: string,
  values: Record<string, SqlValue> = {},
): { text: string; bound: Knex.RawBinding[] } {
  const bound: SqlValue[] = [];
  // A question mark of the query's own (in a pattern, or jsonb's ?) is none of ours.
  const text = sql.replaceAll('?', '\\?').replace(NAMED, (_, name: string) => {
    if (!(name in values)) throw new Error(`The query names :${name}, which was not given`);
    const value = storable(values[name] as SqlValue);
    bound.push(value);
    // A parameter standing alone has no type: instants and the workspace get theirs.
    return value instanceof Date ? '?::timestamptz' : name === 'workspace' ? '?::text' : '?';
  });
  return { text, bound: bound as Knex.RawBinding[] };
}

async function execute(em: EntityManager, sql: string, values?: Record<string, SqlValue>): Promise<Answer> {
  const { text, bound } = statementOf(sql, values);
  const transaction = em.getTransactionContext<Knex.Transaction>();
  if (!transaction) throw new Error('SQL runs inside a transaction');
  return answerTo(() => inTurn(transaction, () => transaction.raw<Answer>(text, bound)));
}

async function answerTo(ask: () => PromiseLike<Answer>): Promise<Answer> {
  try {
    const answer = await ask();
    readTypes(answer);
    return answer;
  } catch (error) {
    if (codeOf(error) === TIMED_OUT) throw new TookTooLong('The database took too long.', { cause: error });
    throw error;
  }
}

/**
 * For the rest of this transaction, rows known by their keys are fetched through those keys. A table that was
 * empty a minute ago has no statistics, and on a guess the planner would read it whole for each small batch.
 */
export const byKey = ({ em }: Pick<Crossing, 'em'>): Promise<unknown> => execute(em, setLocal(KEYED));

/**
 * The same, and what is looked for in the order of an index is walked in that order. A planner that last saw hardly anything
 * waiting takes whatever index looks small and sorts what it finds, which is all that waits, for each few that are taken.
 */
export const byKeyInOrder = ({ em }: Pick<Crossing, 'em'>): Promise<unknown> =>
  execute(em, setLocal({ ...KEYED, enable_sort: 'off' }));

const KEYED = {
  enable_seqscan: 'off',
  enable_bitmapscan: 'off',
  enable_mergejoin: 'off',
  random_page_cost: '1.1',
};

const setLocal = (settings: Record<string, string>): string =>
  `select ${Object.entries(settings)
    .map(([name, value]) => `set_config('${name}', '${value}', true)`)
    .join(', ')}`;
