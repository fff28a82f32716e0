import { ChatTemplate } from '@/db/chat/entities';
import { newestRecordings } from '@/db/voicemail/voicemails';
import type { KeptFile } from '@/core/media/kinds';
import type { MergeField } from '@/core/text/fields';
import { mergeFields } from '@/services/audience/merge-fields';
import { keptFiles } from '@/services/media/files';
import { keptFile } from '@/services/media/views';
import { targetsOf } from '@/db/links/links';
import type { AskableField } from '@/core/audience/fields';
import type { NamedThing } from '@/core/audience/suggest';
import type { Warning } from '@/core/sequence/check';
import type { NamedDocument } from '@/core/sequence/parse';
import { Field } from '@/db/audience/entities';
import { Source } from '@/db/inquiries/entities';
import { namesOfThings } from '@/db/audience/things';
import type { Scope } from '@/db/kit/scope';
import { Sequence, SequenceVersion, type SequenceState } from '@/db/sequences/entities';
import {
  begunBy,
  peopleAt,
  sequenceCounts,
  type BegunBy,
  type SequenceCounts,
} from '@/db/sequences/sequences';
import { audienceContext } from '@/services/audience/audience';
import type { Context } from '@/services/kit/context';
import { readSequenceResult, type SequenceResult } from './results';
import type { Tally } from '@/core/sequence/tally';
import { tallyMove } from './difference';
import { warningsOf } from './sequences';
import { readOwnNumber, type OwnNumberView } from './own-number';
import { readTrial, type TrialView } from './trials';
import { readForecast, type SequenceForecast } from './forecast';

export interface SequenceLine {
  id: string;
  name: string;
  program: string;
  state: SequenceState;
  version: number | null;
  open: number;
  ended: number;
  replied: number;
  in_grace: number;
  began_7: number;
}

const NONE: Omit<SequenceCounts, 'sequence_id'> = { open: 0, ended: 0, replied: 0, in_grace: 0, began_7: 0 };

export async function readSequences(scope: Scope, now: number): Promise<SequenceLine[]> {
  const rows = await scope.em.find(Sequence, {}, { orderBy: { id: 'desc' } });
  const things = new Map((await namesOfThings(scope)).map(({ id, name }) => [id, name]));
  const counts = new Map(
    (
      await sequenceCounts(
        scope,
        rows.map(({ id }) => id),
        new Date(now),
      )
    ).map((row) => [row.sequence_id, row]),
  );
  return rows.map(({ id, name, programId, state, version }) => ({
    ...{ id, name, state, version, program: things.get(programId) ?? '' },
    ...(counts.get(id) ?? NONE),
  }));
}

export interface SequenceScreen {
  sequence: {
    id: string;
    name: string;
    state: SequenceState;
    version: number | null;
    stamp: number;
    document: NamedDocument;
    published: NamedDocument | null;
  };
  names: Record<string, string>;
  choices: Record<
    'programs' | 'tags' | 'lists' | 'stages' | 'teammates' | 'sequences' | 'fields' | 'dates',
    { id: string; name: string }[]
  > & {
    merge: MergeField[];
    sources: { id: string; name: string; kinds: string[] }[];
    files: KeptFile[];
    chats: { id: string; name: string }[];
    recordings: { id: string; name: string; words: string }[];
  };
  askable: { fields: AskableField[]; things: NamedThing[] };
  result: SequenceResult;
  forecast: SequenceForecast | null;
  warnings: Warning[];
  /** Doors that name it as what they begin, with where each is changed. */
  begunBy: BegunBy[];
  own: OwnNumberView;
  trial: TrialView | null;
  /** Where its links lead, and who came by them. */
  links: Awaited<ReturnType<typeof targetsOf>>;
}

/** A sequence as it is written, with everything its lines can refer to and what came of it. */
export async function readSequenceScreen(
  ctx: Context,
  scope: Scope,
  id: string,
  accountId: string,
): Promise<SequenceScreen | null> {
  const sequence = await scope.em.findOne(Sequence, { id });
  if (!sequence) return null;
  const published =
    sequence.version === null
      ? null
      : await scope.em.findOne(SequenceVersion, { sequenceId: id, version: sequence.version });
  const context = await audienceContext(scope, ctx.now(), accountId);
  const things = await namesOfThings(scope, accountId);
  const fields = await scope.em.find(Field, { archivedAt: null }, { orderBy: { position: 'asc' } });
  const others = await scope.em.find(Sequence, { id: { $ne: id } }, { orderBy: { name: 'asc' } });
  const thingsOf = (kind: string) =>
    things.filter((thing) => thing.kind === kind).map((thing) => ({ id: thing.id, name: thing.name }));
  const own = (dates: boolean) =>
    fields
      .filter(({ kind }) => !dates || kind === 'date')
      .map(({ key, label }) => ({ id: `own.${key}`, name: label }));
  const { draft, draftStamp: stamp, name, state, version } = sequence;
  return {
    sequence: {
      ...{ id, name, state, version, stamp, document: draft },
      published: published?.document ?? null,
    },
    names: Object.fromEntries([
      ...things.map((thing) => [thing.id, thing.name]),
      ...others.map((other) => [other.id, other.name]),
      ...fields.map(({ key, label }) => [`own.${key}`, label]),
    ]) as Record<string, string>,
    choices: {
      ...{
        programs: thingsOf('program'),
        tags: thingsOf('tag'),
        lists: thingsOf('list'),
        stages: thingsOf('stage'),
        teammates: thingsOf('teammate'),
      },
      ...{
        sequences: others.map((other) => ({ id: other.id, name: other.name })),
        fields: own(false),
        dates: own(true),
        sources: (await scope.em.find(Source, {}, { orderBy: { name: 'asc' } })).map(sourceChoice),
        merge: await mergeFields(scope),
        files: (await keptFiles(scope)).map(keptFile),
        chats: (await scope.em.find(ChatTemplate, { archivedAt: null }, { orderBy: { name: 'asc' } })).map(
          ({ id: chat, name: called }) => ({ id: chat, name: called }),
        ),
        recordings: await newestRecordings(scope),
      },
    },
    askable: { fields: [...context.fields.values()], things },
    result: await readSequenceResult(ctx, scope, id),
    forecast: await readForecast(ctx, scope, id),
    warnings: await warningsOf(scope, draft, id),
    begunBy: await begunBy(scope, id),
    own: await readOwnNumber(ctx, scope, accountId),
    trial: await readTrial(scope, id, accountId),
    links: await targetsOf(scope, id),
  };
}

const sourceChoice = ({ id, name, mapping }: Source) => ({
  ...{ id, name },
  kinds: [...new Set([...mapping.kinds.map(({ kind }) => kind), mapping.otherKind])],
});

/** Who waits at a line, or is in it at all. */
export const readPeopleAt = (scope: Scope, id: string, line: string | null) => peopleAt(scope, id, line);

/** What moving to its draft does: for as many as there is patience for, or for all, however long that takes. */
export async function readMove(ctx: Context, scope: Scope, id: string, all = false): Promise<Tally | null> {
  const sequence = await scope.em.findOne(Sequence, { id });
  return sequence && tallyMove(ctx, scope, id, sequence.draft, all ? Infinity : undefined);
}

export const readSequenceName = async (scope: Scope, id: string): Promise<string | null> =>
  (await scope.em.findOne(Sequence, { id }))?.name ?? null;
