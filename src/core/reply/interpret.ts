import { closestKeywords } from '../keyword/near-miss';
import { LEAVING_ABROAD, STOP_ABROAD, STOP_SIGNS } from './abroad';
import { undisguised } from './features';
import { asksForPause, pauseSpan } from './pause-asked';
import { partLeft, type NamedProgram } from './part';
import { scoreOf, type Score } from './score';
import { joinSpelled, plain, plainLatin, squeeze } from './normalise';
import {
  DOUBTFUL,
  firstMatch,
  GOING_ON,
  INNOCENT,
  LEAVING,
  LEAVING_ALL_THE_SAME,
  without,
} from './sentences';
import {
  HELP_WORDS,
  OPT_IN_WORDS,
  OPT_OUT_WORDS,
  partedWords,
  withoutFillers,
  withoutWishes,
  YES_WORDS,
} from './words';

/**
 * What a reply means. `answer` answers a question we asked, and was understood; `unclear` holds further automatic texts until a human has decided; `automatic` was written by a
 * machine, which a mail says itself, and starts nothing.
 */
export type Meaning =
  | 'opt-out'
  | 'opt-in'
  | 'help'
  | 'keyword'
  | 'answer'
  | 'unclear'
  | 'reply'
  | 'automatic';

export interface Interpretation {
  meaning: Meaning;
  /** Why: `exact-word`, `sentence:…`, `doubtful:…`, `contradiction`, `wavering`, `pausing`, `score`, `one-of-several`, `keyword`, `near-miss`, `near-misses` (as near to several), `nothing`. */
  rule: string;
  /** The words it rests on; empty for an ordinary reply. */
  evidence: string;
  /** The workspace's keyword it names, when `meaning` is `keyword`. */
  keyword: string | null;
  /** A keyword it nearly names: to be seen and mended by a human, never acted on alone. */
  nearKeyword: string | null;
  /** Of a wish to leave: the one program of theirs it is about, where it says so as clearly. Absent: all of them. */
  onlyProgram?: string;
}

export interface InterpretContext {
  /** Keywords of the workspace, in their plain form. */
  keywords: readonly string[];
  /** Other spellings that count, each with its keyword. */
  spellings?: ReadonlyMap<string, string>;
  /** True when "Reply YES to confirm" was asked and not answered. */
  questionPending: boolean;
  /** The programs they are in. */
  theirs?: readonly NamedProgram[];
}

const NO_CONTEXT: InterpretContext = { keywords: [], questionPending: false };

/**
 * Reads a reply. Exact words first, in any dress; then keywords; then sentences. A sentence counts as an
 * opt-out only when nothing in it wishes to go on; both together, or a stopping word that nothing explains,
 * is unclear. Longer than `LONGEST` only its beginning is read, as a person would.
 */
export function interpret(body: string, context: InterpretContext = NO_CONTEXT): Interpretation {
  const text = plainLatin(body.slice(0, LONGEST));
  const clear = undisguised(text);
  return (
    asReaction(body, context) ??
    bySign(body) ??
    byExactWord(text, context) ??
    byExactWord(plain(body.slice(0, LONGEST)), context) ??
    byKeyword(body.slice(0, LONGEST), context) ??
    byExactWord(clear, context) ??
    byWordsRunTogether(clear, context) ??
    bySentence(clear, context)
  );
}

/** `stoptextingme`: a wish to leave without its spaces. Whatever else such words would mean, or only likely mean, is left to the rest. */
function byWordsRunTogether(text: string, context: InterpretContext): Interpretation | null {
  const parted = partedWords(text);
  const read = parted === null ? null : (byExactWord(parted, context) ?? bySentence(parted, context));
  return read?.meaning === 'opt-out' && read.rule !== 'score' ? { ...read, evidence: text } : null;
}

const LONGEST = 2_000;

/** The rule of a reply that is a sign pressed on a text: it answers nothing, and waits for nobody. */
export const REACTION = 'reaction';

const QUOTED = String.raw`\s*[“"«„‘](?<quote>[^]{2,}?)[”"»“’]\s*$`;
/** What phones write in words where somebody pressed a sign on a text and the other side cannot show it. */
const REACTIONS: readonly RegExp[] = [
  String.raw`(?:liked|loved|disliked|laughed at|emphasi[sz]ed|questioned|reacted (?:with )?.{1,30}? to|removed an? .{1,30}? from)`,
  String.raw`(?:(?:no )?le gust[oó]|le encant[oó]|se ri[oó] de|enfatiz[oó]|reaccion[oó] con .{1,30}? a|quit[oó] .{1,30}? (?:de|a))`,
  String.raw`(?:a aim[eé]|a ador[eé]|n[’']a pas aim[eé]|a ri (?:de|à)|a r[eé]agi (?:avec|par) .{1,30}? [aà]|a insist[eé] sur)`,
  String.raw`\p{Extended_Pictographic}[\p{Emoji_Modifier}\u200d\ufe0f\p{Extended_Pictographic}]*\s*(?:to|a|à)`,
].map((said) => new RegExp(`^[\\s\\p{Cf}]*(?<lead>${said})${QUOTED}`, 'iu'));

/**
 * A sign somebody pressed on a text, as their phone writes it out: what it quotes are our words, “Reply STOP to stop” among them.
 * Where it quotes nothing but a word that leaves, it is read like any other.
 */
function asReaction(body: string, context: InterpretContext): Interpretation | null {
  for (const pattern of REACTIONS) {
    const { lead = '', quote = '' } = pattern.exec(body.slice(0, LONGEST))?.groups ?? {};
    if (lead !== '' && !byExactWord(plainLatin(quote), context)) return result('reply', REACTION, lead);
  }
  return null;
}

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

/** A sign that stands for the word. */
const bySign = (body: string): Interpretation | null =>
  STOP_SIGNS.test(body.slice(0, LONGEST)) ? result('opt-out', 'exact-word', body.trim()) : null;

/** `st op`, `un subscribe` -> one word; only where a piece is too short to be a word by itself. */
function inFewPieces(text: string): string | null {
  const pieces = text.split(' ');
  const short =
    pieces.length <= 3 &&
    pieces.some((piece) => piece.length <= 2 && !/^(?:me|us|it|to|go|no|ok|up)$/.test(piece));
  return short ? pieces.join('') : null;
}

function byExactWord(text: string, { questionPending }: InterpretContext): Interpretation | null {
  if (text === '') return null;
  const pieced = inFewPieces(text);
  const plainForms = [...dresses(text), ...(pieced ? [pieced] : [])];
  const forms = [...plainForms, ...plainForms.map(squeeze)];
  const said = (words: ReadonlySet<string>) => forms.find((form) => words.has(form));
  const leaving = said(OPT_OUT_WORDS) ?? said(STOP_ABROAD);
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
  const ruled = byRules(text, context);
  const found = weighed(ruled, scoreOf(text));
  // Who keeps one of several says both, or less than a whole sentence: what is left is plain all the same.
  const leaves = [found, ruled].some(({ meaning }) => meaning === 'opt-out' || meaning === 'unclear');
  const { theirs = [] } = context;
  const onlyProgram = partLeft(text, theirs);
  if (onlyProgram === null) return found;
  if (leaves) return { ...found, meaning: 'opt-out', rule: 'one-of-several', onlyProgram };
  // Nothing else says that they leave, and a walk may be cancelled without its reminders: by its whole name it is a human's to say.
  const name = plain(theirs.find(({ id }) => id === onlyProgram)!.name);
  return text.includes(name) ? result('unclear', 'one-of-several', name) : found;
}

/** What is found, once both have spoken. */
export function weighed(found: Interpretation, { leaves, because }: Score): Interpretation {
  const scored = (meaning: Meaning) => result(meaning, 'score', found.evidence || because.join(', '));
  switch (found.meaning) {
    case 'opt-out':
      // What wishes to leave with a negation reads to the model as its contrary.
      return leaves < SURE.stays && !ALL_THE_SAME.has(found.rule) ? scored('unclear') : found;
    case 'unclear':
      if (FOR_A_HUMAN.includes(found.rule)) return found;
      if (leaves >= SURE.leaves) return scored('opt-out');
      return leaves < SURE.harmless ? scored('reply') : found;
    default:
      if (leaves >= SURE.unsaid) return scored('opt-out');
      return leaves >= (found.rule.startsWith('going-on') ? SURE.leaves : SURE.doubt)
        ? scored('unclear')
        : found;
  }
}

/**
 * From which score on what counts: tried on parts of the corpus the weights were not learnt from, so that of those about one in
 * a hundred ordinary replies is taken for leaving, and as few as can be are left to a human. A text nobody meant to stop costs a
 * human a look; one that goes out after a STOP costs trust, so doubt begins early.
 */
const SURE = { stays: 0.3, harmless: 0.3, doubt: 0.33, leaves: 0.75, unsaid: 0.8 };

const ALL_THE_SAME: ReadonlySet<string> = new Set(LEAVING_ALL_THE_SAME.map(({ code }) => `sentence:${code}`));

/** For a human, however sure the model is: what says both, and what only a human should answer. */
const FOR_A_HUMAN: readonly string[] = [
  ...['contradiction', 'wavering', 'pausing', 'doubtful:for-a-human', 'doubtful:threat'],
];

/** What the rules alone find in a reply in its plainest dress. */
export function byRules(text: string, context: InterpretContext = NO_CONTEXT): Interpretation {
  const allTheSame = firstMatch(LEAVING_ALL_THE_SAME, text);
  if (allTheSame) return result('opt-out', `sentence:${allTheSame.code}`, allTheSame.words);
  const goingOn = firstMatch(GOING_ON, text);
  // "Don't text me" is negated and yet a wish to leave: look at the whole as well as at what is left.
  const rest = without(INNOCENT, without(GOING_ON, text));
  const leaving = firstMatch(LEAVING, rest) ?? firstMatch(LEAVING_ABROAD, rest) ?? stopAtTheEdge(rest);
  if (leaving && goingOn) return result('unclear', 'contradiction', `${goingOn.words} / ${leaving.words}`);
  if (leaving && WAVERING.test(rest)) return result('unclear', 'wavering', leaving.words);
  const doubtful = leaving ?? firstMatch(DOUBTFUL, rest);
  // Who wishes for a pause does not leave; until somebody has seen to it, nothing automatic goes out.
  const span = doubtful && pauseSpan(text, doubtful.words);
  if (span) return result('unclear', 'pausing', `${doubtful.words} / ${span}`);
  if (leaving) return result('opt-out', `sentence:${leaving.code}`, leaving.words);
  if (doubtful) return result('unclear', `doubtful:${doubtful.code}`, doubtful.words);
  const pause = asksForPause(text);
  if (pause !== null) return result('unclear', 'pausing', pause);
  if (goingOn) return result('reply', `going-on:${goingOn.code}`, goingOn.words);
  const near = new Set(
    closestKeywords(text, spellingsOf(context)).map((word) => context.spellings?.get(word) ?? word),
  );
  const [nearKeyword] = near;
  if (nearKeyword === undefined) return result('reply', 'nothing');
  return { ...result('reply', near.size > 1 ? 'near-misses' : 'near-miss', text), nearKeyword };
}

/** Who thinks of leaving has not said it. */
const WAVERING = /\b(?:maybe|perhaps|might|should i|i should|thinking (?:of|about)|tempted to|about to)\b/;

/** "STOP I moved away": a reply that opens or closes with the bare word, as people type it after a text. */
function stopAtTheEdge(text: string): { code: string; words: string } | null {
  const opens =
    /^(?:stop|unsubscribe|quit|optout|opt out|stopall|please stop|pls stop)\b(?! \|)(?! (?:lying|being|it i|worrying|making me|with the|and think|you|playing))/.exec(
      text,
    );
  if (opens && text.split(' ').length <= 8) return { code: 'opens-with-stop', words: opens[0] };
  const closes =
    /(?:^|\s)(?:stop|unsubscribe|unsubscribing|opt out|quit|remove)(?: now| this| these| twice)?$/.exec(text);
  // "When does it stop" is about something else.
  const asks = /^(?:when|what|where|which|how (?:long|far|late)|does|will)\b/.test(text);
  return closes && !asks && text.split(' ').length <= 10
    ? { code: 'closes-with-stop', words: closes[0].trim() }
    : null;
}
