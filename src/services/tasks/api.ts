import { ok } from '@/core/shared/result';
import type { Task } from '@/db/tasks/entities';
import { readTasks } from '@/db/tasks/tasks';
import { getPage, listed, post, viewed, type Endpoint } from '@/services/kit/api';
import { iso } from '@/services/kit/views';
import { ChangeTaskInput, TaskInput } from './inputs';
import { changeTask, createTask } from './tasks';

export const taskView = (task: Task) => ({
  ...{ id: task.id, title: task.title, state: task.state, note: task.note, source: task.source },
  ...{ person_id: task.personId, account_id: task.accountId },
  ...{ due_at: iso(task.dueAt), created_at: iso(task.createdAt), settled_at: iso(task.settledAt) },
});

export const TASKS_API: readonly Endpoint[] = [
  getPage('/tasks', 'Open tasks, those due first, a page at a time', async ({ scope, page }) =>
    ok(
      listed(
        await readTasks(scope, { open: true, after: page.after, most: page.limit + 1 }),
        page.limit,
        (row) => ({
          ...{ id: row.id, title: row.title, note: row.note, source: row.source },
          ...{ person_id: row.person_id, account_id: row.account_id, due_at: iso(row.due_at) },
        }),
      ),
    ),
  ),
  post('/tasks', 'Make a task', TaskInput, 201, async ({ ctx, scope, input, actor }) =>
    viewed(await createTask(ctx, scope, input, 'api', actor), taskView),
  ),
  post(
    '/tasks/{id}',
    'A task is done, later, handed on, or open again',
    ChangeTaskInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await changeTask(ctx, scope, id, input, actor), taskView),
  ),
];
