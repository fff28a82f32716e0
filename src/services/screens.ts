import { dayOf, startOf } from '@/core/audience/days';
import { toJson } from '@/db/kit/json';
import { DAY, HOUR, type Millis } from '@/core/shared/instant';
import * as queries from '@/db/queries/screens';
import { broadcastCounts, personTexts, type PersonTextRow } from '@/db/results/results';
import { troubles } from '@/db/kit/trouble';
import { unreadTexts } from '@/db/inbox/unread';
import { personLedger, type LedgerRow } from '@/db/consent/consent';
import {
  ApiKey,
  Broadcast,
  KeywordRow,
  Person,
  Program,
  ProgramSender,
  SenderNumberRow,
  Workspace,
} from '@/db/entities';
import type { BroadcastResult } from '@/core/results/broadcast-result';
import type { Scope } from '@/db/kit/scope';
import { sentenceOf } from '@/core/audience/sentence';
import { audienceContext, readCondition } from './audience/audience';
import { plannedFor, type Planned } from './audience/planned';
import { visibleSegments } from './audience/segments';
import { resultOf } from './api/views';

/** What each screen shows, read in one transaction. */

/** Midnight before an instant in a zone. */
export const startOfDay = (at: Millis, zone: string): Millis => startOf(dayOf(at, zone), zone);

export interface RibbonHour {
  at: Millis;
  left: number;
  came: number;
  stopped: number;
  coming: number;
}

export interface Ribbon {
  now: Millis;
  hours: RibbonHour[];
  upcoming: { id: string; name: string; at: Millis }[];
}

const BACK = 12;
const AHEAD = 12;

export async function readRibbon(scope: Scope, now: Millis): Promise<Ribbon> {
  const first = Math.floor(now / HOUR) * HOUR - BACK * HOUR;
  const last = first + (BACK + AHEAD + 1) * HOUR;
  const past = new Map(
    (await queries.hoursPast(scope, new Date(first), new Date(now + 1))).map((row) => [
      row.hour.getTime(),
      row,
    ]),
  );
  const coming = new Map(
    (await queries.hoursAhead(scope, new Date(now), new Date(last))).map((row) => [
      row.hour.getTime(),
      row.texts,
    ]),
  );
  const hours = Array.from({ length: BACK + AHEAD + 1 }, (_, i) => {
    const at = first + i * HOUR;
    const { left = 0, came = 0, stopped = 0 } = past.get(at) ?? {};
    return { at, left, came, stopped, coming: coming.get(at) ?? 0 };
  });
  const upcoming = (await queries.upcomingBroadcasts(scope)).filter((row) => row.send_at.getTime() < last);
  return {
    now,
    hours,
    upcoming: upcoming.map((row) => ({ id: row.id, name: row.name, at: row.send_at.getTime() })),
  };
}

export async function readToday(scope: Scope, now: Millis, zone: string) {
  const counts = await queries.todayCounts(scope, new Date(startOfDay(now, zone)));
  const threads = await queries.waitingThreads(scope, 8);
  const upcoming = await queries.upcomingBroadcasts(scope);
  const recent = (await readSends(scope, '', 8)).rows.filter((row) => row.begun_at !== null);
  const senders = (await queries.senderRows(scope, new Date(now - 7 * DAY), new Date(now - 84 * DAY))).map(
    withStanding,
  );
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const unread = await unreadTexts(scope);
  return {
    unread,
    stuck: (await troubles(scope)).filter(({ queue }) => queue !== 'unread-text'),
    counts,
    threads,
    upcoming,
    recent: recent.slice(0, 4),
    senders,
    credits: Number(workspace.creditBalance),
  };
}

export const readThreads = (scope: Scope) => queries.waitingThreads(scope, 200);

export interface SendRow extends queries.BroadcastRow {
  result: BroadcastResult;
}

export async function readSends(
  scope: Scope,
  before: string,
  most: number,
): Promise<{ rows: SendRow[]; next: string | null }> {
  const rows = await queries.broadcastRows(scope, before, most + 1);
  const shown = rows.slice(0, most);
  const counts = new Map(
    (
      await broadcastCounts(
        scope,
        shown.map(({ id }) => id),
      )
    ).map((row) => [row.id, resultOf(row)]),
  );
  return {
    rows: shown.map((row) => ({ ...row, result: counts.get(row.id)! })),
    next: rows.length > most ? shown[shown.length - 1]!.id : null,
  };
}

export async function readSend(scope: Scope, id: string) {
  const broadcast = await scope.em.findOne(Broadcast, { id });
  if (!broadcast) return null;
  const program = await scope.em.findOneOrFail(Program, { id: broadcast.programId });
  const [counts] = await broadcastCounts(scope, [id]);
  return { broadcast, program, result: resultOf(counts!) };
}

/** Programs and cuts a broadcast can be written to. `audience` is the one that is chosen, as JSON text; it comes first. */
export async function readDraftChoices(scope: Scope, accountId: string, now: Millis, audience: string) {
  const programs = await scope.em.find(Program, { archivedAt: null }, { orderBy: { id: 'asc' } });
  const segments = (await visibleSegments(scope, accountId)).map(({ id, name }) => ({
    value: toJson({ ask: 'segment', id, has: true }),
    label: `segment: ${name}`,
  }));
  const chosen = audience ? readCondition(audience) : null;
  const value = chosen?.ok ? toJson(chosen.value) : '';
  const own =
    chosen?.ok && !segments.some((segment) => segment.value === value)
      ? [{ value, label: sentenceOf(chosen.value, await audienceContext(scope, now, accountId)) }]
      : [];
  return {
    programs: programs.map(({ id, name }) => ({ id, name })),
    audience: value,
    audiences: [...own, ...segments].sort((one) => (one.value === value ? -1 : 0)),
  };
}

/** Programs somebody can be added to. */
export async function readProgramChoices(scope: Scope): Promise<{ id: string; name: string }[]> {
  const programs = await scope.em.find(Program, { archivedAt: null }, { orderBy: { id: 'asc' } });
  return programs.map(({ id, name }) => ({ id, name }));
}

export interface PersonScreen {
  person: Person;
  consents: LedgerRow[];
  entries: PersonTextRow[];
  coming: PersonTextRow[];
  planned: Planned[];
}

export async function readPersonScreen(scope: Scope, id: string, now: Millis): Promise<PersonScreen | null> {
  const person = await scope.em.findOne(Person, { id });
  if (!person) return null;
  const entries = await personTexts(scope, id, 200);
  return {
    person,
    consents: await personLedger(scope, id),
    entries: entries.filter((entry) => entry.state !== 'queued'),
    coming: entries.filter((entry) => entry.state === 'queued'),
    planned: await plannedFor(scope, person, now),
  };
}

export const readPrograms = (scope: Scope, now: Millis) =>
  queries.programRows(scope, new Date(now - 30 * DAY));

export async function readProgramScreen(scope: Scope, id: string, now: Millis) {
  const program = await scope.em.findOne(Program, { id });
  if (!program) return null;
  const [row] = (await queries.programRows(scope, new Date(now - 30 * DAY))).filter((one) => one.id === id);
  const keywords = await scope.em.find(KeywordRow, { programId: id }, { orderBy: { word: 'asc' } });
  const links = await scope.em.find(ProgramSender, { programId: id });
  const senders = await scope.em.find(SenderNumberRow, { id: links.map(({ senderId }) => senderId) });
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  return {
    program,
    counts: row!,
    keywords,
    senders,
    workspace,
    sources: await queries.programSources(scope, id),
  };
}

export interface Standing extends queries.SenderRow {
  rateNow: number | null;
  rateBefore: number | null;
  /** The last week is clearly worse than the number's own past. */
  dropped: boolean;
}

/** A number against its own past. Clear means five points, on at least fifty texts. */
function withStanding(row: queries.SenderRow): Standing {
  const rate = (good: number, bad: number) => (good + bad === 0 ? null : good / (good + bad));
  const rateNow = rate(row.delivered_7, row.failed_7);
  const rateBefore = rate(row.delivered_before, row.failed_before);
  const enough = row.delivered_7 + row.failed_7 >= 50;
  return {
    ...row,
    rateNow,
    rateBefore,
    dropped: enough && rateNow !== null && rateBefore !== null && rateBefore - rateNow > 0.05,
  };
}

export async function readNumbers(scope: Scope, now: Millis): Promise<Standing[]> {
  return (await queries.senderRows(scope, new Date(now - 7 * DAY), new Date(now - 84 * DAY))).map(
    withStanding,
  );
}

export const readTeam = queries.teamRows;

export const readKeys = (scope: Scope): Promise<ApiKey[]> =>
  scope.em.find(ApiKey, {}, { orderBy: { createdAt: 'desc' } });

export const readWorkspace = (scope: Scope): Promise<Workspace> =>
  scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });

export async function readResults(scope: Scope, now: Millis) {
  const sends = await readSends(scope, '', 60);
  const growth = await queries.growthByWeek(scope, new Date(now - 98 * DAY));
  return {
    sends: sends.rows.filter((row) => row.begun_at !== null),
    growth,
    programs: await queries.programRows(scope, new Date(now - 30 * DAY)),
  };
}

export async function readBehindBroadcast(scope: Scope, broadcastId: string, what: string) {
  const most = 500;
  if (what === 'replies') return queries.broadcastRepliers(scope, broadcastId, ['reply', 'unclear'], most);
  if (what === 'opt-outs') return queries.broadcastRepliers(scope, broadcastId, ['opt-out'], most);
  const [kind, value = ''] = what.split(':');
  const states =
    kind === 'state'
      ? value.split(',')
      : kind === 'failure'
        ? ['failed']
        : kind === 'code'
          ? ['blocked', 'queued']
          : [];
  return queries.broadcastTexts(scope, {
    broadcastId,
    states,
    failure: kind === 'failure' ? value : '',
    code: kind === 'code' ? value : '',
    most,
  });
}

export function findAnything(scope: Scope, search: string) {
  const digits = search.replace(/\D/g, '');
  return queries.findAnything(
    scope,
    search.replace(/[\\%_]/g, (char) => `\\${char}`),
    digits.length >= 3 ? digits : '',
  );
}
