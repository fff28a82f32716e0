'use server';
import { pressOf } from '../../press-of';
import {
  actOnBroadcast,
  callBackBroadcast,
  createBroadcast,
  sendBroadcast,
  updateBroadcast,
} from '@/services/sends/broadcasts';
import type { Condition } from '@/core/audience/condition';
import { SegmentInput } from '@/services/audience/inputs';
import { createSegment } from '@/services/audience/segments';
import { cutText } from '@/core/shared/clean-text';
import { LONGEST_TEXT } from '@/services/kit/inputs';
import { tryDraft } from '@/services/inbox/try-draft';
import { redirect } from 'next/navigation';
import { copyBroadcast } from '@/services/sends/copy-broadcast';
import { endRepeat } from '@/services/sends/repeat-broadcast';
import { endShares, shareResult } from '@/services/sends/share-result';
import { changePace } from '@/services/sends/change-pace';
import { chooseWording } from '@/services/sends/choose-wording';
import { leaveOutOf } from '@/services/sends/leave-out';
import {
  ChangePaceInput,
  ChooseWordingInput,
  CopyBroadcastInput,
  CreateBroadcastInput,
  ShareResultInput,
  type SendBroadcastInput,
} from '@/services/sends/inputs';
import { pauseBroadcast, resumeBroadcast, stopBroadcast } from '@/services/sends/move-broadcast';
import type { Result } from '@/core/shared/result';
import type { Actor } from '@/services/kit/actor';
import type { Context } from '@/services/kit/context';
import type { Scope } from '@/services/kit/scope';
import { invalid, readInput, type Refusal } from '@/services/kit/validation';
import {
  companionFor,
  insteadFor,
  type DraftOutcome,
  type DraftValues,
  type Sending,
  type When,
} from '@/ui/sends/draft-values';
import type { FormState } from '@/ui/kit/form-state';
import { actorOf, change, requireSession } from '../../session';
import { comparisonFields, draftPace, instantOfLocal, timingFields } from '../../draft-question';
import { changeTarget } from '@/services/links/change-target';
import { ChangeTargetInput } from '@/services/links/inputs';
import { field, sentence, stateOf, typed } from '../form-result';

const GRACE_SECONDS = 10;

/** Saves a draft and, when asked, schedules it in the same transaction: a refused time leaves nothing behind. */
export async function saveDraftAction(
  values: DraftValues,
  send: Sending,
  press: string | null = null,
): Promise<DraftOutcome> {
  const { workspaceZone } = await requireSession();
  const input = await readInput(CreateBroadcastInput, {
    program: values.program,
    name: values.name,
    ...saidIn(values),
    channel: values.channel,
    ...(values.channel === 'email' ? { subject: values.subject } : {}),
    ...{ short_links: values.links?.short, plain_links: values.links?.plain, utm: values.links?.utm },
    ...(values.channel === 'sms' ? { media: values.files.map(({ id }) => id) } : {}),
    ...(insteadFor(values.channel, values.instead) ? { instead: values.instead } : {}),
    ...companionIn(values),
    comparison: values.channel === 'chat' || values.channel === 'voicemail' ? null : comparisonFields(values),
    ...(values.template ? { template: values.template } : {}),
    ...(values.repeat ? { repeat: values.repeat } : {}),
    ...timingFields(values.timing, workspaceZone),
    ...(values.audience ? { audience: values.audience } : {}),
  });
  if (!input.ok) return { problems: input.reason.problems, id: null };
  const at = send?.kind === 'at' ? instantOfLocal(send.local, workspaceZone) : null;
  const result = await change(
    'send',
    async (scope, session, ctx) => {
      if (send?.kind === 'at' && at === null) return invalid('at', 'at: choose a day and a time.');
      const saved = values.id
        ? await updateBroadcast(ctx, scope, values.id, input.value)
        : await createBroadcast(ctx, scope, input.value, actorOf(session));
      if (!saved.ok || !send) return saved;
      return sendBroadcast(ctx, scope, saved.value.id, sendingOf(send, at), actorOf(session));
    },
    press,
  );
  return result.ok ? { problems: [], id: result.value.id } : { problems: result.reason.problems, id: null };
}

/** What it says: a template’s words, a recording’s, or its own. */
function saidIn({ channel, chatTemplate, recording, body }: DraftValues) {
  if (channel === 'chat') return { chat_template: chatTemplate || undefined };
  return channel === 'voicemail' ? { recording: recording || undefined } : { body };
}

function companionIn({ channel, companion: written }: DraftValues) {
  const companion = companionFor(channel, written ?? null);
  if (!companion) return {};
  const { subject, minutes, ...rest } = companion;
  return {
    companion: {
      ...{ ...rest, minutes: minutes === '' ? null : Number(minutes) },
      ...(companion.channel === 'email' ? { subject } : {}),
    },
  };
}

/** Keeps the cut of a draft as a segment of one's own. */
export async function keepSegmentAction(
  name: string,
  condition: Condition,
): Promise<{ id: string | null; problem: string | null }> {
  const result = await change('edit-people', async (scope, session, ctx) => {
    const input = await readInput(SegmentInput, { name, condition: JSON.stringify(condition) });
    return input.ok ? createSegment(ctx, scope, input.value, actorOf(session)) : input;
  });
  return result.ok ? { id: result.value.id, problem: null } : { id: null, problem: sentence(result.reason) };
}

const sendingOf = ({ kind, local }: When, at: number | null): SendBroadcastInput =>
  kind === 'each'
    ? { local }
    : at === null
      ? { grace_seconds: GRACE_SECONDS }
      : { at: new Date(at).toISOString() };

export async function changeTargetAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const input = await readInput(ChangeTargetInput, { url: values.url ?? '' });
  if (!input.ok) return stateOf(input, values, '');
  return stateOf(
    await change(
      'send',
      (scope, session, ctx) =>
        changeTarget(ctx, scope, field(data, 'target'), input.value.url, session.accountId),
      pressOf(data),
    ),
    values,
    'It leads there now.',
  );
}

/** Tries the text as it stands on one's own phone. */
export async function tryDraftAction(
  values: DraftValues,
  personId: string | null,
  press: string,
): Promise<{ problems: { message: string }[] }> {
  const result = await change(
    'send',
    (scope, session, ctx) =>
      tryDraft(
        ctx,
        scope,
        {
          ...{ program: String(values.program), body: cutText(String(values.body), LONGEST_TEXT) },
          personId: personId === null ? null : String(personId),
          senderName: session.name.split(' ')[0] ?? null,
          media: values.files.map(({ id }) => String(id)),
        },
        actorOf(session),
      ),
    press,
  );
  return { problems: result.ok ? [] : result.reason.problems };
}

const ACTS = {
  'call-back': callBackBroadcast,
  pause: pauseBroadcast,
  resume: resumeBroadcast,
  stop: stopBroadcast,
};

/** What a form does to the broadcast it names, once however often it is pressed. */
const onBroadcast = <T>(
  data: FormData,
  act: (ctx: Context, scope: Scope, id: string, actor: Actor) => Promise<Result<T, Refusal>>,
): Promise<Result<T, Refusal>> =>
  change(
    'send',
    (scope, session, ctx) => act(ctx, scope, field(data, 'broadcast'), actorOf(session)),
    pressOf(data),
  );

export async function actAction(_: FormState, data: FormData): Promise<FormState> {
  const act = ACTS[String(data.get('act')) as keyof typeof ACTS];
  if (!act) return stateOf(invalid('act', 'act: there is no such thing to do.'), {}, '');
  return stateOf(
    await onBroadcast(data, (ctx, scope, id, actor) => actOnBroadcast(ctx, scope, id, act, actor)),
    {},
    '',
  );
}

/** Slower or faster, while it goes. */
export async function changePaceAction(_: FormState, data: FormData): Promise<FormState> {
  const { workspaceZone } = await requireSession();
  const fields = timingFields({ pace: draftPace(field(data, 'pace')) }, workspaceZone);
  const input = await readInput(ChangePaceInput, { pace: fields.pace });
  if (!input.ok) return stateOf(input, {}, '');
  return stateOf(
    await onBroadcast(data, (ctx, scope, id, actor) => changePace(ctx, scope, id, input.value, actor)),
    {},
    'It goes so from now on.',
  );
}

export async function leaveOutAction(_: FormState, data: FormData): Promise<FormState> {
  const result = await onBroadcast(data, (ctx, scope, id, actor) =>
    leaveOutOf(ctx, scope, id, field(data, 'condition'), actor),
  );
  return stateOf(result, {}, result.ok ? `${result.value.called_back} called back.` : '');
}

export async function chooseWordingAction(_: FormState, data: FormData): Promise<FormState> {
  const input = await readInput(ChooseWordingInput, { wording: Number(field(data, 'wording')) });
  if (!input.ok) return stateOf(input, {}, '');
  return stateOf(
    await onBroadcast(data, (ctx, scope, id, actor) =>
      chooseWording(ctx, scope, id, input.value.wording, actor),
    ),
    {},
    '',
  );
}

/** A new draft like it, and there. */
export async function copyAction(_: FormState, data: FormData): Promise<FormState> {
  const input = await readInput(CopyBroadcastInput, { whom: field(data, 'whom') });
  if (!input.ok) return stateOf(input, {}, '');
  const result = await onBroadcast(data, (ctx, scope, id, actor) =>
    copyBroadcast(ctx, scope, id, input.value.whom ?? 'same', actor),
  );
  if (!result.ok) return stateOf(result, {}, '');
  redirect(`/sends/${result.value.id}`);
}

export async function shareAction(_: FormState, data: FormData): Promise<FormState> {
  const input = await readInput(ShareResultInput, { days: Number(field(data, 'days')) });
  if (!input.ok) return stateOf(input, {}, '');
  const result = await onBroadcast(data, (ctx, scope, id, actor) =>
    shareResult(ctx, scope, id, input.value, actor),
  );
  return stateOf(result, {}, result.ok ? `${result.value.url} (shown once: copy it now)` : '');
}

export async function endSharesAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await onBroadcast(data, (ctx, scope, id, actor) => endShares(ctx, scope, id, actor)),
    {},
    'Ended.',
  );
}

export async function endRepeatAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await onBroadcast(data, (ctx, scope, id, actor) => endRepeat(ctx, scope, id, actor)),
    {},
    'It is the last one.',
  );
}
