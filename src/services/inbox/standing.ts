import type { Channel } from '@/core/message/channel';
import { decideReply, type ReplyDecision } from '@/core/reply/decide';
import type { Interpretation, InterpretContext } from '@/core/reply/interpret';
import { NO_CONSENT, type Consent } from '@/core/consent/ledger';
import { standsAt } from '@/core/keyword/keyword';
import { DAY, MINUTE, type Millis } from '@/core/shared/instant';
import { Workspace } from '@/db/access/entities';
import { consentStates } from '@/db/consent/consent';
import {
  lastTextTo,
  numberProgram,
  wasSentWords,
  recentConfirmation,
  wroteSince,
  wroteToSince,
} from '@/db/inbox/inbound';
import { waitsForProof } from '@/db/forms/submissions';
import type { Scope } from '@/db/kit/scope';
import type { Person } from '@/db/people/entities';
import { Program, type KeywordRow } from '@/db/programs/entities';
import { widerAskText } from '@/core/text/wording';
import { wordingOf } from '@/services/programs/wording';
import { heardKeywords } from '@/services/programs/heard-keywords';

/**
 * Whether a text may begin something (a consent). Read late, they may have changed their mind since; with a gap, nobody
 * knows what they agreed to. Ending something it always may.
 */
export type Begins = 'yes' | 'unless-they-wrote-since' | 'no';

/** By what they wrote: to a number of ours, or to a chat account. Answers leave from there. */
export type Via = { channel: 'sms'; senderId: string } | { channel: 'chat'; accountId: string };

export const senderIdOf = (via: Via): string | null => (via.channel === 'sms' ? via.senderId : null);

/** What a reply is read and decided against. */
export interface Standing extends InterpretContext {
  programs: Program[];
  /** Those that are heard on the number they wrote to. */
  keywordRows: KeywordRow[];
  consents: Map<string, Consent>;
  /** The last text that left for them. */
  after: { id: string; program_id: string } | null;
  /** The program an answer belongs to; null: there is none at all. */
  subjectProgramId: string | null;
  /** Programs whose answer to an inquiry asked them for more. */
  askedForMore: ReadonlySet<string>;
}

export async function standingOf(
  scope: Scope,
  person: Pick<Person, 'id'>,
  via: Via,
  from: string,
): Promise<Standing> {
  const programs = await scope.em.find(Program, {}, { orderBy: { id: 'asc' } });
  const { rows: keywordRows, ...words } = await heardKeywords(scope, senderIdOf(via));
  const consents = await consentStates(scope, person.id, via.channel, from);
  const askedForMore = await whereAskedForMore(scope, person.id, via.channel, programs, consents);
  const after = await lastTextTo(scope, person.id, via.channel);
  const senderId = senderIdOf(via);
  const ofNumber = after || senderId === null ? null : await numberProgram(scope, senderId);
  return {
    ...words,
    programs,
    theirs: programs.filter(({ id, archivedAt }) => archivedAt === null && consents.get(id)?.state === 'in'),
    keywordRows,
    consents,
    askedForMore,
    questionPending:
      askedForMore.size > 0 ||
      [...consents.values()].some(({ state }) => state === 'asked') ||
      (await waitsForProof(scope, person.id)),
    after,
    subjectProgramId: liveOf(programs, after?.program_id ?? ofNumber ?? programs[0]?.id ?? null),
  };
}

/** Where somebody only inquired, and a text to them holds the words that ask for more. */
async function whereAskedForMore(
  scope: Scope,
  personId: string,
  channel: Channel,
  programs: readonly Program[],
  consents: ReadonlyMap<string, Consent>,
): Promise<ReadonlySet<string>> {
  const inquired = programs.filter(({ id, archivedAt }) => {
    const consent = consents.get(id);
    return archivedAt === null && consent?.state === 'in' && consent.method === 'inquiry';
  });
  if (inquired.length === 0) return new Set();
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const asked = new Set<string>();
  for (const program of inquired) {
    // What asked them came after their inquiry.
    const since = new Date((consents.get(program.id)!.since ?? 0) - MINUTE);
    const words = widerAskText(wordingOf(workspace, program));
    if (await wasSentWords(scope, { personId, programId: program.id, channel, words, since }))
      asked.add(program.id);
  }
  return asked;
}

/** A program that went into another is spoken for by that. */
function liveOf(programs: readonly Program[], id: string | null): string | null {
  const into = programs.find((one) => one.id === id)?.mergedInto ?? null;
  return into === null ? id : liveOf(programs, into);
}

export interface Read {
  text: { at: Millis; begins: Begins };
  person: Person;
  interpretation: Interpretation;
  standing: Standing;
}

export async function decide(scope: Scope, read: Read): Promise<ReplyDecision> {
  const { text, person, interpretation, standing } = read;
  const { programs, keywordRows, consents } = standing;
  const keyword = keywordRows.find(({ word }) => word === interpretation.keyword) ?? null;
  const since = new Date(text.at - MINUTE);
  return decideReply({
    interpretation,
    programs: programs.map((program) => ({
      programId: program.id,
      doubleOptIn: program.doubleOptIn,
      archived: program.archivedAt !== null,
      consent: consents.get(program.id) ?? NO_CONSENT,
      askedForMore: standing.askedForMore.has(program.id),
    })),
    keywordProgramId: keyword?.programId ?? null,
    keywordStands: keyword ? standsAt(validityOf(keyword), text.at) : 'now',
    offerProgramId: await programToOffer(scope, read),
    subjectProgramId: standing.subjectProgramId,
    stopped: person.stoppedAt !== null,
    unclear: person.unclearSince !== null,
    answeredJustNow: keyword !== null && (await recentConfirmation(scope, person.id, keyword, since)),
    mayBegin: await begins(scope, person, text),
  });
}

const validityOf = ({ validFrom, validTo }: KeywordRow) => ({
  from: validFrom?.getTime() ?? null,
  to: validTo?.getTime() ?? null,
});

/**
 * The program of the one keyword they nearly typed, where the workspace wants them asked whether they meant it: not
 * when we wrote to them within the last day, since then it is an answer as likely as not.
 */
async function programToOffer(
  scope: Scope,
  { text, person, interpretation, standing }: Read,
): Promise<string | null> {
  if (interpretation.rule !== 'near-miss') return null;
  const keyword = standing.keywordRows.find(({ word }) => word === interpretation.nearKeyword);
  if (!keyword || standsAt(validityOf(keyword), text.at) !== 'now') return null;
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  if (!workspace.asksNearMisses) return null;
  return (await wroteToSince(scope, person.id, new Date(text.at - DAY))) ? null : keyword.programId;
}

const begins = async (scope: Scope, person: Person, { begins, at }: Read['text']): Promise<boolean> =>
  begins === 'yes' ||
  (begins === 'unless-they-wrote-since' && !(await wroteSince(scope, person.id, new Date(at))));
