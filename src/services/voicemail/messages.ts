import { cleanText, cutText } from '@/core/shared/clean-text';
import { ok, type Result } from '@/core/shared/result';
import {
  KEPT_RATE,
  makeReady,
  soundFindings,
  SOUND_REFUSAL_WORDS,
  type SoundFacts,
  type SoundFinding,
} from '@/core/voicemail/sound';
import { readWave, writeWave } from '@/core/voicemail/wav';
import { checkVoiceWords, type VoiceFinding, type VoiceWordsContext } from '@/core/voicemail/words';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { SenderNumberRow } from '@/db/numbers/entities';
import { Program } from '@/db/programs/entities';
import { VoiceMessage, VoiceRecording } from '@/db/voicemail/entities';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { bytesIn, putBytes } from '@/services/media/store';

/** More than anybody finds again. */
const MOST = 500;
const MOST_VERSIONS = 100;

/** What is brought to be kept. */
export interface Recorded {
  words: string;
  /** A WAVE file; null: the sound of the version before. */
  wave: Buffer | null;
  /** What was found in the sound before it was made ready, by whoever did that. */
  found?: Partial<SoundFacts>;
}

export interface KeptMessage {
  message: VoiceMessage;
  recording: VoiceRecording;
}

/** A new voice message with its first recording. */
export async function createVoiceMessage(
  ctx: Context,
  scope: Scope,
  { name, ...recorded }: { name: string } & Recorded,
  actor: Actor,
): Promise<Result<KeptMessage, Refusal>> {
  const called = cutText(cleanText(name.trim()), 80);
  if ((await scope.em.count(VoiceMessage, { archivedAt: null })) >= MOST)
    return invalid('name', `name: there are ${MOST} already. Take some out of use.`);
  const [same] = await scope.rows(
    `select 1 from voice_message where workspace_id = :workspace and archived_at is null and lower(name) = lower(:called)`,
    { called },
  );
  if (same) return conflict('name', 'name: another voice message is called so.');
  const sound = readSound(recorded, null);
  if (!sound.ok) return sound;
  const message = scope.em.create(VoiceMessage, {
    ...{ id: ctx.id('vmg'), workspaceId: scope.workspaceId, name: called, archivedAt: null },
    ...{ createdBy: actor.accountId, createdAt: new Date(ctx.now()) },
  });
  await scope.em.persistAndFlush(message);
  const recording = await keep(ctx, scope, message, 1, recorded.words, sound.value!, actor);
  await writeAudit(ctx, scope, actor.name, 'voice-message.created', message.id, { name: called });
  return ok({ message, recording });
}

/** Another version of it. What was dropped or scheduled with the one before stays as it is. */
export async function addRecording(
  ctx: Context,
  scope: Scope,
  id: string,
  recorded: Recorded,
  actor: Actor,
): Promise<Result<KeptMessage, Refusal>> {
  await scope.rows(`select 1 from voice_message where workspace_id = :workspace and id = :id for update`, {
    id,
  });
  const message = await scope.em.findOne(VoiceMessage, { id, archivedAt: null });
  if (!message) return notFound('voice message');
  const before = await newestOf(scope, id);
  if (before && before.version >= MOST_VERSIONS)
    return conflict('version', `version: it has ${MOST_VERSIONS} already. Make a new voice message.`);
  const kept = recorded.wave === null && before ? await soundOf(scope, before) : null;
  const sound = readSound(recorded, kept);
  if (!sound.ok) return sound;
  const recording = await keep(
    ctx,
    scope,
    message,
    (before?.version ?? 0) + 1,
    recorded.words,
    sound.value,
    actor,
  );
  await writeAudit(ctx, scope, actor.name, 'voice-message.recorded', id, { version: recording.version });
  return ok({ message, recording });
}

export async function archiveVoiceMessage(
  ctx: Context,
  scope: Scope,
  id: string,
  { name: actor }: Actor,
): Promise<Result<VoiceMessage, Refusal>> {
  const message = await scope.em.findOne(VoiceMessage, { id, archivedAt: null });
  if (!message) return notFound('voice message');
  message.archivedAt = new Date(ctx.now());
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'voice-message.archived', id);
  return ok(message);
}

const newestOf = (scope: Scope, messageId: string): Promise<VoiceRecording | null> =>
  scope.em.findOne(VoiceRecording, { messageId }, { orderBy: { version: 'desc' } });

interface ReadySound {
  bytes: Buffer;
  facts: SoundFacts;
}

const soundOf = async (scope: Scope, { id, facts }: VoiceRecording): Promise<ReadySound> => ({
  bytes: (await bytesIn(scope, id))!,
  facts,
});

/** Whoever made it ready, it is made ready here: what was is left as it is. */
function readSound({ words, wave, found }: Recorded, before: ReadySound | null): Result<ReadySound, Refusal> {
  if (words.trim() === '') return invalid('words', 'words: write down what is said.');
  if (wave === null) return before ? ok(before) : invalid('wave', 'wave: record it first, or drop a file.');
  const read = readWave(wave);
  if (!read.ok)
    return invalid(
      'wave',
      read.reason === 'no-wave'
        ? 'wave: is no WAVE file, or a damaged one.'
        : 'wave: must have one channel of 16-bit PCM.',
    );
  const ready = makeReady([read.value.samples], read.value.rate);
  if (!ready.ok) return invalid('wave', `wave: ${SOUND_REFUSAL_WORDS[ready.reason]}`);
  const asItCame = found && read.value.rate === KEPT_RATE ? plausible(found) : {};
  return ok({
    bytes: Buffer.from(writeWave(ready.value.sound)),
    facts: finite({ ...ready.value.facts, ...asItCame }),
  });
}

/** What only whoever had the sound as it came can know. */
function plausible({
  loudnessBefore,
  cut,
  clipped,
  humBelow,
  outOfPhase,
}: Partial<SoundFacts>): Partial<SoundFacts> {
  const within = (name: keyof SoundFacts, value: unknown, least: number, most: number) =>
    typeof value === 'number' && Number.isFinite(value) && value >= least && value <= most
      ? { [name]: value }
      : {};
  return {
    ...within('loudnessBefore', loudnessBefore, -120, 20),
    ...within('cut', cut, 0, 3_600),
    ...within('clipped', clipped, 0, 1),
    ...within('humBelow', humBelow, -50, 400),
    ...(typeof outOfPhase === 'boolean' ? { outOfPhase } : {}),
  };
}

/** JSON knows no infinity; a hum that cannot be measured is far below. */
const finite = (facts: SoundFacts): SoundFacts => ({
  ...facts,
  humBelow: Number.isFinite(facts.humBelow) ? facts.humBelow : 200,
});

async function keep(
  ctx: Context,
  scope: Scope,
  message: VoiceMessage,
  version: number,
  words: string,
  { bytes, facts }: ReadySound,
  { accountId }: Actor,
): Promise<VoiceRecording> {
  const recording = scope.em.create(VoiceRecording, {
    ...{ id: ctx.id('vrc'), workspaceId: scope.workspaceId, messageId: message.id, version },
    ...{ words: cleanText(words.trim()), seconds: facts.seconds, facts, size: bytes.length, heardAs: null },
    ...{ createdBy: accountId, createdAt: new Date(ctx.now()) },
  });
  await putBytes(scope, recording.id, bytes, 'audio/wav');
  await scope.em.persistAndFlush(recording);
  return recording;
}

interface RecordingFindings {
  words: VoiceFinding[];
  sound: SoundFinding[];
}

type Callers = Omit<VoiceWordsContext, 'seconds'>;

/** Who may be named as the caller, and the numbers that may be given to call back. */
export async function callersOf(scope: Scope): Promise<Callers> {
  const { business, name, country, contact } = await scope.em.findOneOrFail(Workspace, {
    id: scope.workspaceId,
  });
  const programs = await scope.em.find(Program, { archivedAt: null });
  const numbers = await scope.em.find(SenderNumberRow, { releasedAt: null, voice: true });
  return {
    callers: [...new Set([business, name, ...programs.map((program) => program.name)])],
    numbers: [...numbers.map(({ number }) => number), contact],
    country,
  };
}

type Checkable = Pick<VoiceRecording, 'words' | 'seconds' | 'facts'>;

/** What there is to say about a recording, its words and its sound. */
export const findingsBy = (callers: Callers, { words, seconds, facts }: Checkable): RecordingFindings => ({
  words: checkVoiceWords(words, { ...callers, seconds }),
  sound: soundFindings(facts),
});

/** What must be mended before it is dropped on anybody. */
export const mustsBy = (callers: Callers, recording: Checkable): string[] =>
  findingsBy(callers, recording)
    .words.filter(({ severity }) => severity === 'must')
    .map(({ message }) => message);

export const findingsOfRecording = async (scope: Scope, recording: Checkable): Promise<RecordingFindings> =>
  findingsBy(await callersOf(scope), recording);

export const mustsOfRecording = async (scope: Scope, recording: Checkable): Promise<string[]> =>
  mustsBy(await callersOf(scope), recording);
