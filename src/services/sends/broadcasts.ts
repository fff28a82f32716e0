import { isByHand } from '@/core/broadcast/timing';
import type { Context } from '@/services/kit/context';
import type { Scope } from '@/db/kit/scope';
import type { CreateBroadcastInput, InsteadInput, SendBroadcastInput } from './inputs';
import type { Actor } from '@/services/kit/actor';
import { type Result, ok, refuse } from '@/core/shared/result';
import { Broadcast } from '@/db/sends/entities';
import { type Refusal, notFound, conflict, invalid } from '@/services/kit/validation';
import { writeAudit } from '@/services/kit/audit';
import { announce } from '@/db/delivery/texts';
import { findProgram, NO_PROGRAM } from '@/services/programs/find-program';
import type { LinkChoice } from '@/core/link/shorten';
import { readContent } from './content';
import { readMedia } from '@/services/media/files';
import { readCondition, planCondition, audienceContext } from '@/services/audience/audience';
import { findInWording } from '@/services/templates/check-wording';
import { COMPANION_OF, MOST_MINUTES } from '@/core/broadcast/companion';
import { INSTEAD_OF, type InsteadChannel } from '@/core/broadcast/instead';
import { WORDING_STATE_WORDS } from '@/core/chat/wording-life';
import { CHANNEL_WORDS, type Channel } from '@/core/message/channel';
import { standingWordings } from '@/services/clearance/chat-wordings';
import { Program } from '@/db/programs/entities';
import { VoiceRecording } from '@/db/voicemail/entities';
import { mustsOfRecording } from '@/services/voicemail/messages';
import { paceEnds, readLocal, readTiming } from './read-timing';
import { DAY, MINUTE, parseInstant, SECOND, toIso, type Millis } from '@/core/shared/instant';
import { moveBroadcast, refusalOf, type BroadcastRefusal } from './move-broadcast';
import { REPEAT_WORDS, readRule } from '@/core/broadcast/repeat';
import { freshBroadcast } from './fresh-broadcast';
import { beginRepeat } from './repeat-broadcast';
import { readComparison } from './read-comparison';
import type { BroadcastState } from '@/core/broadcast/lifecycle';

export async function createBroadcast(
  ctx: Context,
  scope: Scope,
  input: CreateBroadcastInput,
  actor: Actor,
): Promise<Result<Broadcast, Refusal>> {
  const checked = await checkDraft(scope, ctx.now(), input);
  if (!checked.ok) return checked;
  const broadcast = scope.em.create(Broadcast, {
    ...freshBroadcast(ctx, scope, actor.accountId),
    ...checked.value,
  });
  await scope.em.persistAndFlush(broadcast);
  await writeAudit(ctx, scope, actor.name, 'broadcast.created', broadcast.id);
  return ok(broadcast);
}

/** Changes a draft. Once scheduled it has to be called back first. */
export async function updateBroadcast(
  ctx: Context,
  scope: Scope,
  id: string,
  input: CreateBroadcastInput,
): Promise<Result<Broadcast, Refusal>> {
  const broadcast = await scope.em.findOne(Broadcast, { id });
  if (!broadcast) return notFound('broadcast');
  if (broadcast.state !== 'draft')
    return conflict('state', 'state: only a draft can be changed. Call the broadcast back first.');
  const checked = await checkDraft(scope, ctx.now(), input);
  if (!checked.ok) return checked;
  Object.assign(broadcast, checked.value, { updatedAt: new Date(ctx.now()) });
  await scope.em.flush();
  await announce(scope, false);
  return ok(broadcast);
}

async function checkDraft(
  scope: Scope,
  now: number,
  input: CreateBroadcastInput,
): Promise<
  Result<
    Pick<
      Broadcast,
      | 'programId'
      | 'name'
      | 'channel'
      | 'subject'
      | 'body'
      | 'audience'
      | 'links'
      | 'timing'
      | 'comparison'
      | 'repeat'
      | 'media'
      | 'instead'
      | 'companion'
      | 'chatTemplateId'
      | 'recordingId'
    >,
    Refusal
  >
> {
  const program = await findProgram(scope, input.program);
  if (!program) return invalid('program', NO_PROGRAM);
  const channel = input.channel ?? 'sms';
  const chat = await readChatTemplate(scope, channel, input.chat_template);
  if (!chat.ok) return chat;
  const recording = await readRecording(scope, channel, input.recording);
  if (!recording.ok) return recording;
  const said = chat.value?.body ?? recording.value?.words;
  const content = readContent(channel, said === undefined ? input : { body: said });
  if (!content.ok) return content;
  const audience = input.audience ? readCondition(input.audience) : ok(null);
  if (!audience.ok) return audience;
  if (audience.value) {
    const plan = planCondition(audience.value, await audienceContext(scope, now));
    if (!plan.ok) return plan;
  }
  const timing = await readTiming(scope, program, input);
  if (!timing.ok) return timing;
  if (said !== undefined && input.comparison)
    return invalid(
      'comparison',
      `comparison: a ${CHANNEL_WORDS[channel].message} says what it says. Leave it out.`,
    );
  if (timing.value.pace && 'phones' in timing.value.pace && channel !== 'voicemail')
    return invalid('pace', 'pace: only voicemails go as the phones carry. Name people and per, or until.');
  if (isByHand(timing.value.pace) && channel === 'voicemail')
    return invalid('pace', 'pace: a voicemail is not pressed by hand. Choose waves, or another pace.');
  const comparison = readComparison(channel, content.value, input.comparison);
  if (!comparison.ok) return comparison;
  const repeat = readRepeat(input.repeat);
  if (!repeat.ok) return repeat;
  const media = await readMedia(scope, input.media ?? []);
  if (!media.ok) return media;
  if (media.value && channel !== 'sms')
    return invalid('media', 'media: files go along with texts. Put a link into the letter.');
  const instead = readInstead(channel, input.instead ?? null);
  if (!instead.ok) return instead;
  const companion = readCompanion(channel, input.companion ?? null);
  if (!companion.ok) return companion;
  return ok({
    ...{ programId: program.id, name: input.name.trim(), channel, audience: audience.value },
    ...{ timing: timing.value, comparison: comparison.value, repeat: repeat.value },
    ...{ media: media.value, instead: instead.value, companion: companion.value },
    links: linkChoice(input),
    templateId: input.template ?? null,
    chatTemplateId: chat.value?.id ?? null,
    recordingId: recording.value?.id ?? null,
    ...content.value,
  });
}

/** The template a chat message goes by, with the words of its first language. */
async function readChatTemplate(
  scope: Scope,
  channel: Channel,
  id: string | undefined,
): Promise<Result<{ id: string; body: string } | null, Refusal>> {
  if (channel !== 'chat')
    return id === undefined
      ? ok(null)
      : invalid(
          'chat_template',
          'chat_template: belongs to a chat message. Leave it out, or choose channel chat.',
        );
  const [first] = id === undefined ? [] : await standingWordings(scope, id);
  if (id === undefined || !first)
    return invalid(
      'chat_template',
      'chat_template: a business may begin by chat only with a template. Choose one.',
    );
  return ok({ id, body: first.words.body });
}

/** The recording a voicemail plays, with its words. */
async function readRecording(
  scope: Scope,
  channel: Channel,
  id: string | undefined,
): Promise<Result<VoiceRecording | null, Refusal>> {
  if (channel !== 'voicemail')
    return id === undefined
      ? ok(null)
      : invalid('recording', 'recording: belongs to a voicemail. Leave it out, or choose channel voicemail.');
  const recording = id === undefined ? null : await scope.em.findOne(VoiceRecording, { id });
  return recording
    ? ok(recording)
    : invalid(
        'recording',
        'recording: choose what is to be heard: a recording of a voice message, by its id.',
      );
}

function readInstead(
  channel: Channel,
  instead: (CreateBroadcastInput['instead'] & {}) | null,
): Result<Broadcast['instead'], Refusal> {
  if (instead === null) return ok(null);
  const by = instead.channel ?? 'email';
  if (!INSTEAD_OF[channel].includes(by)) return notBeside('instead', channel, by);
  const read = readBeside('instead', by, instead);
  return read.ok ? ok({ ...(by === 'email' ? {} : { channel: by }), ...read.value }) : read;
}

function readCompanion(
  channel: Channel,
  companion: (CreateBroadcastInput['companion'] & {}) | null,
): Result<Broadcast['companion'], Refusal> {
  if (companion === null) return ok(null);
  const { when, minutes, channel: by = 'email' } = companion;
  if (!COMPANION_OF[channel].includes(by)) return notBeside('companion', channel, by);
  const most = MOST_MINUTES[when];
  if (minutes > most)
    return invalid(
      'companion.minutes',
      `companion.minutes: what is told ${when} a voicemail is told at most ${most} minutes ${when} it.`,
    );
  const read = readBeside('companion', by, companion);
  return read.ok ? ok({ when, minutes, channel: by, ...read.value }) : read;
}

const notBeside = (field: string, channel: Channel, by: InsteadChannel): Result<never, Refusal> =>
  invalid(
    field,
    `${field}: ${CHANNEL_WORDS[by].by} goes to nobody beside ${CHANNEL_WORDS[channel].messages}. Leave it out.`,
  );

/** What goes beside it, with the field it stands in said where it cannot be read. */
function readBeside(
  under: 'instead' | 'companion',
  by: InsteadChannel,
  { subject, body }: InsteadInput,
): Result<{ subject: string; body: string }, Refusal> {
  const read = readContent(by, { body, ...(by === 'email' ? { subject } : {}) });
  if (read.ok) return ok({ subject: read.value.subject ?? '', body: read.value.body });
  const problems = read.reason.problems.map(({ field, message }) => ({
    field: `${under}.${field}`,
    message,
  }));
  return refuse({ ...read.reason, problems });
}

/** The rule alone: where it begins is known when it is sent. */
function readRepeat(typed: string | undefined): Result<Broadcast['repeat'], Refusal> {
  if (!typed) return ok(null);
  const rule = readRule(typed);
  return rule.ok
    ? ok({ rule: rule.value, start: '', zone: '' })
    : invalid('repeat', `repeat: ${REPEAT_WORDS[rule.reason]}`);
}

const linkChoice = ({
  short_links: short = true,
  plain_links: plain = [],
  utm = false,
}: CreateBroadcastInput): LinkChoice => ({
  ...{ short, plain, utm },
});

const LATEST = 366 * DAY;

/** Schedules a draft: now (after the grace) or at a time. The rest follows from the clock. */
export async function sendBroadcast(
  ctx: Context,
  scope: Scope,
  id: string,
  input: SendBroadcastInput,
  actor: Actor,
): Promise<Result<Broadcast, Refusal>> {
  const now = ctx.now();
  const broadcast = await scope.em.findOne(Broadcast, { id });
  if (!broadcast) return notFound('broadcast');
  const when = await readWhen(scope, broadcast, input, now);
  if (!when.ok) return when;
  const { at, local } = when.value;
  const repeat = await beginRepeat(scope, broadcast, at, local);
  if (!repeat.ok) return repeat;
  const ends = paceEnds(broadcast.timing, at);
  if (!ends.ok) return ends;
  const open = await mustsOf(scope, broadcast, at);
  if (open.length > 0) return refuse<Refusal>({ code: 'invalid', problems: open });
  const moved = await moveBroadcast(scope, id, 'schedule', new Date(now));
  if (!moved.ok) return refusalOf(moved.reason);
  await scope.em.nativeUpdate(
    Broadcast,
    { id },
    { sendAt: new Date(at), timing: { ...broadcast.timing, local }, repeat: repeat.value },
  );
  await writeAudit(ctx, scope, actor.name, 'broadcast.scheduled', id, { at: toIso(at), local });
  return ok(await reload(scope, id));
}

/** The instant it begins, and the hour of each where one is chosen. A little in the past is now. */
async function readWhen(
  scope: Scope,
  { programId }: Broadcast,
  input: SendBroadcastInput,
  now: Millis,
): Promise<Result<{ at: Millis; local: string | null }, Refusal>> {
  const field = input.local === undefined ? 'at' : 'local';
  if (field === 'local' && input.at !== undefined)
    return invalid('at', 'at: is the same instant for all, local the hour of each: name one of them.');
  const local = input.local === undefined ? null : await readLocal(scope, programId, input.local);
  if (local && !local.ok) return local;
  const at =
    local?.value.at ?? (input.at ? parseInstant(input.at)! : now + (input.grace_seconds ?? 0) * SECOND);
  if (at < now - MINUTE) return invalid(field, `${field}: lies in the past. Leave it out to send now.`);
  if (at > now + LATEST) return invalid(field, `${field}: lies more than a year ahead.`);
  return ok({ at, local: local?.value.local ?? null });
}

/** What must be mended in its wordings before it goes. */
export async function mustsOf(
  scope: Scope,
  { id, programId, channel, body, comparison, instead, companion, chatTemplateId, recordingId }: Broadcast,
  at: Millis,
): Promise<{ field: string; message: string }[]> {
  const program = await scope.em.findOneOrFail(Program, { id: programId });
  const others = comparison?.others ?? [];
  const musts: { field: string; message: string }[] = [];
  if (channel === 'chat') musts.push(...(await templateMusts(scope, chatTemplateId ?? '')));
  if (channel === 'voicemail') musts.push(...(await recordingMusts(scope, recordingId ?? '')));
  // What a template or a recording says is checked where it is made, and cannot be mended here.
  const sources =
    channel === 'chat' || channel === 'voicemail' ? [] : [body, ...others.map((other) => other.body)];
  for (const [i, source] of sources.entries()) {
    const field = i === 0 ? 'body' : `comparison.others.${i - 1}.body`;
    const findings = await findInWording(scope, { source, program, channel, at, broadcastId: id });
    for (const { severity, message } of findings)
      if (severity === 'must') musts.push({ field, message: `${field}: ${message}` });
  }
  for (const [under, beside] of Object.entries({ instead, companion })) {
    if (!beside) continue;
    const { body: source, channel: by = 'email' } = beside;
    const field = `${under}.body`;
    for (const { severity, message } of await findInWording(scope, {
      ...{ source, program, channel: by, at, broadcastId: id },
    }))
      if (severity === 'must') musts.push({ field, message: `${field}: ${message}` });
  }
  return musts;
}

async function recordingMusts(scope: Scope, id: string): Promise<{ field: string; message: string }[]> {
  const field = 'recording';
  const recording = await scope.em.findOne(VoiceRecording, { id });
  if (!recording) return [{ field, message: `${field}: it is not there any more. Choose another.` }];
  return (await mustsOfRecording(scope, recording)).map((message) => ({
    field,
    message: `${field}: ${message}`,
  }));
}

/** A template that is not approved yet may be scheduled, and waits; one the network will not take may not. */
async function templateMusts(scope: Scope, id: string): Promise<{ field: string; message: string }[]> {
  const standing = await standingWordings(scope, id);
  const field = 'chat_template';
  if (standing.length === 0)
    return [{ field, message: `${field}: it is not there any more. Choose another.` }];
  return standing.flatMap(({ state, language }) =>
    state === 'approved' || state === 'in-review' || state === 'paused'
      ? []
      : [
          {
            field,
            message: `${field}: its wording in “${language}” is ${WORDING_STATE_WORDS[state]}. Hand it in, or choose another.`,
          },
        ],
  );
}

/** Moves a broadcast by one of the plain verbs (call back, pause, resume, stop) and says so in the audit. */
export async function actOnBroadcast(
  ctx: Context,
  scope: Scope,
  id: string,
  act: (ctx: Context, scope: Scope, id: string) => Promise<Result<BroadcastState, BroadcastRefusal>>,
  actor: Actor,
): Promise<Result<Broadcast, Refusal>> {
  const moved = await act(ctx, scope, id);
  if (!moved.ok) return refusalOf(moved.reason);
  await writeAudit(ctx, scope, actor.name, `broadcast.${moved.value}`, id);
  return ok(await reload(scope, id));
}

export const callBackBroadcast = (ctx: Context, scope: Scope, id: string) =>
  moveBroadcast(scope, id, 'call-back', new Date(ctx.now()));

const reload = (scope: Scope, id: string): Promise<Broadcast> =>
  scope.em.findOneOrFail(Broadcast, { id }, { refresh: true });
