'use server';
import { DAY } from '@/core/shared/instant';
import { ok } from '@/core/shared/result';
import { endCalendarAddress, newCalendarAddress, tellByMail } from '@/services/tasks/follow-calendar';
import { ChangeTaskInput, TaskInput } from '@/services/tasks/inputs';
import { changeTask, createTask } from '@/services/tasks/tasks';
import { getContext } from '@/services/runtime';
import { readInput } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import { instantOfLocal } from '../../draft-question';
import { pressOf } from '../../press-of';
import { actorOf, change, requireSession } from '../../session';
import { field, filled, stateOf, typed } from '../form-result';

export async function taskAction(_: FormState, data: FormData): Promise<FormState> {
  const { task = '', verb = '', account = '', note = '' } = typed(data);
  const tomorrow = new Date((await getContext()).now() + DAY).toISOString();
  const input = await readInput(ChangeTaskInput, {
    verb,
    ...filled({ account, note }),
    ...(verb === 'later' ? { due: tomorrow } : {}),
  });
  if (!input.ok) return stateOf(input, {}, '');
  return stateOf(
    await change(
      'answer',
      (scope, session, ctx) => changeTask(ctx, scope, task, input.value, actorOf(session)),
      pressOf(data),
    ),
    {},
    '',
  );
}

export async function newTaskAction(_: FormState, data: FormData): Promise<FormState> {
  const { workspaceZone } = await requireSession();
  const values = typed(data);
  const due = instantOfLocal(field(data, 'due'), workspaceZone);
  const { title = '', account = '', person = '' } = values;
  const input = await readInput(TaskInput, {
    title,
    ...filled({ account, person }),
    due: due === null ? '' : new Date(due).toISOString(),
  });
  if (!input.ok) return stateOf(input, values, '');
  return stateOf(
    await change(
      'answer',
      (scope, session, ctx) => createTask(ctx, scope, input.value, 'hand', actorOf(session)),
      pressOf(data),
    ),
    values,
    'It is on the list.',
  );
}

export async function toldAction(_: FormState, data: FormData): Promise<FormState> {
  const wanted = field(data, 'by') === 'mail';
  return stateOf(
    await change(
      'answer',
      async (scope, session, ctx) => ok(await tellByMail(ctx, scope, wanted, actorOf(session))),
      pressOf(data),
    ),
    {},
    wanted ? 'New tasks are told by e-mail.' : 'They are told here only.',
  );
}

/** The address is shown this once. */
export async function calendarAction(_: FormState, data: FormData): Promise<FormState> {
  const made = await change('answer', async (scope, session, ctx) => {
    if (field(data, 'verb') === 'new') return ok(await newCalendarAddress(ctx, scope, actorOf(session)));
    await endCalendarAddress(ctx, scope, actorOf(session));
    return ok(null);
  });
  return stateOf(
    made,
    {},
    made.ok && made.value !== null
      ? `Copy it now, it is not shown again: ${made.value}`
      : 'The address leads nowhere any more.',
  );
}
