/** A prepared answer, with the question it is for and what was answered with it before. */
export interface Prepared {
  id: string;
  /** In words, such as “what does it cost?”; null: none in particular. */
  question: string | null;
  /** What people had written each time it was sent. */
  said: readonly string[];
}

export interface Suggestion {
  id: string;
  /** 0 to 1: how near their words are to what it answered before. */
  score: number;
  /** Words of theirs that speak for it, the strongest first. */
  because: string[];
}

/** Below this nothing is proposed: one common word is no reason. */
const LEAST = 0.3;
const MOST = 3;
/** Words that stand in every second reply and say nothing of what it is about. */
const EMPTY = new Set(
  'a an and are as at be but by can do for from have hi hello hey i if in is it me my of ok okay on or please so thank thanks that the there this to too also just very was we what will with would you your'.split(
    ' ',
  ),
);

/** Words as they are compared: folded, without marks, cut to their stem where English adds an ending. */
export const wordsOf = (text: string): string[] => [...writtenBy(text).keys()];

/** The same, each with the word as it is written. */
function writtenBy(text: string): Map<string, string> {
  const plain = text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/https?:\S+/gu, ' ');
  return new Map(
    (plain.match(/[\p{L}\p{N}]+/gu) ?? [])
      .filter((word) => !EMPTY.has(word))
      // What is left of “bring” without its end is no word.
      .map((word) => [word.length > 4 ? word.replace(/(?<=.{3})(?:ings?|ed|es|s)$/u, '') : word, word]),
  );
}

/**
 * Which prepared answers fitted likeliest for words like these: the cosine of weighted words (tf-idf; Salton and
 * Buckley, "Term-weighting approaches in automatic text retrieval", 1988) between what somebody wrote and what each
 * answered before, the nearest three of them counted together; its own question counts as said once.
 */
export function suggest(words: string, prepared: readonly Prepared[]): Suggestion[] {
  const theirs = writtenBy(words);
  if (theirs.size === 0) return [];
  const documents = prepared.flatMap(({ id, question, said }) =>
    [...(question === null ? [] : [question]), ...said].map((text) => ({
      id,
      words: new Set(wordsOf(text)),
    })),
  );
  const among = new Map<string, number>();
  for (const { words: each } of documents)
    for (const word of each) among.set(word, (among.get(word) ?? 0) + 1);
  const weight = (word: string): number => Math.log(1 + documents.length / (1 + (among.get(word) ?? 0)));
  const length = (set: ReadonlySet<string>): number =>
    Math.sqrt([...set].reduce((sum, word) => sum + weight(word) ** 2, 0));
  const own = length(new Set(theirs.keys()));
  const near = documents.flatMap(({ id, words: each }) => {
    const shared = [...each].filter((word) => theirs.has(word));
    const dot = shared.reduce((sum, word) => sum + weight(word) ** 2, 0);
    return dot === 0 ? [] : [{ id, shared, score: dot / (own * length(each)) }];
  });
  return prepared
    .flatMap(({ id }) => {
      const best = near
        .filter((one) => one.id === id)
        .sort((a, b) => b.score - a.score)
        .slice(0, 3);
      if (best.length === 0) return [];
      // Independent signs add up: 1 - the chance that none of them is right.
      const score = 1 - best.reduce((left, one) => left * (1 - one.score), 1);
      const because = [...new Set(best.flatMap(({ shared }) => shared))].sort(
        (a, b) => weight(b) - weight(a),
      );
      return score < LEAST
        ? []
        : [{ id, score, because: because.slice(0, 4).map((word) => theirs.get(word)!) }];
    })
    .sort((a, b) => b.score - a.score || (a.id < b.id ? -1 : 1))
    .slice(0, MOST);
}
