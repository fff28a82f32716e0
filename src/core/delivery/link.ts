/** How a link to a carrier stands. `refused`: the carrier answered, and did not let us in. */
export type LinkState = 'down' | 'binding' | 'up' | 'refused';

export const LINK_WORDS: Record<LinkState, string> = {
  up: 'connected',
  binding: 'connecting',
  down: 'not reachable',
  refused: 'refused us',
};

/** What came over a link since it was made: what a carrier really does, for whoever set it up. */
export interface LinkSights {
  receipts: number;
  /** Receipts without the parameter that names the text, and those told by nothing but their words. */
  receiptsWithoutParameters: number;
  receiptsByWords: number;
  texts: number;
  /** Texts by `data_coding`. */
  codings: Record<string, number>;
  /** Refusals by `command_status`, and failures by `err`. */
  statuses: Record<string, number>;
  errors: Record<string, number>;
}

/** What came over links, for whoever set the carrier up: sentences, none where nothing came. */
export function sightWords(all: readonly LinkSights[]): string[] {
  const sum = (of: (sights: LinkSights) => number) => all.reduce((total, sights) => total + of(sights), 0);
  const kinds = (of: (sights: LinkSights) => Record<string, number>) => {
    const counts = new Map<string, number>();
    for (const [kind, count] of all.flatMap((sights) => Object.entries(of(sights))))
      counts.set(kind, (counts.get(kind) ?? 0) + count);
    return [...counts].sort((a, b) => b[1] - a[1]).map(([kind, count]) => `${kind} (${count})`);
  };
  const [receipts, bare, worded] = [
    sum((sights) => sights.receipts),
    sum((sights) => sights.receiptsWithoutParameters),
    sum((sights) => sights.receiptsByWords),
  ];
  const [codings, statuses, errors] = [
    kinds((sights) => sights.codings),
    kinds((sights) => sights.statuses),
    kinds((sights) => sights.errors),
  ];
  return [
    ...(receipts > 0
      ? [
          `Receipts: ${receipts}, of which ${bare} name their text in their words only and ${worded} are not marked as receipts.`,
        ]
      : []),
    ...(codings.length > 0 ? [`Texts in, by data_coding: ${codings.join(', ')}.`] : []),
    ...(statuses.length > 0 ? [`Submits refused, by command_status: ${statuses.join(', ')}.`] : []),
    ...(errors.length > 0 ? [`Failures in receipts, by err: ${errors.join(', ')}.`] : []),
  ];
}
