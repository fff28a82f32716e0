import { LockMode } from '@mikro-orm/core';
import { checkSequence, type Warning } from '@/core/sequence/check';
import { FORMAT, type SequenceDocument } from '@/core/sequence/document';
import { parseSequence, type NamedDocument } from '@/core/sequence/parse';
import { ok, refuse, type Result } from '@/core/shared/result';
import { cutText } from '@/core/shared/clean-text';
import { clean } from '@/core/people/values';
import { namesOfThings } from '@/db/audience/things';
import { setSend } from '@/db/delivery/sends';
import { announce } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { nameTaken, wakeMessages } from '@/db/sequences/sequences';
import { wakeAll, wakeSequence } from '@/db/sequences/enrolments';
import { Sequence, SequenceVersion, type SequenceState } from '@/db/sequences/entities';
import { wantSequences } from './followed';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { todayIn } from '@/services/kit/today';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { findProgram, NO_PROGRAM } from '@/services/programs/find-program';
import type { DraftInput, NewSequenceInput, PublishInput } from './inputs';
import { knownThings } from './known';
import { toJson } from '@/db/kit/json';
import { withReferences } from '@/core/sequence/references';

/** A new sequence, as a draft: empty, or from a document whose names are found here. */
export async function createSequence(
  ctx: Context,
  scope: Scope,
  input: NewSequenceInput,
  actor: Actor,
): Promise<Result<Sequence, Refusal>> {
  const read = input.document === undefined ? null : readDocument(input.document);
  if (read && !read.ok) return read;
  const program = await findProgram(scope, input.program ?? read?.value.program ?? '');
  const wanted =
    program ?? (read && (await findProgram(scope, read.value.names?.[read.value.program] ?? '')));
  if (!wanted) return invalid('program', NO_PROGRAM);
  const name = await freeName(scope, clean(input.name ?? read?.value.name ?? '') || 'New sequence');
  const document = read ? await adopted(scope, read.value, wanted.id) : emptyDocument(wanted.id);
  const at = new Date(ctx.now());
  const sequence = scope.em.create(Sequence, {
    ...{ id: ctx.id('seq'), workspaceId: scope.workspaceId, name, programId: wanted.id, state: 'draft' },
    ...{ draft: { ...document, name }, draftStamp: 1, draftBy: actor.accountId, version: null },
    ...{ createdBy: actor.accountId, createdAt: at, updatedAt: at },
  });
  await scope.em.persistAndFlush(sequence);
  await writeAudit(ctx, scope, actor.name, 'sequence.created', sequence.id);
  return ok(sequence);
}

const emptyDocument = (program: string): SequenceDocument => ({
  ...{ format: FORMAT, name: '', program, begins: [], only: null, again: { rule: 'never' } },
  ...{ grace_minutes: 5, hours: null, lines: [], ends: [{ when: { on: 'reply' }, then: [] }] },
});

/** A document read by the published form; what is wrong names its place. */
export function readDocument(data: object): Result<NamedDocument, Refusal> {
  const read = parseSequence(data);
  if (read.ok) return read;
  return refuse({
    code: 'invalid',
    problems: read.reason.map(({ path, line, message }) => ({
      field: `document${path && `.${path}`}`,
      message: `document${line === null ? '' : `, line ${line}`}${path && ` at ${path}`}: ${message}`,
    })),
  });
}

/** The name, or with a number where it is taken. */
async function freeName(scope: Scope, name: string): Promise<string> {
  const cut = cutText(name, 70);
  for (let n = 1; ; n++) {
    const wanted = n === 1 ? cut : `${cut} ${n}`;
    if (!(await nameTaken(scope, wanted, null))) return wanted;
  }
}

/**
 * A document from elsewhere, with what is called the same here in place of what it referred to. What has no namesake
 * keeps its id, and is said to be gone until something else is chosen.
 */
async function adopted(scope: Scope, document: NamedDocument, programId: string): Promise<SequenceDocument> {
  const { names = {}, ...plain } = document;
  const things = await namesOfThings(scope);
  const sequences = await scope.em.find(Sequence, {});
  const here = new Set([...things, ...sequences].map(({ id }) => id));
  const byName = new Map([...sequences, ...things].map((thing) => [thing.name.toLowerCase(), thing.id]));
  const idOf = (id: string) => (here.has(id) ? id : (byName.get(names[id]?.toLowerCase() ?? '') ?? id));
  return { ...withReferences(plain, idOf), program: programId };
}

/** The document with the names of all it refers to, as it is exported. */
export async function exportedDocument(scope: Scope, document: SequenceDocument): Promise<NamedDocument> {
  const things = await namesOfThings(scope);
  const sequences = await scope.em.find(Sequence, {});
  const text = toJson(document);
  const used = [...things, ...sequences].filter(({ id }) => text.includes(`"${id}"`));
  return { ...document, names: Object.fromEntries(used.map(({ id, name }) => [id, name])) };
}

/** Keeps what is being written. Somebody who saved since is not overwritten. */
export async function saveDraft(
  ctx: Context,
  scope: Scope,
  id: string,
  input: DraftInput,
  actor: Actor,
): Promise<Result<Sequence, Refusal>> {
  const read = readDocument(input.document);
  if (!read.ok) return read;
  const { names: _, ...document } = read.value;
  const sequence = await scope.em.findOne(Sequence, { id });
  if (!sequence) return notFound('sequence');
  const program = await findProgram(scope, document.program);
  if (!program) return invalid('document.program', NO_PROGRAM.replace(/^program/, 'document.program'));
  const name = clean(document.name);
  if (name === '')
    return invalid('document.name', 'document.name: must not be empty: the name is how you find it again.');
  if (await nameTaken(scope, name, id))
    return conflict(
      'document.name',
      'document.name: another sequence has this name. Choose a different one.',
    );
  const saved = await scope.em.nativeUpdate(
    Sequence,
    { id, draftStamp: input.stamp },
    {
      ...{
        draft: { ...document, name, program: program.id },
        draftStamp: input.stamp + 1,
        draftBy: actor.accountId,
      },
      ...{ name, programId: program.id, updatedAt: new Date(ctx.now()) },
    },
  );
  if (saved === 0)
    return conflict(
      'stamp',
      'stamp: somebody else saved this sequence meanwhile. Load it again and look at their changes.',
    );
  await announce(scope, false);
  return ok(await scope.em.findOneOrFail(Sequence, { id }, { refresh: true }));
}

/** What may go wrong with a draft. */
export const warningsOf = async (
  scope: Scope,
  document: SequenceDocument,
  self: string | null,
): Promise<Warning[]> => checkSequence(document, await knownThings(scope, document.program, self), self);

/** Makes the draft the version that people enter. Whoever is on the way stays, unless `others` says that they move. */
export async function publishSequence(
  ctx: Context,
  scope: Scope,
  id: string,
  input: Pick<PublishInput, 'stamp'>,
  actor: Actor,
): Promise<Result<Sequence, Refusal>> {
  const sequence = await scope.em.findOne(Sequence, { id }, { lockMode: LockMode.PESSIMISTIC_WRITE });
  if (!sequence) return notFound('sequence');
  if (sequence.draftStamp !== input.stamp)
    return conflict(
      'stamp',
      'stamp: somebody else saved this sequence meanwhile. Load it again and look at their changes.',
    );
  const musts = (await warningsOf(scope, sequence.draft, id)).filter(({ weight }) => weight === 'must');
  if (musts.length > 0)
    return refuse({
      code: 'invalid',
      problems: musts.map(({ line, message }) => ({
        field: line === null ? 'document' : `line ${line}`,
        message,
      })),
    });
  return ok(await publishDocument(ctx, scope, sequence, sequence.draft, actor));
}

async function publishDocument(
  ctx: Context,
  scope: Scope,
  sequence: Sequence,
  document: NamedDocument,
  actor: Actor,
): Promise<Sequence> {
  const at = new Date(ctx.now());
  const version = (sequence.version ?? 0) + 1;
  await scope.em.insert(SequenceVersion, {
    ...{ workspaceId: scope.workspaceId, sequenceId: sequence.id, version, document },
    ...{ publishedBy: actor.accountId, publishedAt: at },
  });
  const state: SequenceState = sequence.state === 'paused' ? 'paused' : 'running';
  Object.assign(sequence, { version, state, updatedAt: at });
  // Whoever begins by a date begins from tomorrow on: today’s hour may be over.
  sequence.datesOn ??= (await todayIn(scope, ctx.now())).day;
  await scope.em.flush();
  await setSend(scope, {
    id: sequence.id,
    kind: 'sequence',
    goes: state === 'paused' ? 'waits' : 'on',
    began: at,
  });
  await wantSequences(scope);
  await writeAudit(ctx, scope, actor.name, 'sequence.published', sequence.id, { version });
  return sequence;
}

/** The version before becomes a new one: what was published is taken back. */
export async function takeBackVersion(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<Sequence, Refusal>> {
  const sequence = await scope.em.findOne(Sequence, { id }, { lockMode: LockMode.PESSIMISTIC_WRITE });
  if (!sequence) return notFound('sequence');
  const before = await scope.em.findOne(SequenceVersion, {
    sequenceId: id,
    version: (sequence.version ?? 0) - 1,
  });
  if (!before) return conflict('version', 'version: there is no version before this one.');
  return ok(await publishDocument(ctx, scope, sequence, before.document, actor));
}

const MOVES: Record<
  'pause' | 'resume' | 'stop',
  { from: SequenceState[]; to: SequenceState; otherwise: string }
> = {
  pause: { from: ['running'], to: 'paused', otherwise: 'state: only a sequence that runs can be paused.' },
  resume: {
    from: ['paused', 'stopped'],
    to: 'running',
    otherwise: 'state: only a sequence that is paused or ended can go on.',
  },
  stop: {
    from: ['running', 'paused'],
    to: 'stopped',
    otherwise: 'state: only a sequence that runs or is paused can be ended.',
  },
};

/** Pauses it for everybody, lets it go on, or ends it for all who are in it. Messages that have not left wait, or are called back. */
export async function moveSequence(
  ctx: Context,
  scope: Scope,
  id: string,
  verb: 'pause' | 'resume' | 'stop',
  actor: Actor,
): Promise<Result<Sequence, Refusal>> {
  const sequence = await scope.em.findOne(Sequence, { id }, { lockMode: LockMode.PESSIMISTIC_WRITE });
  if (!sequence) return notFound('sequence');
  const { from, to, otherwise } = MOVES[verb];
  if (!from.includes(sequence.state) || sequence.version === null) return conflict('state', otherwise);
  const at = new Date(ctx.now());
  Object.assign(sequence, { state: to, updatedAt: at });
  await scope.em.flush();
  const goes = to === 'running' ? 'on' : to === 'paused' ? 'waits' : 'over';
  await setSend(scope, { id, kind: 'sequence', goes, began: to === 'running' ? at : null });
  if (verb === 'pause') {
    await wakeSequence(scope, id, null);
    await wakeMessages(scope, id, 'infinity');
  }
  if (verb === 'resume') {
    await wakeSequence(scope, id, at);
    await wakeMessages(scope, id, at.toISOString());
  }
  // Everybody is looked at, and ends: in slices, each committed by itself.
  if (verb === 'stop') await wakeAll(scope, id, at);
  await writeAudit(ctx, scope, actor.name, `sequence.${verb}`, id);
  await announce(scope, verb === 'resume');
  return ok(sequence);
}

/** The draft as it is taken elsewhere; null: there is no such sequence. */
export async function exportSequence(scope: Scope, id: string): Promise<NamedDocument | null> {
  const sequence = await scope.em.findOne(Sequence, { id });
  return sequence && exportedDocument(scope, sequence.draft);
}
