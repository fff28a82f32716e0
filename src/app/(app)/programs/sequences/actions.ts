'use server';
import { redirect } from 'next/navigation';
import { isDay, startOf } from '@/core/audience/days';
import { parseJson } from '@/core/shared/json';
import { ok } from '@/core/shared/result';
import { callBackGrace, enrol, moveEverybody, tellEnrolment } from '@/services/sequences/by-hand';
import { DraftInput, EnrolInput, NewSequenceInput, PublishInput } from '@/services/sequences/inputs';
import { createFromReadyMade } from '@/services/sequences/ready-made';
import type { SignedIn } from '@/services/access/sessions';
import type { Context } from '@/services/kit/context';
import type { Scope } from '@/services/kit/scope';
import {
  createSequence,
  moveSequence,
  publishSequence,
  saveDraft,
  takeBackVersion,
  warningsOf,
} from '@/services/sequences/sequences';
import { invalid, readInput } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import type { SaveOutcome, SequenceActs } from '@/ui/sequences/types';
import { pressOf } from '../../../press-of';
import { actorOf, change, requireSession } from '../../../session';
import { field, stateOf } from '../../form-result';

/** Keeps what is being written; gives the new stamp and what may go wrong with it. */
export async function saveSequenceAction(id: string, document: string, stamp: number): Promise<SaveOutcome> {
  const data = parseJson(document);
  const input = await readInput(DraftInput, { document: data.ok ? data.value : null, stamp });
  if (!input.ok) return { problems: input.reason.problems, stamp: null, warnings: [] };
  const saved = await change('edit-programs', async (scope, session, ctx) => {
    const result = await saveDraft(ctx, scope, id, input.value, actorOf(session));
    if (!result.ok) return result;
    return ok({ stamp: result.value.draftStamp, warnings: await warningsOf(scope, result.value.draft, id) });
  });
  return saved.ok
    ? { problems: [], ...saved.value }
    : { problems: saved.reason.problems, stamp: null, warnings: [] };
}

export async function publishSequenceAction(
  id: string,
  stamp: number,
  others: 'stay' | 'move',
  press: string,
): Promise<{ problems: { message: string }[] }> {
  const input = await readInput(PublishInput, { stamp, others });
  if (!input.ok) return { problems: input.reason.problems };
  const published = await change(
    'edit-programs',
    async (scope, session, ctx) => {
      const result = await publishSequence(ctx, scope, id, input.value, actorOf(session));
      if (result.ok && others === 'move') await moveEverybody(ctx, scope, id);
      return result;
    },
    press,
  );
  return { problems: published.ok ? [] : published.reason.problems };
}

const DONE = {
  pause: 'Paused for all: nothing of it leaves.',
  resume: 'It goes on.',
  stop: 'Ended for all who were in it.',
  'call-back': 'Called back: nothing was sent to them.',
  'take-back': 'The version before is what people enter now, and everybody on the way moved to it.',
};

export async function moveSequenceAction(
  id: string,
  verb: Parameters<SequenceActs['move']>[1],
  press: string,
): ReturnType<SequenceActs['move']> {
  const moved = await change<{ id: string }>(
    'edit-programs',
    async (scope, session, ctx) => {
      const actor = actorOf(session);
      if (verb === 'call-back') return ok({ id, called: await callBackGrace(ctx, scope, id, actor) });
      if (verb !== 'take-back') return moveSequence(ctx, scope, id, verb, actor);
      const taken = await takeBackVersion(ctx, scope, id, actor);
      if (taken.ok) await moveEverybody(ctx, scope, id);
      return taken;
    },
    press,
  );
  return moved.ok ? { problems: [], done: DONE[verb] ?? '' } : { problems: moved.reason.problems, done: '' };
}

/** A new sequence: ready-made, from a file, or empty. */
export async function newSequenceAction(_: FormState, data: FormData): Promise<FormState> {
  const program = field(data, 'program');
  const ready = field(data, 'ready');
  const file = field(data, 'document');
  const read = file === '' ? null : parseJson(file);
  if (read && !read.ok) return stateOf(invalid('document', 'document: the file is not valid JSON.'), {}, '');
  const input = await readInput(NewSequenceInput, {
    program,
    ...(read ? { document: read.value } : { name: 'New sequence' }),
  });
  const make = async (scope: Scope, session: SignedIn, ctx: Context) =>
    ready !== '' || !input.ok
      ? createFromReadyMade(ctx, scope, ready, program, actorOf(session))
      : createSequence(ctx, scope, input.value, actorOf(session));
  const result = input.ok ? await change('edit-programs', make, pressOf(data)) : input;
  if (result.ok) redirect(`/programs/sequences/${result.value.id}`);
  return stateOf(result, {}, '');
}

export async function enrolmentAction(_: FormState, data: FormData): Promise<FormState> {
  const { workspaceZone } = await requireSession();
  const trigger = triggerOf(field(data, 'verb'), field(data, 'until'), workspaceZone);
  if (trigger === 'no-day')
    return stateOf(invalid('until', 'until: choose the day on which it goes on.'), {}, '');
  if (!trigger) return stateOf(invalid('verb', 'verb: there is no such thing to do.'), {}, '');
  return stateOf(
    await change(
      'answer',
      (scope, session, ctx) => tellEnrolment(ctx, scope, field(data, 'enrolment'), trigger, actorOf(session)),
      pressOf(data),
    ),
    {},
    '',
  );
}

type ByHand = Parameters<typeof tellEnrolment>[3];

/** What is done to somebody's way through a sequence. Held until a day: it goes on at its first minute there. */
function triggerOf(verb: string, until: string, zone: string): ByHand | 'no-day' | null {
  switch (verb) {
    case 'skip':
      return { on: 'skip' };
    case 'take-out':
      return { on: 'end', why: 'taken-out' };
    case 'go-on':
      return { on: 'hold', until: null };
    case 'hold':
      return isDay(until) ? { on: 'hold', until: startOf(until, zone) } : 'no-day';
    default:
      return null;
  }
}

/** Lets one person into a sequence, from their page. */
export async function enrolAction(_: FormState, data: FormData): Promise<FormState> {
  const input = await readInput(EnrolInput, { people: [field(data, 'person')] });
  if (!input.ok) return stateOf(input, {}, '');
  const result = await change(
    'answer',
    (scope, session, ctx) => enrol(ctx, scope, field(data, 'sequence'), input.value, actorOf(session)),
    pressOf(data),
  );
  if (!result.ok) return stateOf(result, {}, '');
  return stateOf(
    result,
    {},
    result.value.came === 1
      ? 'They are in it now.'
      : 'They are in it already, or its condition keeps them out.',
  );
}
