import type { Scope } from '@/db/kit/scope';
import {
  lineCounts,
  lineResults,
  passCounts,
  repliesByDay,
  sequenceCounts,
  versionCounts,
  versionResults,
  type LineResult,
  type SequenceCounts,
  type VersionResultRow,
} from '@/db/sequences/sequences';
import { differ, wilson, type Rate } from '@/core/results/rates';
import type { Context } from '@/services/kit/context';
import { meaningOf } from './rehearsal';

export interface LineOutcome {
  line: string;
  waiting: number;
  through: number;
  passed: { because: string; means: string; people: number }[];
  delivered: number;
  failed: number;
  credits: number;
  clicks: number;
  replies: Rate;
  optOuts: Rate;
}

/** What came of those who are on one version. */
export interface VersionOutcome {
  version: number;
  began: number;
  replied: Rate;
  opt_outs: Rate;
  /** Hours from the beginning to the first reply; null: nobody replied. */
  first_reply: { quarter: number; half: number; three_quarters: number } | null;
}

export interface SequenceResult {
  whole: Omit<VersionOutcome, 'version'>;
  /** The version that runs, and the one before it that anybody is on; which of its shares differ by more than chance. */
  compared: { now: VersionOutcome; before: VersionOutcome; differs: ('replied' | 'opt_outs')[] } | null;
  counts: Omit<SequenceCounts, 'sequence_id'>;
  versions: { version: number; people: number }[];
  lines: LineOutcome[];
  /** First replies by day since the person began, and the line they came after. */
  replies: { line: string; day: number; people: number }[];
  /** First replies by month since the person began: what month three brought. */
  months: { month: number; people: number }[];
}

const NONE: SequenceCounts = { sequence_id: '', open: 0, ended: 0, replied: 0, in_grace: 0, began_7: 0 };

/** What became of a sequence, line by line and as a whole. */
export async function readSequenceResult(ctx: Context, scope: Scope, id: string): Promise<SequenceResult> {
  const [counts = NONE] = await sequenceCounts(scope, [id], new Date(ctx.now()));
  const standing = await lineCounts(scope, id);
  const passed = await passCounts(scope, id);
  const results = new Map((await lineResults(scope, id)).map((row) => [row.line, row]));
  const replies = await repliesByDay(scope, id);
  const lines = [...new Set([...standing.map(({ line }) => line), ...results.keys()])];
  const { sequence_id: _, ...standingNow } = counts;
  const outcomes = (await versionResults(scope, id)).map(versionOutcome);
  const { version: __, ...whole } = outcomes.find(({ version }) => version === 0) ?? versionOutcome(NOBODY);
  return {
    whole,
    compared: compare(outcomes.filter(({ version }) => version > 0)),
    counts: standingNow,
    versions: await versionCounts(scope, id),
    lines: lines.map((line) =>
      outcomeOf(
        line,
        standing.find((one) => one.line === line),
        passed.filter((one) => one.line === line),
        results.get(line),
      ),
    ),
    replies,
    months: byMonth(replies),
  };
}

const NOBODY: VersionResultRow = { version: 0, began: 0, replied: 0, opt_outs: 0, hours: null };

const versionOutcome = ({
  version,
  began,
  replied,
  opt_outs: optOuts,
  hours,
}: VersionResultRow): VersionOutcome => ({
  ...{ version, began, replied: wilson(replied, began), opt_outs: wilson(optOuts, began) },
  first_reply:
    replied === 0 || !hours ? null : { quarter: hours[0]!, half: hours[1]!, three_quarters: hours[2]! },
});

function compare(versions: readonly VersionOutcome[]): SequenceResult['compared'] {
  const [before, now] = versions.slice(-2);
  if (!before || !now) return null;
  const differs = (['replied', 'opt_outs'] as const).filter((share) => differ(before[share], now[share]));
  return { now, before, differs };
}

function outcomeOf(
  line: string,
  standing: { waiting: number; through: number } | undefined,
  passed: readonly { because: string; people: number }[],
  result: LineResult | undefined,
): LineOutcome {
  const delivered = result?.delivered ?? 0;
  return {
    ...{ line, waiting: standing?.waiting ?? 0, through: standing?.through ?? 0 },
    passed: passed.map(({ because, people }) => ({ because, people, means: meaningOf(because) })),
    ...{ delivered, failed: result?.failed ?? 0, credits: result?.credits ?? 0, clicks: result?.clicks ?? 0 },
    // A reply can come from somebody whose receipt is missing: never more than all.
    replies: wilson(Math.min(result?.replies ?? 0, delivered), delivered),
    optOuts: wilson(Math.min(result?.opt_outs ?? 0, delivered), delivered),
  };
}

const MONTH_DAYS = 30;

function byMonth(replies: readonly { day: number; people: number }[]): { month: number; people: number }[] {
  const months = new Map<number, number>();
  for (const { day, people } of replies) {
    const month = Math.floor(Math.max(day, 0) / MONTH_DAYS) + 1;
    months.set(month, (months.get(month) ?? 0) + people);
  }
  return [...months].sort(([a], [b]) => a - b).map(([month, people]) => ({ month, people }));
}
