import { keptFiles } from '@/services/media/files';
import { keptFile } from '@/services/media/views';
import type { Box } from '@/core/inbox/waiting';
import { mergeFields } from '@/services/audience/merge-fields';
import type { Context } from '@/services/kit/context';
import { answerValues } from './word-answer';
import type { Scope } from '@/db/kit/scope';
import { pauseWish } from '@/core/reply/pause';
import { DAY, SECOND, type Millis } from '@/core/shared/instant';
import { shownAt } from '@/core/shared/zone';
import { Workspace } from '@/db/access/entities';
import { METHOD_WORDS, type ConsentKind } from '@/core/consent/ledger';
import { group } from 'd3-array';
import { readTasks } from '@/db/tasks/tasks';
import { consentsByAddress, personLedger, type LedgerRow } from '@/db/consent/consent';
import { standingPause, type PauseRow } from '@/db/consent/pauses';
import { Leaving, PreparedUse, Thread } from '@/db/inbox/entities';
import { thingsOfRules } from '@/db/inbox/things';
import { Person } from '@/db/people/entities';
import { Program } from '@/db/programs/entities';
import { ownFields } from '@/services/audience/own-fields';
import { lastInbound, targetOf } from './thread';
import {
  answerSpeed,
  inboxBox,
  inboxPage,
  searchWords,
  speedByHour,
  waitingOf,
  type BoxCounts,
  type FoundRow,
  type InboxQuestion,
  type InboxRow,
} from '@/db/inbox/waiting';
import { answerOnItsWay, notesOf, othersWriting } from '@/db/inbox/thread';
import { Source } from '@/db/inquiries/entities';
import { teamOf } from '@/db/inquiries/inquiries';
import { SenderNumberRow } from '@/db/numbers/entities';
import { displayNumber } from '@/core/phone/number';
import { suggest } from '@/core/inbox/suggest';
import { cutText } from '@/core/shared/clean-text';
import { listTemplates } from '@/services/templates/templates';

/** People a page of a box shows. */
export const BOX_PAGE = 60;

export type InboxFilters = Pick<InboxQuestion, 'program' | 'channel' | 'sender' | 'source' | 'why'>;

interface Wanted {
  box: Box;
  filters: InboxFilters;
  accountId: string;
  now: Millis;
  /** How many of the first are left out; unless said, none. */
  skip?: number;
  /** Unless said, a page of the screen. */
  most?: number;
}

const asked = async (
  scope: Scope,
  { box, filters, accountId, now, skip = 0, most = BOX_PAGE }: Wanted,
): Promise<InboxQuestion> => ({
  ...filters,
  ...{ box, accountId, at: new Date(now), target: await targetOf(scope), most, skip },
});

/** A piece of a box of the inbox, with how many the others hold. */
export async function readBox(
  scope: Scope,
  wanted: Wanted,
): Promise<{ rows: InboxRow[]; more: boolean; counts: BoxCounts }> {
  const question = await asked(scope, wanted);
  // One more than is shown says whether there are more.
  const { rows, counts } = await inboxBox(scope, { ...question, most: question.most + 1 });
  return { rows: rows.slice(0, question.most), more: rows.length > question.most, counts };
}

/** Who should be answered first, as Today shows them: without whom it shows together. Counted is everybody who waits. */
export async function readFirst(
  scope: Scope,
  wanted: { accountId: string; now: Millis; most: number },
): Promise<{ rows: InboxRow[]; counts: BoxCounts }> {
  return inboxBox(scope, { ...(await asked(scope, { box: 'team', filters: {}, ...wanted })), apart: true });
}

/** The whole page: a box, what it can be narrowed by, and how soon people were answered of late. */
export async function readInbox(scope: Scope, { page, ...wanted }: Wanted & { page: number }) {
  const [programs, numbers, sources] = [
    await scope.em.find(Program, { archivedAt: null }, { orderBy: { name: 'asc' } }),
    await scope.em.find(SenderNumberRow, { releasedAt: null }, { orderBy: { number: 'asc' } }),
    await scope.em.find(Source, {}, { orderBy: { name: 'asc' } }),
  ];
  const option = ({ id, name }: { id: string; name: string }) => ({ value: id, label: name });
  return {
    ...(await readBox(scope, { ...wanted, skip: page * BOX_PAGE })),
    programs: programs.map(option),
    numbers: numbers.map(({ id, number }) => ({ value: id, label: displayNumber(number) })),
    sources: sources.map(option),
    speed: await answerSpeed(scope, new Date(wanted.now - 7 * DAY)),
    target: await targetOf(scope),
  };
}

/** Threads in which words were typed, the newest first; names and numbers are found too. */
export async function findThreads(scope: Scope, words: string): Promise<FoundRow[]> {
  const asked = cutText(words, 200).trim();
  return asked === '' ? [] : searchWords(scope, asked, 50);
}

/** Whoever waits after somebody, in the order of whoever looks: their own first, then the team’s. */
export async function nextThread(scope: Scope, personId: string, accountId: string, now: Millis) {
  for (const box of ['mine', 'team'] as const) {
    const question = await asked(scope, { box, filters: {}, accountId, now });
    const rows = await inboxPage(scope, question);
    const at = rows.findIndex(({ id }) => id === personId);
    const next = rows[at + 1] ?? rows.find(({ id }) => id !== personId);
    if (next && next.id !== personId) return next;
  }
  return null;
}

/** How long somebody is taken to be still writing. */
const WRITING: Millis = 30 * SECOND;

/** What stands beside a thread: whose it is, what is put off, notes, who else writes, what can still be taken back. */
export async function readThreadSide(scope: Scope, personId: string, accountId: string, now: Millis) {
  const at = new Date(now);
  const thread = await scope.em.findOne(Thread, { personId });
  const later = thread?.laterUntil && thread.laterUntil > at ? thread.laterUntil : null;
  return {
    accountId: thread?.accountId ?? null,
    waits: await waitingOf(scope, personId, { at, target: await targetOf(scope) }),
    later: later && { until: later, why: thread!.laterWhy! },
    team: await teamOf(scope),
    facts: await factsOf(scope, personId),
    notes: await notesOf(scope, personId),
    writing: await othersWriting(scope, { personId, accountId, since: new Date(now - WRITING) }),
    onItsWay: await answerOnItsWay(scope, { personId, accountId, at }),
    suggested: await suggestedAnswers(scope, personId, accountId),
  };
}

/** What is asked of teammates beside a thread, with what is known of this person. */
export async function factsOf(scope: Scope, personId: string) {
  const asked = (await ownFields(scope)).filter(({ noted }) => noted);
  if (asked.length === 0) return [];
  // An address that somebody typed names nobody.
  const fields = (await scope.em.findOne(Person, { id: personId }))?.fields ?? {};
  return asked.map(({ key, label, kind, options }) => ({
    ...{ key, label, kind, options },
    known: fields[key] ?? null,
  }));
}

const USES = 500;

/** Prepared answers that fitted likeliest before for words like their last ones. */
async function suggestedAnswers(scope: Scope, personId: string, accountId: string) {
  const last = await lastInbound(scope, personId);
  if (!last) return [];
  const prepared = (await listTemplates(scope, accountId)).filter(({ question }) => question !== null);
  if (prepared.length === 0) return [];
  const uses = await scope.em.find(PreparedUse, {}, { orderBy: { at: 'desc' }, limit: USES });
  const found = suggest(
    last.body,
    prepared.map(({ id, question }) => ({
      ...{ id, question },
      said: uses.filter(({ templateId }) => templateId === id).map(({ said }) => said),
    })),
  );
  return found.map(({ id, because }) => {
    const { name, body, question } = prepared.find((one) => one.id === id)!;
    return { id, name, body, question, because };
  });
}

/** What an answer to somebody can be written with. */
export async function readAnswering(ctx: Context, scope: Scope, personId: string, answering: string) {
  return {
    fields: await mergeFields(scope),
    values: await answerValues(ctx, scope, personId, answering.split(' ')[0] ?? null),
    kept: (await keptFiles(scope)).map(keptFile),
  };
}

/** How somebody may be taken out or paused, and what of that is under way. */
export interface LeaveScreen {
  /** Programs they are in. */
  programs: { id: string; name: string }[];
  /** They are being opted out, and it can be taken back until then. */
  pending: { program: string | null; dueAt: Date } | null;
  pause: PauseRow | null;
  /** The day on which texts may go again that is proposed, with the words of theirs that say so, and whether they wished for it. */
  proposed: { day: string; words: string | null; wished: boolean };
  /** They wrote a text the final text could answer. */
  mayConfirm: boolean;
}

export async function readLeaving(scope: Scope, personId: string, now: Millis): Promise<LeaveScreen> {
  const { zone } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const inbound = await lastInbound(scope, personId);
  const wish = pauseWish(inbound?.body ?? '', inbound?.at.getTime() ?? now, zone);
  const until = wish.until > now ? wish.until : pauseWish('', now, zone).until;
  const leaving = await scope.em.findOne(Leaving, { personId });
  const states = await consentsByAddress(scope, personId);
  const named = await scope.em.find(Program, { archivedAt: null }, { orderBy: { name: 'asc' } });
  const nameOf = (id: string | null) => named.find((program) => program.id === id)?.name ?? null;
  return {
    programs: named.filter(({ id }) => states.some((one) => one.programId === id && one.state === 'in')),
    pending: leaving && { program: nameOf(leaving.programId), dueAt: leaving.dueAt },
    pause: await standingPause(scope, personId, new Date(now)),
    proposed: {
      day: shownAt(zone, until).slice(0, 10),
      words: until === wish.until ? wish.words : null,
      wished: inbound?.rule === 'pausing',
    },
    mayConfirm: inbound?.sender_id != null,
  };
}

const CONSENT_WORDS: Record<ConsentKind, string> = {
  ...{ asked: 'was asked to confirm', 'opted-in': 'opted in to', 'opted-out': 'opted out of' },
  lapsed: 'did not confirm',
};

/** What happened to somebody beside messages, in words: changes of consent and tasks. */
export async function readThreadLog(
  scope: Scope,
  personId: string,
): Promise<{ id: string; at: Date; words: string }[]> {
  // One act of theirs may be written down for many programs.
  const acts = group(await personLedger(scope, personId), ({ kind, at }) => `${at.getTime()} ${kind}`);
  const consents = [...acts.values()].map((rows) => {
    const [{ id, at, kind, method, recorded_by_name: by }] = rows as [LedgerRow];
    const programs = [...new Set(rows.map((row) => row.program_name))];
    const named = programs.length > 3 ? `${programs.length} programs` : programs.join(', ');
    return {
      ...{ id, at },
      words: `${CONSENT_WORDS[kind]} ${named} (${METHOD_WORDS[method]}${by === null ? '' : `, by ${by}`})`,
    };
  });
  const tasks = [
    ...(await readTasks(scope, { personId, open: true, most: 50 })),
    ...(await readTasks(scope, { personId, open: false, most: 50 })),
  ].map(({ id, title, account, created_at: at, state, settled_at: settled }) => ({
    ...{ id, at: settled ?? at },
    words: `task: ${title}${account === null ? '' : `, ${account}`}${state === 'open' ? '' : state === 'done' ? ', done' : ', over'}`,
  }));
  return [...consents, ...tasks];
}

/** How soon people were answered, and what says how soon they should be and who gets what is nobody’s. */
export async function readReplies(scope: Scope, now: Millis) {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const since = new Date(now - 30 * DAY);
  return {
    ...{ minutes: workspace.replyMinutes, rule: workspace.replyRule },
    ...{ speed: await answerSpeed(scope, since), hours: await speedByHour(scope, since) },
    ...{ team: await teamOf(scope), things: await thingsOfRules(scope) },
  };
}
