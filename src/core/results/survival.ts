import { Z } from './rates';

/** How many had stayed for some days when they went, or when we last looked (`still`: in, and counted as no more than that). */
export interface Stayed {
  days: number;
  went: number;
  still: number;
}

/** From this day on, until the next, that share of those who began is still in. */
export interface SurvivalStep {
  day: number;
  share: number;
  /** 95 % interval, by the log-log transformation, which stays between 0 and 1. */
  low: number;
  high: number;
  /** Still watched when the day began. */
  atRisk: number;
}

/**
 * The Kaplan-Meier curve: each who is still in counts for as long as they were watched and then drops out of the reckoning,
 * so that who joined yesterday neither helps nor harms what is said about month three. Error by Greenwood's formula.
 * Sources: E. L. Kaplan and P. Meier, JASA 53 (1958); M. Greenwood (1926).
 */
export function survival(stayed: readonly Stayed[]): SurvivalStep[] {
  const rows = [...stayed].sort((a, b) => a.days - b.days);
  let atRisk = rows.reduce((sum, { went, still }) => sum + went + still, 0);
  const steps: SurvivalStep[] = [{ day: 0, share: 1, low: 1, high: 1, atRisk }];
  let share = 1;
  let variance = 0;
  for (const { days, went, still } of together(rows)) {
    if (went > 0) {
      share *= 1 - went / atRisk;
      variance += went / (atRisk * (atRisk - went));
      steps.push({ day: days, share, atRisk, ...intervalOf(share, variance) });
    }
    atRisk -= went + still;
  }
  return steps;
}

/** Who went and who stayed so many days, in one row. */
function together(rows: readonly Stayed[]): Stayed[] {
  const days: Stayed[] = [];
  for (const row of rows) {
    const last = days.at(-1);
    if (last?.days === row.days)
      days[days.length - 1] = { ...last, went: last.went + row.went, still: last.still + row.still };
    else days.push(row);
  }
  return days;
}

function intervalOf(share: number, variance: number): { low: number; high: number } {
  if (share <= 0) return { low: 0, high: 0 };
  const spread = (Z * Math.sqrt(variance)) / Math.abs(Math.log(share));
  return { low: share ** Math.exp(spread), high: share ** Math.exp(-spread) };
}

/** The share that is still in after so many days; null: nobody was watched for so long. */
export function stillIn(steps: readonly SurvivalStep[], day: number, watched: number): SurvivalStep | null {
  if (day > watched) return null;
  return steps.findLast((step) => step.day <= day) ?? null;
}
