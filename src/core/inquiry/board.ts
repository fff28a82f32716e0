import { differ, wilson, type Rate } from '../results/rates';

/** What is counted of the inquiries of one kind by one source. Times in seconds; null: none was answered. */
export interface BoardCounts {
  sourceId: string;
  source: string;
  kind: string;
  /** Inquiries, those answered for by another left out. */
  came: number;
  answered: number;
  median: number | null;
  p95: number | null;
  replied: number;
  /** A teammate and they wrote to each other. */
  conversations: number;
  /** Their first reply came more than sixty days after. */
  late: number;
  costCents: number | null;
  /** How many are in which stage today; of those in none nothing. */
  stages: { stage: string; people: number }[];
}

export interface BoardRow extends BoardCounts {
  replies: Rate;
  /** Whether its share of replies differs from that of all the others, as far as can be told; null: it does not. */
  against: 'more' | 'fewer' | null;
  /** What all of them cost, and what a conversation did; null: no cost was entered, or there was none. */
  cost: number | null;
  perConversation: number | null;
}

/** The board: only differences that are real are called so, each line against all the others together. */
export function boardOf(counts: readonly BoardCounts[]): BoardRow[] {
  const sum = (pick: (one: BoardCounts) => number) => counts.reduce((all, one) => all + pick(one), 0);
  const [came, replied] = [sum((one) => one.came), sum((one) => one.replied)];
  return counts.map((one) => {
    const replies = wilson(one.replied, one.came);
    const others = wilson(replied - one.replied, came - one.came);
    const cost = one.costCents === null ? null : one.costCents * one.came;
    return {
      ...one,
      replies,
      against:
        others.of > 0 && differ(replies, others)
          ? (replies.share ?? 0) > (others.share ?? 0)
            ? 'more'
            : 'fewer'
          : null,
      cost,
      perConversation: cost === null || one.conversations === 0 ? null : Math.round(cost / one.conversations),
    };
  });
}

/** `40 s`, `3 min`, `5 h`, `2 days`: as somebody says how long an answer took. */
export function tookWords(seconds: number | null): string {
  if (seconds === null) return '–';
  if (seconds < 1) return 'under 1 s';
  if (seconds < 90) return `${Math.round(seconds)} s`;
  if (seconds < 90 * 60) return `${Math.round(seconds / 60)} min`;
  if (seconds < 36 * 3600) return `${Math.round(seconds / 3600)} h`;
  return `${Math.round(seconds / 86400)} days`;
}
