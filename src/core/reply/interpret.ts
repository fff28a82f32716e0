import { closestKeywords } from '../keyword/near-miss';
import { joinSpelled, plain, plainLatin, squeeze } from './normalise';
import { DOUBTFUL, firstMatch, GOING_ON, INNOCENT, LEAVING, without } from './sentences';
import { HELP_WORDS, OPT_IN_WORDS, OPT_OUT_WORDS, withoutFillers, withoutWishes, YES_WORDS } from './words';

/**
 * What a reply means. `answer` answers a question we asked, and was understood; `unclear` holds further automatic texts until a human has decided; `automatic` was written by a
 * machine, which a mail says itself, and starts nothing.
 */
export type Meaning =
  'opt-out' | 'opt-in' | 'help' | 'keyword' | 'answer' | 'unclear' | 'reply' | 'automatic';

export interface Interpretation {
  meaning: Meaning;
  /** Why: `exact-word`, `sentence:…`, `doubtful:…`, `contradiction`, `keyword`, `near-miss`, `near-misses` (as near to several), `nothing`. */
  rule: string;
  /** The words it rests on; empty for an ordinary reply. */
  evidence: string;
  /** The workspace's keyword it names, when `meaning` is `keyword`. */
  keyword: string | null;
  /** A keyword it nearly names: to be seen and mended by a human, never acted on alone. */
  nearKeyword: string | null;
}

export interface InterpretContext {
  /** Keywords of the workspace, in their plain form. */
  keywords: readonly string[];
  /** Other spellings that count, each with its keyword. */
  spellings?: ReadonlyMap<string, string>;
  /** True when "Reply YES to confirm" was asked and not answered. */
  questionPending: boolean;
}

const NO_CONTEXT: InterpretContext = { keywords: [], questionPending: false };

/**
 * Reads a reply. Exact words first, in any dress; then keywords; then sentences. A sentence counts as an
 * opt-out only when nothing in it wishes to go on; both together, or a stopping word that nothing explains,
 * is unclear. Longer than `LONGEST` only its beginning is read, as a person would.
 */
export function interpret(body: string, context: InterpretContext = NO_CONTEXT): Interpretation {
  const text = plainLatin(body.slice(0, LONGEST));
  return (
    byExactWord(text, context) ?? byKeyword(body.slice(0, LONGEST), context) ?? bySentence(text, context)
  );
}

const LONGEST = 2_000;

const result = (meaning: Meaning, rule: string, evidence = ''): Interpretation => ({
  meaning,
  rule,
  evidence,
  keyword: null,
  nearKeyword: null,
});

/** The dresses an exact word is looked for in: as it stands, without fillers, said over and over, spelled out. */
function dresses(text: string): string[] {
  const bare = withoutFillers(text);
  const joined = joinSpelled(text) ?? joinSpelled(bare);
  const once = [...new Set(text.split(' '))].join(' ');
  return [text, bare, once, withoutFillers(once), ...(joined ? [joined] : [])];
}

function byExactWord(text: string, { questionPending }: InterpretContext): Interpretation | null {
  if (text === '') return null;
  const plainForms = dresses(text);
  const forms = [...plainForms, ...plainForms.map(squeeze)];
  const said = (words: ReadonlySet<string>) => forms.find((form) => words.has(form));
  const leaving = said(OPT_OUT_WORDS);
  if (leaving) return result('opt-out', 'exact-word', leaving);
  const help = said(HELP_WORDS);
  if (help) return result('help', 'exact-word', help);
  const joining = said(OPT_IN_WORDS) ?? (questionPending ? said(YES_WORDS) : undefined);
  if (joining) return result('opt-in', 'exact-word', joining);
  return null;
}

/** A keyword in any dress. Letters that only look Latin are read as Latin where no keyword is written with them. */
function byKeyword(body: string, context: InterpretContext): Interpretation | null {
  const keywords = spellingsOf(context);
  if (keywords.length === 0) return null;
  for (const text of [plain(body), plainLatin(body)]) {
    if (text === '') continue;
    const forms = [...dresses(text), withoutWishes(text)];
    const named = forms.find((form) => keywords.includes(form)) ?? inPieces(text, keywords);
    if (named)
      return { ...result('keyword', 'keyword', named), keyword: context.spellings?.get(named) ?? named };
  }
  return null;
}

const spellingsOf = ({ keywords, spellings }: InterpretContext): readonly string[] =>
  spellings && spellings.size > 0 ? [...keywords, ...spellings.keys()] : keywords;

/** `me teor` -> `meteor`. A short word in pieces is other words as likely as not: `do me` is not `dome`. */
function inPieces(text: string, keywords: readonly string[]): string | undefined {
  const whole = text.replaceAll(' ', '');
  return text.split(' ').length <= 3 && whole.length >= 5 && whole !== text
    ? keywords.find((keyword) => keyword.replaceAll(' ', '') === whole)
    : undefined;
}

function bySentence(text: string, context: InterpretContext): Interpretation {
  const goingOn = firstMatch(GOING_ON, text);
  // "Don't text me" is negated and yet a wish to leave: look at the whole as well as at what is left.
  const rest = without(INNOCENT, without(GOING_ON, text));
  const leaving = firstMatch(LEAVING, rest) ?? stopAtTheEdge(rest);
  if (leaving && goingOn) return result('unclear', 'contradiction', `${goingOn.words} / ${leaving.words}`);
  if (leaving) return result('opt-out', `sentence:${leaving.code}`, leaving.words);
  const doubtful = firstMatch(DOUBTFUL, rest);
  if (doubtful) return result('unclear', `doubtful:${doubtful.code}`, doubtful.words);
  if (goingOn) return result('reply', `going-on:${goingOn.code}`, goingOn.words);
  const near = new Set(
    closestKeywords(text, spellingsOf(context)).map((word) => context.spellings?.get(word) ?? word),
  );
  const [nearKeyword] = near;
  if (nearKeyword === undefined) return result('reply', 'nothing');
  return { ...result('reply', near.size > 1 ? 'near-misses' : 'near-miss', text), nearKeyword };
}

/** "STOP I moved away": a reply that opens or closes with the bare word, as people type it after a text. */
function stopAtTheEdge(text: string): { code: string; words: string } | null {
  const opens =
    /^(?:stop|unsubscribe|quit|optout|opt out|stopall|please stop|pls stop)\b(?! \|)(?! (?:lying|being|it i|worrying|making me|with the|and think|you|playing))/.exec(
      text,
    );
  if (opens && text.split(' ').length <= 8) return { code: 'opens-with-stop', words: opens[0] };
  const closes =
    /(?:^|\s)(?:please|pls|plz|so|just|thanks|thank you|sorry) (?:stop|unsubscribe|opt out|quit)$/.exec(text);
  return closes ? { code: 'closes-with-stop', words: closes[0].trim() } : null;
}
