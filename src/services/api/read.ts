import { Broadcast, KeywordRow, Person, Program, SenderNumberRow } from '@/db/entities';
import { broadcastCounts, personTexts } from '@/db/results/results';
import { consentStates } from '@/db/consent/consent';
import type { Scope } from '@/db/kit/scope';
import {
  broadcastView,
  keywordView,
  personView,
  programView,
  resultOf,
  resultView,
  senderView,
} from './views';

/** Reads for the API: plain rows in, views out. `null` means: no such row in this workspace. */

export interface Page {
  /** Id of the last row of the page before; empty for the first page. */
  after: string;
  limit: number;
}

interface Listed<T> {
  items: T[];
  /** Give it as `after` for the next page; null on the last. */
  next: string | null;
}

function listed<Row extends { id: string }, View>(
  rows: Row[],
  limit: number,
  view: (row: Row) => View,
): Listed<View> {
  const items = rows.slice(0, limit);
  return { items: items.map(view), next: rows.length > limit ? items[items.length - 1]!.id : null };
}

export async function listPeople(
  scope: Scope,
  { after, limit }: Page,
): Promise<Listed<ReturnType<typeof personView>>> {
  const rows = await scope.em.find(
    Person,
    { id: { $gt: after }, mergedInto: null, erasedAt: null },
    { orderBy: { id: 'asc' }, limit: limit + 1 },
  );
  return listed(rows, limit, personView);
}

export async function readPerson(scope: Scope, id: string) {
  const person = await scope.em.findOne(Person, { id });
  if (!person) return null;
  const consents = await consentStates(scope, id);
  const programs = await scope.em.find(Program, { id: [...consents.keys()] });
  return {
    ...personView(person),
    consents: programs.map((program) => {
      const { state, method, since } = consents.get(program.id)!;
      return {
        program_id: program.id,
        program: program.name,
        channel: 'sms',
        state,
        method,
        since: since === null ? null : new Date(since).toISOString(),
      };
    }),
  };
}

export async function textsOfPerson(scope: Scope, id: string) {
  if (!(await scope.em.findOne(Person, { id }))) return null;
  const rows = await personTexts(scope, id, 500);
  return {
    items: rows.map((row) => ({
      id: row.id,
      direction: row.direction,
      at: row.at.toISOString(),
      body: row.body,
      ...(row.direction === 'out'
        ? {
            kind: row.kind,
            state: row.state,
            failure: row.failure,
            parts: row.parts,
            broadcast_id: row.broadcast_id,
            clearance: row.clearance,
          }
        : { meaning: row.meaning, rule: row.rule }),
    })),
  };
}

export async function listPrograms(scope: Scope) {
  const rows = await scope.em.find(Program, {}, { orderBy: { id: 'asc' } });
  return { items: rows.map(programView) };
}

export async function readProgram(scope: Scope, id: string) {
  const program = await scope.em.findOne(Program, { id });
  return program && programView(program);
}

export async function listKeywords(scope: Scope) {
  const rows = await scope.em.find(KeywordRow, {}, { orderBy: { word: 'asc' } });
  return { items: rows.map(keywordView) };
}

export async function listSenders(scope: Scope) {
  const rows = await scope.em.find(SenderNumberRow, {}, { orderBy: { id: 'asc' } });
  return { items: rows.map(senderView) };
}

export async function listBroadcasts(scope: Scope, { after, limit }: Page) {
  const where = after === '' ? {} : { id: { $lt: after } };
  const rows = await scope.em.find(Broadcast, where, { orderBy: { id: 'desc' }, limit: limit + 1 });
  return listed(rows, limit, broadcastView);
}

export async function readBroadcast(scope: Scope, id: string) {
  const broadcast = await scope.em.findOne(Broadcast, { id });
  return broadcast && broadcastView(broadcast);
}

export async function readResult(scope: Scope, id: string) {
  const [row] = await broadcastCounts(scope, [id]);
  if (!row) return null;
  const broadcast = await scope.em.findOneOrFail(Broadcast, { id });
  return { ...broadcastView(broadcast), ...resultView(resultOf(row)) };
}
