import { LockMode } from '@mikro-orm/core';
import type { Happening, HappeningKind } from '@/core/happening/kinds';
import type { Trigger } from '@/core/sequence/advance';
import type { Act, Begin, EndingCause, SequenceDocument } from '@/core/sequence/document';
import { plain } from '@/core/reply/normalise';
import { byKey, type Scope } from '@/db/kit/scope';
import { lockOpenOf } from '@/db/sequences/enrolments';
import { versionsThere } from '@/db/sequences/sequences';
import { FormSequence } from '@/db/forms/entities';
import { SourceSequence } from '@/db/inquiries/entities';
import { KeywordSequence } from '@/db/programs/entities';
import { Sequence, Trial } from '@/db/sequences/entities';
import { Person } from '@/db/people/entities';
import { textOf } from '@/db/sequences/people';
import type { Context } from '@/services/kit/context';
import type { Consumer } from '@/services/kit/happenings';
import { enterPeople, moveAll, type Entering } from './enter';
import { FOLLOWED, FOLLOWER } from './followed';
import type { Move } from './move-on';
import { tellNow } from './run-trial';
import { versionOf } from './versions';

/** What happens to people begins sequences, and moves on those who are in one. */
export const SEQUENCES_FOLLOW: Consumer = {
  name: FOLLOWER,
  // Where there is no sequence, nothing is read.
  follows: async (scope) =>
    (await scope.em.count(Sequence, { version: { $ne: null } })) > 0 ||
    (await scope.em.count(Trial, { endedAt: null })) > 0
      ? FOLLOWED
      : [],
  take,
};

async function take(ctx: Context, scope: Scope, happenings: readonly Happening[]): Promise<void> {
  await byKey(scope);
  await tellThoseIn(ctx, scope, happenings);
  await tellTrials(ctx, scope, happenings);
  await beginSequences(ctx, scope, happenings);
}

/** Those who are in a sequence hear what they did and what changed, in its order. */
async function tellThoseIn(ctx: Context, scope: Scope, happenings: readonly Happening[]): Promise<void> {
  const ends = happenings.some(({ kind }) => LABELS.has(kind)) ? await labelsThatEnd(scope) : NO_LABELS;
  // A tag put on everybody ends no sequence that does not name it: nobody is looked for then.
  const told = happenings.filter(
    ({ kind, subject }) => kind !== 'sequence.ended' && (!LABELS.has(kind) || ends.has(subject ?? '')),
  );
  // One after the other for one person; for different people together.
  for (const round of inRounds(told)) {
    const people = [...new Set(round.map(({ personId }) => personId))];
    const open = await lockOpenOf(scope, people);
    const fields = open.length > 0 ? await fieldsOf(scope, round) : new Map<string, Fields>();
    const moves: Move[] = [];
    for (const one of open) {
      const happening = round.find(
        ({ personId, at }) => personId === one.personId && at.getTime() >= one.began,
      );
      if (!happening) continue;
      const sequence = await versionOf(scope, one.sequenceId, one.version);
      const trigger = sequence && triggerOf(happening, sequence.document, fields.get(one.personId) ?? {});
      if (trigger) moves.push({ one, trigger, at: happening.at.getTime() });
    }
    await moveAll(ctx, scope, moves);
  }
}

const LABELS: ReadonlySet<HappeningKind> = new Set<HappeningKind>(['tag.put', 'list.put']);
const NO_LABELS: ReadonlySet<string> = new Set();

/** Tags and lists that end some version of some sequence. */
async function labelsThatEnd(scope: Scope): Promise<ReadonlySet<string>> {
  const labels = new Set<string>();
  for (const { sequence_id: id, version } of await versionsThere(scope))
    for (const { when } of (await versionOf(scope, id, version))?.document.ends ?? [])
      if (when.on === 'tag' || when.on === 'list') labels.add(when.label);
  return labels;
}

/** Whoever tries a sequence on themselves answers it like anybody. */
async function tellTrials(ctx: Context, scope: Scope, happenings: readonly Happening[]): Promise<void> {
  // Trials that run are few and happenings are many: the few are read.
  const told = new Set(happenings.map(({ personId }) => personId));
  const open = (await scope.em.find(Trial, { endedAt: null })).filter(({ personId }) => told.has(personId));
  if (open.length === 0) return;
  const trials = await scope.em.find(
    Trial,
    { id: open.map(({ id }) => id), endedAt: null },
    { lockMode: LockMode.PESSIMISTIC_WRITE, orderBy: { id: 'asc' }, refresh: true },
  );
  for (const trial of trials)
    for (const happening of happenings) {
      const since = happening.personId === trial.personId && happening.at >= trial.beganAt;
      const trigger = since && !trial.endedAt ? triggerOf(happening, trial.document, {}) : null;
      if (trigger) await tellNow(ctx, scope, trial, trigger);
    }
}

/** The first of each person, then the second of each, and so on. */
function inRounds(happenings: readonly Happening[]): Happening[][] {
  const rounds: Happening[][] = [];
  const seen = new Map<string, number>();
  for (const happening of happenings) {
    const round = seen.get(happening.personId) ?? 0;
    seen.set(happening.personId, round + 1);
    (rounds[round] ??= []).push(happening);
  }
  return rounds;
}

/** Words that a person wrote for themselves: a keyword or STOP is answered by itself, and is no reply to a sequence. */
const isReply = ({ detail }: Happening): boolean =>
  detail.meaning === 'reply' || detail.meaning === 'unclear';

function triggerOf(happening: Happening, document: SequenceDocument, fields: Fields): Trigger | null {
  const { kind, subject, detail } = happening;
  switch (kind) {
    case 'reply.received':
      return isReply(happening) ? { on: 'act', act: 'reply' } : null;
    case 'link.clicked':
    case 'form.filled':
    case 'voucher.redeemed':
      return { on: 'act', act: ACT_OF[kind] };
    case 'program.left':
      return subject === document.program && leavesFor(document, detail.channel)
        ? { on: 'end', why: 'opted-out' }
        : null;
    case 'tag.put':
      return { on: 'changed', what: { on: 'tag', label: subject! } };
    case 'list.put':
      return { on: 'changed', what: { on: 'list', label: subject! } };
    case 'stage.changed':
      return subject === null ? null : { on: 'changed', what: { on: 'stage', stage: subject } };
    case 'person.changed':
      return { on: 'changed', what: fieldOf(document, detail, fields) };
    default:
      return null;
  }
}

const ACT_OF: Record<'link.clicked' | 'form.filled' | 'voucher.redeemed', Act> = {
  'link.clicked': 'click',
  'form.filled': 'fill-in',
  'voucher.redeemed': 'redeem',
};

/** Who leaves by text may still read letters of a sequence that only writes letters, and the other way round. */
function leavesFor(document: SequenceDocument, channel: unknown): boolean {
  const channels = new Set(channelsOf(document.lines));
  return channels.size === 0 || channels.has(channel === 'email' ? 'email' : 'sms');
}

function* channelsOf(lines: SequenceDocument['lines']): Generator<'sms' | 'email'> {
  for (const { what } of lines) {
    if (what.do === 'email') yield 'email';
    // Whoever says STOP means what makes their phone ring.
    if (what.do === 'text' || what.do === 'ask' || what.do === 'voicemail') yield 'sms';
    if (what.do === 'fork') for (const column of what.columns) yield* channelsOf(column.lines);
  }
}

type Fields = Record<string, unknown>;

/** The values of people of whom something changed. */
async function fieldsOf(scope: Scope, happenings: readonly Happening[]): Promise<Map<string, Fields>> {
  const changed = happenings.filter(({ kind }) => kind === 'person.changed').map(({ personId }) => personId);
  if (changed.length === 0) return new Map();
  const people = await scope.em.find(Person, { id: changed }, { refresh: true });
  return new Map(people.map((person) => [person.id, person.fields]));
}

/** The field that ends the sequence, with the value it has now, if it is among those that changed. */
function fieldOf(
  document: SequenceDocument,
  detail: Record<string, unknown>,
  fields: Fields,
): Extract<EndingCause, { on: 'field' }> | null {
  const changed = (detail.fields as string[] | undefined) ?? [];
  const valueOf = (field: string): string => String(fields[field.replace(/^own\./, '')] ?? '');
  for (const { when } of document.ends)
    if (when.on === 'field' && changed.includes(when.field)) {
      const value = valueOf(when.field);
      if (when.value === null || when.value === value) return { on: 'field', field: when.field, value };
    }
  return null;
}

interface Beginning {
  sequenceId: string;
  document: SequenceDocument;
}

async function beginSequences(ctx: Context, scope: Scope, happenings: readonly Happening[]): Promise<void> {
  const running = await scope.em.find(
    Sequence,
    { state: ['running', 'paused'], version: { $ne: null } },
    { orderBy: { id: 'asc' } },
  );
  const beginnings: Beginning[] = [];
  for (const { id, version } of running) {
    const ready = await versionOf(scope, id, version!);
    if (ready && ready.document.begins.length > 0)
      beginnings.push({ sequenceId: id, document: ready.document });
  }
  const words = await wordsOf(scope, happenings, beginnings);
  await beginByNamed(ctx, scope, happenings);
  for (const { sequenceId, document } of beginnings) {
    const entering = happenings.flatMap((happening): Entering[] => {
      const began = document.begins.find((begins) => fits(begins, happening, words));
      return began ? [enteringOf(happening, began)] : [];
    });
    if (entering.length > 0) await enterPeople(ctx, scope, sequenceId, entering);
  }
}

/** A keyword and a form name the sequences they start; these begin whatever else they begin by. */
async function beginByNamed(ctx: Context, scope: Scope, happenings: readonly Happening[]): Promise<void> {
  for (const { kind, by, startedBy } of NAMED) {
    const happened = happenings.filter((one) => one.kind === kind && one.subject !== null);
    if (happened.length === 0) continue;
    const starts = await startedBy(scope, [...new Set(happened.map(({ subject }) => subject!))]);
    for (const sequenceId of new Set(starts.map((one) => one.sequenceId))) {
      const these = starts.filter((one) => one.sequenceId === sequenceId);
      const entering = happened
        .filter((one) => isAnswered(one) && these.some((start) => isStart(start, one)))
        .map(({ personId, at }) => ({
          ...{ personId, at: at.getTime(), by, prompted: true, grace: false },
        }));
      await enterPeople(ctx, scope, sequenceId, entering);
    }
  }
}

interface Start {
  subject: string;
  /** Of an inquiry: of which kind; left out: whatever its kind. */
  kind?: string;
  sequenceId: string;
}

const isStart = ({ subject, kind }: Start, happening: Happening): boolean =>
  subject === happening.subject && (kind === undefined || kind === happening.detail.kind);

/** An inquiry that came by another portal too is answered once; one of somebody who had left is not answered by itself. */
const isAnswered = ({ kind, detail }: Happening): boolean =>
  kind !== 'inquiry.received' || (detail.twin === undefined && detail.held === undefined);

const inOrder = { orderBy: { sequenceId: 'asc' } } as const;

const NAMED: readonly {
  kind: HappeningKind;
  by: string;
  startedBy(scope: Scope, subjects: string[]): Promise<Start[]>;
}[] = [
  {
    kind: 'keyword.heard',
    by: 'keyword',
    startedBy: async (scope, ids) =>
      (await scope.em.find(KeywordSequence, { keywordId: ids }, inOrder)).map((row) => ({
        ...{ subject: row.keywordId, sequenceId: row.sequenceId },
      })),
  },
  {
    kind: 'form.filled',
    by: 'form',
    startedBy: async (scope, ids) =>
      (await scope.em.find(FormSequence, { formId: ids }, inOrder)).map((row) => ({
        ...{ subject: row.formId, sequenceId: row.sequenceId },
      })),
  },
  {
    kind: 'inquiry.received',
    by: 'inquiry',
    startedBy: async (scope, ids) =>
      (await scope.em.find(SourceSequence, { sourceId: ids }, inOrder)).map((row) => ({
        ...{ subject: row.sourceId, sequenceId: row.sequenceId },
        ...(row.kind === '' ? {} : { kind: row.kind }),
      })),
  },
];

/** What people wrote, where a sequence begins by words. */
async function wordsOf(
  scope: Scope,
  happenings: readonly Happening[],
  beginnings: readonly Beginning[],
): Promise<ReadonlyMap<string, string>> {
  if (!beginnings.some(({ document }) => document.begins.some(({ on }) => on === 'replied')))
    return new Map();
  const replies = happenings.flatMap((one) =>
    one.kind === 'reply.received' && isReply(one) && one.subject ? [one.subject] : [],
  );
  return new Map((await textOf(scope, replies)).map(({ id, body }) => [id, ` ${plain(body)} `]));
}

function fits(begins: Begin, happening: Happening, words: ReadonlyMap<string, string>): boolean {
  const { kind, subject, detail } = happening;
  switch (begins.on) {
    case 'joined':
      return (
        kind === 'program.joined' &&
        subject === begins.program &&
        (begins.method === undefined || begins.method === detail.method) &&
        (begins.keyword === undefined || plain(begins.keyword) === plain(String(detail.keyword ?? '')))
      );
    case 'tag':
    case 'list':
      return kind === `${begins.on}.put` && subject === begins.label;
    case 'stage':
      return kind === 'stage.changed' && subject === begins.stage;
    case 'replied': {
      const said = kind === 'reply.received' && subject ? words.get(subject) : undefined;
      return said !== undefined && begins.words.some((word) => said.includes(` ${plain(word)} `));
    }
    case 'clicked':
      return kind === 'link.clicked';
    case 'redeemed':
      return kind === 'voucher.redeemed';
    case 'expiring':
      return kind === 'voucher.expiring';
    case 'field':
      return (
        kind === 'person.changed' && ((detail.fields as string[] | undefined) ?? []).includes(begins.field)
      );
    case 'ended':
      return kind === 'sequence.ended' && subject === begins.sequence && !BY_HAND.has(String(detail.why));
    case 'inquiry':
      return (
        kind === 'inquiry.received' &&
        isAnswered(happening) &&
        (begins.source === undefined || begins.source === subject) &&
        (begins.kind === undefined || begins.kind === detail.kind)
      );
    case 'date':
    case 'request':
      return false;
  }
}

/** Ends that somebody made, or that mean that nothing more is wanted: nothing follows from them. */
const BY_HAND: ReadonlySet<string> = new Set([
  'taken-out',
  'called-back',
  'stopped',
  'opted-out',
  'merged',
  'began-anew',
]);

const OWN_ACTS: ReadonlySet<HappeningKind> = new Set([
  ...(['reply.received', 'link.clicked', 'form.filled', 'voucher.redeemed', 'inquiry.received'] as const),
]);

/** A batch or an import begins it for many: their first line waits for the grace. */
function enteringOf({ kind, personId, at, detail }: Happening, begins: Begin): Entering {
  const byMany = typeof detail.by === 'string' || detail.method === 'import';
  const ownAct =
    OWN_ACTS.has(kind) ||
    (kind === 'program.joined' &&
      (detail.method === 'keyword' || detail.method === 'reply' || detail.method === 'form'));
  const by = typeof detail.by === 'string' ? `batch:${detail.by}` : begins.on;
  return { ...{ personId, at: at.getTime(), by }, prompted: ownAct && !byMany, grace: byMany };
}
