import { boardOf } from '@/core/inquiry/board';
import { PAST, silentFor } from '@/core/inquiry/silence';
import { DAY, type Millis } from '@/core/shared/instant';
import { unreadBySource } from '@/db/inquiries/arrivals';
import { Source } from '@/db/inquiries/entities';
import { inquiryCounts, newestInquiries, pausesOfSources } from '@/db/inquiries/inquiries';
import type { Scope } from '@/db/kit/scope';

/** So many days are looked at. */
export const BOARD_DAYS = [7, 30, 90, 365] as const;
const MOST = 50;

/** What came by which source and kind, how soon it was answered, and what became of it. */
export async function readBoard(scope: Scope, days: number, now: Millis) {
  const counts = await inquiryCounts(scope, new Date(now - days * DAY));
  return boardOf(
    counts.map(({ source_id: sourceId, cost_cents: costCents, ...row }) => ({ ...row, sourceId, costCents })),
  );
}

/** Sources that fell silent against their own past, with for how long. */
export async function silentSources(scope: Scope, now: Millis): Promise<Map<string, Millis>> {
  const pasts = await pausesOfSources(scope, new Date(now - PAST));
  return new Map(
    pasts.flatMap(({ id, last, came, longest }) => {
      const quiet = silentFor(
        { last: last.getTime(), came, longest: longest === null ? null : longest * 1000 },
        now,
      );
      return quiet === null ? [] : [[id, quiet] as const];
    }),
  );
}

/** Sources that somebody has to look at: what came could not be read, or nothing comes any more. */
export async function troubledSources(
  scope: Scope,
  now: Millis,
): Promise<{ id: string; name: string; unread: number; silent: Millis | null }[]> {
  const silent = await silentSources(scope, now);
  const unread = new Map((await unreadBySource(scope)).map((one) => [one.id, one.unread]));
  const ids = [...new Set([...silent.keys(), ...unread.keys()])];
  const sources = await scope.em.find(Source, { id: ids, closedAt: null }, { orderBy: { name: 'asc' } });
  return sources.map(({ id, name }) => ({
    ...{ id, name, unread: unread.get(id) ?? 0, silent: silent.get(id) ?? null },
  }));
}

export interface LinesAsked {
  sourceId: string | null;
  kind: string | null;
  late: boolean;
  before: string;
}

export async function readInquiries(scope: Scope, asked: LinesAsked) {
  const rows = await newestInquiries(scope, { ...asked, most: MOST + 1 });
  return { rows: rows.slice(0, MOST), next: rows.length > MOST ? rows[MOST - 1]!.id : null };
}
