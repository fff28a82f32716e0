import type { Scope } from '@/db/kit/scope';
import { Workspace } from '@/db/access/entities';
import { SenderNumberRow } from '@/db/numbers/entities';
import { Offer } from '@/db/offers/entities';
import { Label } from '@/db/people/entities';
import {
  KeywordLabel,
  KeywordRow,
  KeywordSender,
  KeywordSequence,
  KeywordSpelling,
  Program,
  ProgramSender,
} from '@/db/programs/entities';
import { keywordCounts } from '@/db/programs/keywords';
import { Sequence } from '@/db/sequences/entities';
import type { CallToAction } from '@/core/program/call-to-action';
import { ownFields } from '@/services/audience/own-fields';
import { promised } from './change-program';

/** A keyword with what it gives, by id. */
export async function readKeyword(scope: Scope, id: string) {
  const keyword = await scope.em.findOne(KeywordRow, { id });
  if (!keyword) return null;
  const of = { keywordId: id };
  const order = { orderBy: { word: 'asc' } } as const;
  return {
    keyword,
    labels: (await scope.em.find(KeywordLabel, of)).map(({ labelId }) => labelId),
    sequences: (await scope.em.find(KeywordSequence, of)).map(({ sequenceId }) => sequenceId),
    senders: (await scope.em.find(KeywordSender, of)).map(({ senderId }) => senderId),
    spellings: (await scope.em.find(KeywordSpelling, of, order)).map(({ word }) => word),
  };
}

/** Everything the page of a keyword shows, but what was nearly it. */
export async function readKeywordScreen(scope: Scope, id: string) {
  const read = await readKeyword(scope, id);
  if (!read) return null;
  const { keyword } = read;
  const program = await scope.em.findOneOrFail(Program, { id: keyword.programId });
  const byName = { orderBy: { name: 'asc' } } as const;
  return {
    ...read,
    program,
    workspace: await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId }),
    counts: await keywordCounts(scope, keyword),
    choices: {
      labels: await scope.em.find(Label, {}, byName),
      sequences: await scope.em.find(Sequence, { state: ['running', 'paused'] }, byName),
      offers: await scope.em.find(Offer, { archivedAt: null }, byName),
      own: await ownFields(scope),
      numbers: await scope.em.find(SenderNumberRow, { releasedAt: null }, { orderBy: { id: 'asc' } }),
    },
  };
}

/** What a call to action for a keyword must say. */
export async function callToActionOf(scope: Scope, id: string): Promise<CallToAction | null> {
  const keyword = await scope.em.findOne(KeywordRow, { id });
  if (!keyword) return null;
  const program = await scope.em.findOneOrFail(Program, { id: keyword.programId });
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const own = await scope.em.find(KeywordSender, { keywordId: id });
  const links = own.length > 0 ? own : await scope.em.find(ProgramSender, { programId: program.id });
  // The first is the one that is printed: it stays the same however often a row is written.
  const numbers = await scope.em.find(
    SenderNumberRow,
    { id: links.map(({ senderId }) => senderId), releasedAt: null },
    { orderBy: { id: 'asc' } },
  );
  return {
    ...{ business: workspace.business, program: program.name, contact: workspace.contact },
    ...{ purpose: program.purpose, promise: promised(program), keyword: keyword.word },
    numbers: numbers.map(({ number }) => number),
    ...{ termsUrl: workspace.termsUrl, privacyUrl: workspace.privacyUrl },
  };
}
