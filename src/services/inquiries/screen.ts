import { readInquiry } from '@/core/inquiry/read-inquiry';
import { readRowsOf } from '@/core/inquiry/tried';
import type { Mapping } from '@/core/inquiry/mapping';
import { newestArrivals, unreadBySource, type ArrivalRow } from '@/db/inquiries/arrivals';
import { Source, SourceLabel, SourceSequence } from '@/db/inquiries/entities';
import { teamOf } from '@/db/inquiries/inquiries';
import type { Scope } from '@/db/kit/scope';
import { Label } from '@/db/people/entities';
import { Program } from '@/db/programs/entities';
import { Sequence } from '@/db/sequences/entities';
import { ownFields } from '@/services/audience/own-fields';
import { readingContext } from './reading';
import { proposedMapping, SAMPLES, samplesOf } from './sources';
import { doorsOfSource } from './views';

export async function readSources(scope: Scope) {
  const sources = await scope.em.find(Source, {}, { orderBy: { name: 'asc' } });
  const programs = await scope.em.find(Program, {}, { orderBy: { name: 'asc' } });
  const named = new Map(programs.map(({ id, name }) => [id, name]));
  const unread = new Map((await unreadBySource(scope)).map((one) => [one.id, one.unread]));
  return {
    programs: programs.filter(({ archivedAt }) => archivedAt === null).map(nameOf),
    sources: sources.map((source) => ({
      ...{ id: source.id, name: source.name, closed: source.closedAt !== null },
      ...{ program: named.get(source.programId) ?? '', unread: unread.get(source.id) ?? 0 },
      mapped: source.mapping.rules.length > 0,
    })),
  };
}

/** All that the page of a source shows; null: there is none. */
export async function readSource(scope: Scope, id: string) {
  const source = await scope.em.findOne(Source, { id });
  if (!source) return null;
  const { samples, proposals, rules } = await proposedMapping(scope, source);
  const labels = await scope.em.find(Label, {}, { orderBy: { name: 'asc' } });
  return {
    source,
    doors: doorsOfSource(source),
    samples: samples.map(shownArrival),
    proposals,
    proposed: rules,
    unread: (await newestArrivals(scope, id, { state: 'unread', most: SAMPLES })).map(shownArrival),
    leftOut: (await newestArrivals(scope, id, { state: 'dropped', most: SAMPLES })).map(shownArrival),
    own: (await ownFields(scope)).map(({ key, label }) => ({ key, label })),
    programs: (await scope.em.find(Program, { archivedAt: null }, { orderBy: { name: 'asc' } })).map(nameOf),
    labels: labels.map(({ id: label, name, kind }) => ({ id: label, name, kind })),
    given: (await scope.em.find(SourceLabel, { sourceId: id })).map(({ labelId }) => labelId),
    sequences: (await scope.em.find(Sequence, {}, { orderBy: { name: 'asc' } })).map(nameOf),
    begins: (await scope.em.find(SourceSequence, { sourceId: id })).map(({ sequenceId, kind }) => ({
      ...{ sequence: sequenceId, kind },
    })),
    team: await teamOf(scope),
  };
}

const nameOf = ({ id, name }: { id: string; name: string }) => ({ id, name });

const shownArrival = ({ at, ...row }: ArrivalRow) => ({ ...row, at: at.toISOString() });

/** What would be read of the samples by a mapping that is being made; nothing changes. */
export async function tryMapping(scope: Scope, sourceId: string, mapping: Mapping, most = SAMPLES) {
  const context = await readingContext(scope);
  const samples = await samplesOf(scope, sourceId, most);
  return samples.map(({ id, content }) => ({
    id,
    ...readRowsOf(readInquiry(content, mapping, context), context.own),
  }));
}
