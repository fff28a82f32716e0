/** Why credits came or went. The kind is stored; it never changes its meaning. */
export const ENTRY_KINDS = [
  'opening',
  'bought',
  'corrected',
  'messages',
  'returned',
  'number-setup',
  'number-month',
] as const;
export type EntryKind = (typeof ENTRY_KINDS)[number];

/** Entry kind -> words for people, with what it means. */
export const ENTRY_WORDS: Record<EntryKind, { word: string; means: string }> = {
  opening: { word: 'opening balance', means: 'what was there when the ledger began' },
  bought: { word: 'bought', means: 'from the provider, or written down by a teammate' },
  corrected: { word: 'corrected', means: 'by a teammate, with a reason' },
  messages: { word: 'messages', means: 'taken when they are handed over, by what each costs then' },
  returned: {
    word: 'given back',
    means: 'for messages that were refused as they were handed over, or called back before anybody took them',
  },
  'number-setup': { word: 'number taken', means: 'what the provider asks once for a number' },
  'number-month': { word: 'number kept', means: 'what the provider asks each month for a number' },
};

/** What the ledger says beside what it has to agree with; each pair is of one and the same amount. */
export interface LedgerSums {
  /** All that ever came and went, and what the workspace is said to have left. */
  entries: number;
  balance: number;
  /** What messages took and gave back, and what the messages themselves say they cost. */
  spent: number;
  messages: number;
}

/** What does not add up, in sentences; none: all of it does. */
export function ledgerGaps({ entries, balance, spent, messages }: LedgerSums): string[] {
  const gaps: string[] = [];
  if (entries !== balance)
    gaps.push(`The entries come to ${entries} credits, and ${balance} are said to be left.`);
  if (spent !== messages)
    gaps.push(`The ledger says that messages took ${spent} credits, and the messages say ${messages}.`);
  return gaps;
}
