import { plain } from './normalise';

/** A program somebody is in. */
export interface NamedProgram {
  id: string;
  name: string;
}

const LEAVES = new Set(
  'stop stopping quit cancel remove unsubscribe unsub end off drop out discontinue without paren quiten cancelen arretez'.split(
    ' ',
  ),
);
const KEEPS = new Set(
  'keep stay staying continue want still love like enjoy resume leave gardez quiero sigan'.split(' '),
);
/** “Leave me on” keeps, “leave the members” goes. */
const WHO = new Set('me us my our it them on'.split(' '));
const NOT = new Set('dont not no never doesnt wont ne'.split(' '));
const ONLY = new Set('only just solo seulement'.split(' '));
const OTHERS = /\b(?:(?:the )?(?:others?|rest|other ones)|everything else|all else|autres|otros|demas)\b/;

/**
 * The one program of several that a wish to leave is about, in a reply in its plainest dress; null: it is about all of them, or
 * nobody can tell. Whoever names something is believed only where they say as clearly that the rest goes on: `stop the gift shop
 * ones but keep the sky alerts`, `only unsubscribe me from the offers`.
 */
export function partLeft(text: string, programs: readonly NamedProgram[]): string | null {
  if (programs.length < 2) return null;
  const words = text.split(' ').map(stem);
  const named = programs.map(({ id, name }) => ({ id, wish: wishAt(words, ownWords(name, programs)) }));
  const leaving = named.filter(({ wish }) => wish === 'leaves');
  const keeping =
    named.some(({ wish }) => wish === 'keeps') ||
    (OTHERS.test(text) && words.some((word) => KEEPS.has(word)));
  const limited = keeping || words.some((word) => ONLY.has(word));
  if (leaving.length !== 1 || !limited) return null;
  // "Stop all of it, only the sky was any good" names one and leaves all.
  return /\b(?:all|everything|any|anything)\b/.test(text.replace(OTHERS, ' ')) ? null : leaving[0]!.id;
}

/** One form of a word in both numbers. */
const stem = (word: string): string => (word.length > 4 ? word.replace(/s$/, '') : word);

/** Words of a program's name that no other of theirs has. */
function ownWords(name: string, programs: readonly NamedProgram[]): Set<string> {
  const wordsOf = (of: string) => plain(of).split(' ').map(stem);
  const others = new Set(programs.filter((one) => one.name !== name).flatMap((one) => wordsOf(one.name)));
  return new Set(wordsOf(name).filter((word) => word.length > 2 && !others.has(word)));
}

/** What is wished for where one of these words stands: what the nearest verb before it says, else the nearest after it. */
function wishAt(words: readonly string[], own: ReadonlySet<string>): 'leaves' | 'keeps' | null {
  const at = words.findIndex((word) => own.has(word));
  if (at < 0) return null;
  const leaves = (i: number) =>
    LEAVES.has(words[i]!) || (words[i] === 'leave' && !WHO.has(words[i + 1] ?? ''));
  const verbs = words.flatMap((word, i) => (leaves(i) || KEEPS.has(word) ? [i] : []));
  const before = verbs.filter((i) => i < at).at(-1);
  const verb = before ?? verbs.find((i) => i > at);
  if (verb === undefined) return null;
  // "Dont stop the sky"; "stop the shop but not the sky".
  const around = [
    ...words.slice(Math.max(0, verb - 2), verb),
    ...words.slice(verb + 1, Math.max(verb + 1, at)),
  ];
  const negated = around.some((word) => NOT.has(word));
  return leaves(verb) === negated ? 'keeps' : 'leaves';
}
