'use server';
import { pressOf } from '../../press-of';
import { CHANNELS } from '@/core/message/channel';
import { DAY, SECOND } from '@/core/shared/instant';
import type { Result } from '@/core/shared/result';
import { readInput, type Refusal } from '@/services/kit/validation';
import { getContext } from '@/services/runtime';
import { instantOfLocal } from '../../draft-question';
import { wordAnswer } from '@/services/inbox/word-answer';
import { actOnThread, changeReplies } from '@/services/inbox/act-on-thread';
import { RepliesInput, ThreadInput } from '@/services/inbox/inputs';
import { handOver, noteOnThread, removeNote, takeAnswerBack } from '@/services/inbox/whose';
import { acceptNearMiss, answerThread, closeThread, type Answering } from '@/services/inbox/answer-thread';
import { noteFact } from '@/services/stacks/facts';
import { endPause } from '@/services/consent/pause';
import { beginLeaving, decideUnclear, undoLeaving } from '@/services/inbox/leave-by-hand';
import { pauseAsWished } from '@/services/inbox/pause-as-wished';
import type { Context } from '@/services/kit/context';
import type { Scope } from '@/services/kit/scope';
import { markNoticesRead } from '@/services/inbox/notices';
import type { FormState } from '@/ui/kit/form-state';
import type { SignedIn } from '@/services/access/sessions';
import { actorOf, change, requireSession } from '../../session';
import { field, filled, stateOf, typed } from '../form-result';

const personOf = (data: FormData): string => field(data, 'person');

/** Who deals with somebody has seen what they were told of them. */
async function seen<T>(
  ctx: Context,
  scope: Scope,
  { accountId }: { accountId: string },
  data: FormData,
  done: Promise<T>,
): Promise<T> {
  const result = await done;
  await markNoticesRead(ctx, scope, accountId, personOf(data));
  return result;
}

/** An answer can be taken back for so long. */
const GRACE = 5 * SECOND;

/** How the form says that an answer goes, and what is done with the thread. */
async function answeringOf(data: FormData, zone: string, now: number): Promise<Answering> {
  const asked = field(data, 'channel');
  const [later, back] = [instantOfLocal(field(data, 'at'), zone), Number(field(data, 'back'))];
  const seen = Number(field(data, 'seen'));
  const leavesAt = later ?? now + GRACE;
  return {
    channel: CHANNELS.find((one) => one === asked) ?? null,
    leavesAt,
    seenAt: seen > 0 ? seen : null,
    backAt: back > 0 && back <= 60 ? leavesAt + back * DAY : null,
    preparedId: field(data, 'prepared') || null,
    media: data.getAll('media').map(String),
    buttons: data.getAll('button').map(String),
  };
}

export async function answerAction(_: FormState, data: FormData): Promise<FormState> {
  const [personId, source] = [personOf(data), field(data, 'body')];
  const answering = await answeringOf(
    data,
    (await requireSession()).workspaceZone,
    (await getContext()).now(),
  );
  const send = async (ctx: Context, scope: Scope, { name, accountId }: SignedIn) => {
    // In the words they get.
    const text = await wordAnswer(ctx, scope, personId, { source, senderName: name.split(' ')[0] ?? null });
    return text.ok ? answerThread(ctx, scope, personId, text.value, accountId, answering) : text;
  };
  const result = await change(
    'answer',
    (scope, session, ctx) => seen(ctx, scope, session, data, send(ctx, scope, session)),
    pressOf(data),
  );
  return stateOf(
    result,
    { channel: field(data, 'channel'), body: source },
    field(data, 'at') === '' ? 'Sent.' : 'It goes at its time.',
  );
}

export const takeBackAction = async (_: FormState, data: FormData): Promise<FormState> =>
  act(data, 'Taken back: it did not go.', ({ ctx, scope, session }) =>
    takeAnswerBack(ctx, scope, field(data, 'message'), actorOf(session)),
  );

export async function threadAction(_: FormState, data: FormData): Promise<FormState> {
  const { workspaceZone } = await requireSession();
  const until = instantOfLocal(field(data, 'until'), workspaceZone);
  const input = await readInput(ThreadInput, {
    verb: field(data, 'verb'),
    ...filled({ account: field(data, 'account') }),
    ...(until === null ? {} : { until: new Date(until).toISOString() }),
  });
  if (!input.ok) return stateOf(input, typed(data), '');
  return act(data, DONE[input.value.verb], ({ ctx, scope, personId, session }) =>
    actOnThread(ctx, scope, personId, input.value, actorOf(session)),
  );
}

const DONE: Record<ThreadInput['verb'], string> = {
  ...{ give: 'Given.', later: 'Put off.', 'take-up': 'It is back.', done: 'Done.' },
};

export const noteAction = async (_: FormState, data: FormData): Promise<FormState> =>
  act(data, 'Noted.', ({ ctx, scope, personId, session }) =>
    noteOnThread(ctx, scope, personId, field(data, 'note'), actorOf(session)),
  );

export const removeNoteAction = async (_: FormState, data: FormData): Promise<FormState> =>
  act(data, 'Gone.', ({ ctx, scope, session }) =>
    removeNote(ctx, scope, field(data, 'id'), actorOf(session)),
  );

export async function handOverAction(_: FormState, data: FormData): Promise<FormState> {
  const result = await change(
    'answer',
    (scope, session, ctx) =>
      handOver(ctx, scope, { from: session.accountId, to: field(data, 'to') }, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, {}, 'Handed over: what waited for you, and what you had put off, is theirs.');
}

/** Notes what a teammate learnt; several choices are one value. */
export const factAction = async (_: FormState, data: FormData): Promise<FormState> =>
  act(data, 'Noted.', ({ ctx, scope, personId, accountId, session }) =>
    noteFact(
      ctx,
      scope,
      personId,
      { key: field(data, 'key'), value: data.getAll('value').map(String).join(', ') },
      { accountId, name: session.name },
    ),
  );

/** What a field of the rule begins with; the id of the program, number or source follows. */
const OF = 'of:';

export async function repliesAction(_: FormState, data: FormData): Promise<FormState> {
  const by = field(data, 'by');
  const input = await readInput(RepliesInput, {
    minutes: Number(field(data, 'minutes')),
    ...filled({ by }),
    ...(by === '' ? {} : { among: data.getAll('among').map(String) }),
    whose: Object.fromEntries(
      [...data].flatMap(([name, value]) =>
        name.startsWith(OF) && value !== '' ? [[name.slice(OF.length), String(value)]] : [],
      ),
    ),
  });
  if (!input.ok) return stateOf(input, typed(data), '');
  return stateOf(
    await change(
      'manage-team',
      (scope, session, ctx) => changeReplies(ctx, scope, input.value, actorOf(session)),
      pressOf(data),
    ),
    typed(data),
    'Kept.',
  );
}

/** What is done about one person, with what was typed for it and the word that it is done. */
async function act(
  data: FormData,
  done: string,
  work: (of: {
    ctx: Context;
    scope: Scope;
    personId: string;
    accountId: string;
    session: SignedIn;
  }) => Promise<Result<unknown, Refusal>>,
): Promise<FormState> {
  const result = await change(
    'answer',
    (scope, session, ctx) =>
      work({ ctx, scope, personId: personOf(data), accountId: session.accountId, session }),
    pressOf(data),
  );
  return stateOf(result, typed(data), done);
}

export const closeAction = async (_: FormState, data: FormData): Promise<FormState> =>
  act(data, 'Done.', ({ ctx, scope, personId, accountId, session }) =>
    seen(ctx, scope, session, data, closeThread(ctx, scope, personId, accountId)),
  );

export async function leaveAction(_: FormState, data: FormData): Promise<FormState> {
  const wanted = {
    program: field(data, 'program') || null,
    confirms: field(data, 'confirm') === 'on',
    why: field(data, 'why'),
  };
  return act(data, 'It counts in ten seconds.', ({ ctx, scope, personId, accountId }) =>
    beginLeaving(ctx, scope, personId, wanted, accountId),
  );
}

export const undoLeaveAction = async (_: FormState, data: FormData): Promise<FormState> =>
  act(data, 'Taken back.', ({ ctx, scope, personId, accountId }) =>
    undoLeaving(ctx, scope, personId, accountId),
  );

/** Their reply, where there is one that is in doubt, is the evidence and is settled with it. */
export async function pauseAction(_: FormState, data: FormData): Promise<FormState> {
  const wanted = { until: field(data, 'until'), why: field(data, 'why') };
  return act(data, 'Paused.', ({ ctx, scope, personId, accountId }) =>
    pauseAsWished(ctx, scope, personId, wanted, accountId),
  );
}

export const endPauseAction = async (_: FormState, data: FormData): Promise<FormState> =>
  act(data, 'The pause has ended.', ({ ctx, scope, personId, accountId }) =>
    endPause(ctx, scope, personId, accountId),
  );

export const staysAction = async (_: FormState, data: FormData): Promise<FormState> =>
  act(data, 'They stay.', ({ ctx, scope, personId, accountId }) =>
    decideUnclear(ctx, scope, personId, false, accountId),
  );

export const nearMissAction = async (_: FormState, data: FormData): Promise<FormState> =>
  act(data, 'Joined.', ({ ctx, scope, personId, accountId }) =>
    acceptNearMiss(ctx, scope, personId, accountId),
  );
