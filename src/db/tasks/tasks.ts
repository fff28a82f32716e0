import { CALLED } from '@/db/people/addresses';
import type { Scope } from '../kit/scope';
import type { Task } from './entities';

export interface NewTask {
  id: string;
  personId: string | null;
  title: string;
  accountId: string | null;
  dueAt: Date;
  note: string | null;
  source: string;
  sourceId: string | null;
  createdBy: string | null;
  createdAt: Date;
}

/** Adds tasks. An account that is no member here any more gets none: it is nobody's then. */
export const insertTasks = (scope: Scope, tasks: readonly NewTask[]): Promise<number> =>
  tasks.length === 0
    ? Promise.resolve(0)
    : scope.run(
        `insert into task (id, workspace_id, person_id, title, account_id, state, due_at, note, source, source_id, created_by, created_at)
         select u.id, :workspace, u.person, u.title, m.account_id, 'open', u.due, u.note, u.source, u.source_id, u.by, u.at
           from unnest(:ids::text[], :people::text[], :titles::text[], :accounts::text[], :due::timestamptz[], :notes::text[], :sources::text[], :sourceIds::text[], :by::text[], :ats::timestamptz[])
                as u (id, person, title, account, due, note, source, source_id, by, at)
           left join membership m on m.workspace_id = :workspace and m.account_id = u.account`,
        {
          ids: tasks.map(({ id }) => id),
          people: tasks.map(({ personId }) => personId),
          titles: tasks.map(({ title }) => title),
          accounts: tasks.map(({ accountId }) => accountId),
          due: tasks.map(({ dueAt }) => dueAt),
          notes: tasks.map(({ note }) => note),
          sources: tasks.map(({ source }) => source),
          sourceIds: tasks.map(({ sourceId }) => sourceId),
          by: tasks.map(({ createdBy }) => createdBy),
          ats: tasks.map(({ createdAt }) => createdAt),
        },
      );

/** Teammates of a role with how many tasks each has open, the longest here first. */
export const openTasksByAccount = (
  scope: Scope,
  role: 'manager' | 'teammate',
): Promise<{ account_id: string; open: number }[]> =>
  scope.rows(
    `select m.account_id, count(t.id)::int as open from membership m left join task t on t.workspace_id = m.workspace_id and t.account_id = m.account_id and t.state = 'open'
      where m.workspace_id = :workspace and m.role = :role group by 1 order by 1`,
    { role },
  );

export interface TaskRow extends Pick<Task, 'id' | 'title' | 'state' | 'note' | 'source'> {
  person_id: string | null;
  /** Name or address of whom it is about. */
  about: string | null;
  account_id: string | null;
  account: string | null;
  due_at: Date;
  created_at: Date;
  settled_at: Date | null;
  /** The sequence it came from. */
  sequence_id: string | null;
  sequence: string | null;
}

/** Tasks, the ones due first: of one account, of nobody yet, of one person, or all; open ones, or those of the last days that are over. */
export const readTasks = (
  scope: Scope,
  asked: {
    accountId?: string | null;
    nobodys?: boolean;
    personId?: string | null;
    open: boolean;
    most: number;
    since?: Date;
    /** The last task of the page before, of open ones. */
    after?: string;
  },
): Promise<TaskRow[]> =>
  scope.rows<TaskRow>(
    `select t.id, t.title, t.state, t.note, t.source, t.person_id, t.account_id, t.due_at, t.created_at, t.settled_at, a.name as account,
            coalesce(nullif(trim(coalesce(p.first_name, '') || ' ' || coalesce(p.last_name, '')), ''), ${CALLED}) as about, e.sequence_id, s.name as sequence
       from task t left join person p on p.id = t.person_id left join account a on a.id = t.account_id
       left join enrolment e on t.source = 'sequence' and e.id = split_part(t.source_id, '.', 1) left join sequence s on s.id = e.sequence_id
      where t.workspace_id = :workspace and (t.state = 'open') = :open and (:accountId::text is null or t.account_id = :accountId) and (not :nobodys or t.account_id is null)
        and (:after = '' or (t.due_at, t.id) > (select due_at, id from task where workspace_id = :workspace and id = :after))
        and (:personId::text is null or t.person_id = :personId) and (:open or t.settled_at > :since)
      order by case when :open then t.due_at end, t.settled_at desc, t.id limit :most`,
    {
      open: asked.open,
      most: asked.most,
      accountId: asked.accountId ?? null,
      nobodys: asked.nobodys ?? false,
      after: asked.after ?? '',
      personId: asked.personId ?? null,
      since: asked.since ?? new Date(0),
    },
  );

export interface TaskCounts {
  mine: number;
  nobody: number;
  all: number;
  /** Of nobody's: whose time has come. */
  nobodyDue: number;
}

/** How many tasks are open: of one account, of nobody yet, and of all. */
export const countTasks = async (scope: Scope, accountId: string, at: Date): Promise<TaskCounts> =>
  (
    await scope.rows<TaskCounts>(
      `select count(*) filter (where account_id = :accountId)::int as mine, count(*) filter (where account_id is null)::int as nobody, count(*)::int as all,
              count(*) filter (where account_id is null and due_at <= :at)::int as "nobodyDue"
         from task where workspace_id = :workspace and state = 'open'`,
      { accountId, at },
    )
  )[0]!;

/** Tasks of a sequence about people who wrote since: they are over by themselves. */
export const endTasksOf = (
  scope: Scope,
  replies: readonly { personId: string; at: Date }[],
  at: Date,
): Promise<number> =>
  replies.length === 0
    ? Promise.resolve(0)
    : scope.run(
        `update task t set state = 'over', settled_at = :at, settled_by = 'they wrote'
           from unnest(:people::text[], :ats::timestamptz[]) as u (person, at)
          where t.workspace_id = :workspace and t.state = 'open' and t.source = 'sequence' and t.person_id = u.person and t.created_at < u.at`,
        { people: replies.map(({ personId }) => personId), ats: replies.map((reply) => reply.at), at },
      );

/** Tasks go along when somebody is merged. Gives the ids. */
export const moveTasks = async (scope: Scope, keptId: string, goneId: string): Promise<string[]> =>
  (
    await scope.rows<{ id: string }>(
      `update task set person_id = :keptId where workspace_id = :workspace and person_id = :goneId returning id`,
      { keptId, goneId },
    )
  ).map(({ id }) => id);

export const giveBackTasks = (scope: Scope, goneId: string, ids: readonly string[]): Promise<number> =>
  scope.run(
    `update task set person_id = :goneId where workspace_id = :workspace and id = any(:ids::text[])`,
    { goneId, ids },
  );

/** Open tasks of a teammate who leaves. */
export const TASKS_OWNED = {
  words: ['open task', 'open tasks'] as [string, string],
  count: `select count(*)::int as n from task where workspace_id = :workspace and account_id = :from and state = 'open'`,
  move: `update task set account_id = :to where workspace_id = :workspace and account_id = :from and state = 'open'`,
};
