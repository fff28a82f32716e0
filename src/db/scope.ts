import type { EntityManager, Knex, MikroORM } from '@mikro-orm/postgresql';

export type SqlValue =
  string | number | boolean | null | Date | readonly (string | number | null | boolean | Date)[];
export type Row = Record<string, unknown>;

/** Raised when SQL does not name the workspace: a bug, found by the first test that runs the query. */
export class WorkspaceForgotten extends Error {
  constructor(sql: string) {
    super(`This query does not name :workspace: ${sql.trim().slice(0, 120)}`);
  }
}

/**
 * The database as one workspace sees it, inside one transaction. Entities are filtered; SQL must name
 * `:workspace`, or it is refused before it runs. There is no other way to the tables of a workspace.
 */
export interface Scope {
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
const MOST_TRIES = 5;

/** One transaction. PostgreSQL resolves a deadlock by ending one side, which then simply runs again. */
async function transact<T>(orm: MikroORM, work: (em: EntityManager) => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await orm.em.fork().transactional(work);
    } catch (error) {
      if ((error as { code?: string }).code !== DEADLOCK || tries >= MOST_TRIES) throw error;
    }
  }
}

/** What the worker and sign-in use: the few questions that are asked before a workspace is known. */
export interface Crossing {
  readonly em: EntityManager;
  rows<T extends object = Row>(sql: string, values?: Record<string, SqlValue>): Promise<T[]>;
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
    rows: async <R extends object>(sql: string, values?: Record<string, SqlValue>) =>
      (await guarded(sql, values)).rows as R[],
    run: async (sql, values) => (await guarded(sql, values)).rowCount,
  };
}

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
      row[name] =
        dataTypeID === INT8
          ? Number(value)
          : new Date(value.replace(' ', 'T').replace(/([+-]\d\d)$/, '$1:00'));
    }
  }
}

/** Named parameters to bound ones; an array is bound as one PostgreSQL array. `::` casts are left alone. */
async function execute(
  em: EntityManager,
  sql: string,
  values: Record<string, SqlValue> = {},
): Promise<Answer> {
  const bound: SqlValue[] = [];
  // A question mark of the query's own (in a pattern, or jsonb's ?) is none of ours.
  const text = sql.replaceAll('?', '\\?').replace(/(?<!:):([a-z][A-Za-z0-9]*)\b/g, (_, name: string) => {
    if (!(name in values)) throw new Error(`The query names :${name}, which was not given`);
    const value = values[name] as SqlValue;
    bound.push(value);
    // A parameter standing alone has no type: instants and the workspace get theirs.
    return value instanceof Date ? '?::timestamptz' : name === 'workspace' ? '?::text' : '?';
  });
  const transaction = em.getTransactionContext<Knex.Transaction>();
  if (!transaction) throw new Error('SQL runs inside a transaction');
  const answer = await transaction.raw<Answer>(text, bound as Knex.RawBinding[]);
  readTypes(answer);
  return answer;
}

/**
 * For the rest of this transaction, rows known by their keys are fetched through those keys. A table that was
 * empty a minute ago has no statistics, and on a guess the planner would read it whole for each small batch.
 */
export const byKey = ({ em }: Pick<Crossing, 'em'>): Promise<unknown> =>
  execute(
    em,
    `select set_config(name, value, true) from (values ('enable_seqscan', 'off'), ('enable_bitmapscan', 'off'),
       ('enable_mergejoin', 'off'), ('random_page_cost', '1.1')) as setting (name, value)`,
  );
