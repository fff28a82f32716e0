import { ledgerGaps, type LedgerSums } from '@/core/credits/ledger';
import { addDays, dayOf, startOf } from '@/core/audience/days';
import type { Span } from '@/core/results/spans';
import type { Millis } from '@/core/shared/instant';
import { Workspace } from '@/db/access/entities';
import {
  entryRows,
  ledgerSums,
  spentLines,
  spentSince,
  type EntryRow,
  type SpentLine,
} from '@/db/credits/ledger';
import type { Scope } from '@/db/kit/scope';
import { Program } from '@/db/programs/entities';
import { carrierStates } from '@/db/delivery/carriers';
import { standingProviders } from '@/services/numbers/providers';
import { readCreditOrders } from './buy';

/** Entries that stand on one page. */
const ENTRIES_SHOWN = 100;

/** The last thirty days, today among them. */
export const lastMonth = (zone: string, now: Millis): Span => {
  const today = dayOf(now, zone);
  return { from: addDays(today, -29), until: addDays(today, 1) };
};

/** What is left, until when it is enough, what came and went and for what. */
export async function readCredits(scope: Scope, now: Millis) {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const { zone } = workspace;
  const span = lastMonth(zone, now);
  const programs = await scope.em.find(Program, { archivedAt: null }, { orderBy: { name: 'asc' } });
  const today = await spentSince(scope, new Date(startOf(dayOf(now, zone), zone)), '');
  return {
    balance: Number(workspace.creditBalance),
    ahead: workspace.creditsAhead,
    span,
    lines: await readSpent(scope, span, zone),
    entries: await entryRows(scope, null, ENTRIES_SHOWN),
    orders: await readCreditOrders(scope),
    providers: await standingProviders(scope),
    prices: {
      ...{ part: workspace.creditsPerPart, picture: workspace.creditsPerPicture, rules: workspace.prices },
    },
    limits: {
      workspace: workspace.dailyCredits,
      spentToday: today.workspace,
      programs: programs.map(({ id, name, dailyCredits }) => ({ id, name, credits: dailyCredits })),
    },
    carriers: (await carrierStates(scope)).map(({ id, name }) => ({ id, name })),
  };
}

/** What came and went on some days, by what it was for. */
export const readSpent = (scope: Scope, { from, until }: Span, zone: string): Promise<SpentLine[]> =>
  spentLines(scope, new Date(startOf(from, zone)), new Date(startOf(until, zone)));

const PAGE = 2_000;

/** All entries, the latest first, each page read by itself. */
export async function* entryPages(
  within: <T>(work: (scope: Scope) => Promise<T>) => Promise<T>,
): AsyncGenerator<EntryRow[]> {
  let before: number | null = null;
  for (;;) {
    const after: number | null = before;
    const page: EntryRow[] = await within((scope) => entryRows(scope, after, PAGE));
    if (page.length === 0) return;
    yield page;
    before = page.at(-1)!.id;
  }
}

/** Whether the ledger adds up; reads every message. */
export async function checkLedger(scope: Scope): Promise<{ sums: LedgerSums; gaps: string[] }> {
  const sums = await ledgerSums(scope);
  return { sums, gaps: ledgerGaps(sums) };
}

export type { EntryRow, SpentLine };
