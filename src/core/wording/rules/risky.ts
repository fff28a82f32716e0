import type { WordingContext } from '../context';
import type { Found } from '../finding';
import { findAll, placeOf, type Reading } from '../reading';
import { RISKY_WORDS, type RiskyWords } from '../words';

const compiled = RISKY_WORDS.map((words) => ({
  words,
  pattern: new RegExp(`(?<![\\p{L}\\p{N}])(?:${words.patterns.join('|')})(?![\\p{L}\\p{N}])`, 'giu'),
}));

/** "No cover, no catch" reads as advertising; "this isn't a cash offer" still does: what stands before changes nothing. */
const risky =
  (code: RiskyWords['code']) =>
  (reading: Reading, { business, channel }: WordingContext): Found[] =>
    channel === 'email'
      ? []
      : compiled
          .filter(({ words }) => words.code === code && !words.fine?.includes(business.kind))
          .flatMap(({ words, pattern }) =>
            findAll(reading, pattern)
              .slice(0, 1)
              .map((match) => ({
                message: `“${match[0]}” ${words.why}. Say it in other words.`,
                source: words.source,
                place: placeOf(reading, match),
                mending: null,
              })),
          )
          .slice(0, 3);

export const riskyWord = risky('risky-word');
export const forbiddenContent = risky('forbidden-content');
